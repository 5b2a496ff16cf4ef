import type { ChartData } from 'mellow-abacus'
import { type Encoded, legendLayer, legendOf, xEncoding } from './layers/encodings.js'
import { curveLayer, residualsView } from './layers/fit-layers.js'
import { hoverLayer } from './layers/hover-layer.js'
import { type Side, seriesLayers, switchedBy } from './layers/series-layers.js'
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
}

const LEAST_WIDTH = 640
const HEIGHT = 360
/** Least width of a category, in pixels. */
const LEAST_STEP = 14
/** Drawings have two pixels of a file for each of their own, and points are kept by those of the file. */
const DENSITY = 2
/** Room for the labels of an axis, where drawings stand below one another. */
const EXTENT = 56

/**
 * A chart as a specification.
 *
 * @param data - the points, from `book.chart(…)`
 */
export function chartDrawing(data: ChartData, options: DrawingOptions = {}): Drawing {
  const { theme = 'light', height = HEIGHT, locale = 'en' } = options
  const { x, series, definition, fit } = data
  const bars = Math.max(1, series.filter(({ kind }) => kind === 'bar').length)
  const room = x.categories === null ? 0 : x.categories.length * Math.max(LEAST_STEP, 9 * bars)
  const width = options.width ?? Math.max(LEAST_WIDTH, room)
  const ids = seriesIds(series.map(({ name }) => name))
  const points = drawnPoints(data, ids, width * DENSITY)
  const words = chartWords(data, points.reducedFrom, width * DENSITY)
  const encoded: Encoded = { x, series, ids, theme, width }
  const hasResiduals = fit?.residuals === true
  const xBelow = xEncoding(encoded, words.x)
  const upper = hasResiduals ? xEncoding(encoded, null) : xBelow
  const legend = legendOf(encoded, definition.legend)
  const side = (axis: Side['axis'], title: string | null): Json[] =>
    title === null
      ? []
      : seriesLayers(encoded, {
          axis,
          title: wrapped(title, height, SIZES.axisTitle),
          legend,
          xOfLayers: upper,
          step: points.step,
          lone: points.lone,
          extent: hasResiduals ? EXTENT : null,
        })
  const sides = [side('left', words.left), side('right', words.right)].filter((layers) => layers.length > 0)
  const curve = fit === null ? [] : [curveLayer(fit, upper, x, theme)]
  // The curve stands on the axis of its series.
  const fitSide = series.find(({ name }) => name === fit?.series)?.axis === 'right' && sides.length > 1 ? 1 : 0
  const layered = sides.map((layers, at) => ({ layer: [...layers, ...(at === fitSide ? curve : [])] }))
  const [first] = layered
  const main: Json = {
    width,
    height,
    layer: [
      ...(legend === null ? [] : [legendLayer(encoded, legend, switchedBy(ids))]),
      ...(layered.length === 1 ? (first?.layer ?? []) : layered),
      hoverLayer(encoded, upper),
    ],
    ...(layered.length > 1 && { resolve: { scale: { y: 'independent' } } }),
  }
  const views = [main, ...(hasResiduals && fit !== null ? [residualsView(fit, xBelow, x, theme, width, EXTENT)] : [])]
  return {
    title: words.title,
    notes: words.notes,
    specification: withWords({ data: { name: 'points', values: points.rows } }, views, words, { width, theme, locale }),
  }
}

/** A specification of views below one another, with title and notes. */
export function withWords(
  parts: Json,
  views: readonly Json[],
  { title, subtitle, notes }: Pick<ChartWords, 'title' | 'subtitle' | 'notes'>,
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
    ...parts,
    vconcat: views.map((view, at) => (at === last && below.length > 0 ? { ...view, title: foot } : view)),
    config: { ...themeConfig(theme), locale: localeConfig(locale) },
  }
}
