import type { ChartData } from 'mellow-abacus'
import { type ChartParts, chartViews } from './chart-views.js'
import { drawnPoints } from './points/point-rows.js'
import { seriesIds } from './points/series-ids.js'
import { wrapped } from './text-width.js'
import { type Json, SIZES, type Theme, themeConfig } from './theme.js'
import { TOKENS } from './tokens.js'
import { type ChartWords, chartWords } from './words/chart-words.js'
import { localeConfig } from './words/locale.js'

/** The schema that specifications keep to. */
export const SPECIFICATION_SCHEMA = 'https://vega.github.io/schema/vega-lite/v6.json'

/** How a chart is to be drawn. */
export interface DrawingOptions {
  /** Width of the drawing within its axes, in pixels; by the number of categories, 640 at least, when left out. */
  readonly width?: number
  /** Height of the drawing within its axes, in pixels; 360 when left out. */
  readonly height?: number
  /** The surroundings; light when left out. */
  readonly theme?: Theme
  /** How numbers and dates are written, a BCP 47 tag; `en` when left out. */
  readonly locale?: string
}

/** A chart as a specification of Vega-Lite, with what is written around it. */
export interface Drawing {
  readonly title: string
  /** What is not to be seen in it: gaps, points left out. */
  readonly notes: readonly string[]
  /** The specification, version 6; to be written as JSON, or drawn. */
  readonly specification: Json
  /** The same for other surroundings. */
  inTheme(theme: Theme): Json
}

const LEAST_WIDTH = 640
const HEIGHT = 360
/** Least width of a category, and of a bar, in pixels. */
const LEAST_STEP = 14
const LEAST_BAR = 9
/** Drawings have two pixels of a file for each of their own, and points are kept by those of the file. */
const DENSITY = 2

/**
 * A chart as a specification.
 *
 * @param data - the points, from `book.chart(…)`
 */
export function chartDrawing(data: ChartData, options: DrawingOptions = {}): Drawing {
  const { theme = 'light', height = HEIGHT, locale = 'en' } = options
  const { x, series } = data
  const bars = series.filter(({ kind }) => kind === 'bar').length
  const room = x.categories === null ? 0 : x.categories.length * Math.max(LEAST_STEP, LEAST_BAR * bars)
  const width = options.width ?? Math.max(LEAST_WIDTH, room)
  const ids = seriesIds(series.map(({ name }) => name))
  const points = drawnPoints(data, ids, width * DENSITY)
  const covered = points.covered.map((id) => series[ids.indexOf(id)]?.name ?? id)
  const words = chartWords(data, { reducedFrom: points.reducedFrom, covered }, width * DENSITY)
  const parts: ChartParts = { data, ids, points, words, width, height }
  return drawingOf(words, points.rows, (wanted) => chartViews(parts, wanted), { width, theme, locale })
}

/** Views below one another with title and notes, in any surroundings. */
export function drawingOf(
  words: Pick<ChartWords, 'title' | 'subtitle' | 'notes'>,
  points: readonly Json[],
  views: (theme: Theme) => readonly Json[],
  { width, theme, locale }: { readonly width: number; readonly theme: Theme; readonly locale: string },
): Drawing {
  const inTheme = (wanted: Theme): Json => withWords(words, points, views(wanted), { width, theme: wanted, locale })
  return { title: words.title, notes: words.notes, specification: inTheme(theme), inTheme }
}

/** A specification of views below one another, with title and notes. */
function withWords(
  { title, subtitle, notes }: Pick<ChartWords, 'title' | 'subtitle' | 'notes'>,
  points: readonly Json[],
  views: readonly Json[],
  { width, theme, locale }: { readonly width: number; readonly theme: Theme; readonly locale: string },
): Json {
  const lines = (texts: readonly string[], size: number, weight: 'regular' | 'bold' = 'regular'): string[] =>
    texts.flatMap((text) => wrapped(text, width + 40, size, weight))
  const below = lines(notes, SIZES.note)
  const last = views.length - 1
  const color = TOKENS[theme].quiet
  const foot = { text: below, orient: 'bottom', anchor: 'start', fontSize: SIZES.note, fontWeight: 'normal', offset: 10, color }
  return {
    $schema: SPECIFICATION_SCHEMA,
    description: [title, ...subtitle, ...notes].join('. '),
    title: { text: lines([title], SIZES.title, 'bold'), subtitle: lines(subtitle, SIZES.subtitle) },
    data: { name: 'points', values: points },
    vconcat: views.map((view, at) => (at === last && below.length > 0 ? { ...view, title: foot } : view)),
    config: { ...themeConfig(theme), locale: localeConfig(locale) },
  }
}
