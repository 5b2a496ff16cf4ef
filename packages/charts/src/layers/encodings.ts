import type { ChartAxis, ChartSeriesData } from 'mellow-abacus'
import { textWidth, wrapped } from '../text-width.js'
import { type Json, SIZES, seriesColour, type Theme } from '../theme.js'
import { TOKENS } from '../tokens.js'
import { legendLabel } from '../words/chart-words.js'

/** Dashes by which lines are told apart without colour; the first is none. */
const DASHES = [[], [7, 3], [2, 3], [9, 3, 2, 3], [4, 2], [12, 3], [2, 2, 6, 2], [1, 5]] as const

/** Marks by which points are told apart without colour. */
const SHAPES = [
  'circle',
  'square',
  'triangle-up',
  'diamond',
  'cross',
  'triangle-down',
  'triangle-right',
  'triangle-left',
] as const

/** Widest line of a label below categories, in pixels. */
const WIDEST_LABEL = 150

/** What the encodings of all layers are made from. */
export interface Encoded {
  readonly x: ChartAxis
  readonly series: readonly ChartSeriesData[]
  readonly ids: readonly string[]
  readonly theme: Theme
  readonly width: number
  /** Of few different times, all of them. */
  readonly ticks: readonly string[] | null
}

/** The axis below, for all layers. */
export function xEncoding({ x, width, ticks }: Encoded, title: string | null): Json {
  const { type } = x.column
  if (x.categories !== null)
    return { field: 'x', type: 'nominal', scale: { domain: x.categories }, axis: categoryAxis(x.categories, width, title) }
  const axis = { title: title === null ? null : wrapped(title, width, SIZES.axisTitle), labelOverlap: true, labelFlush: false }
  if (type === 'date' || type === 'datetime')
    return {
      field: 'x',
      type: 'temporal',
      scale: { type: 'utc' },
      axis: { ...axis, ...(ticks !== null && timeSteps(ticks)) },
    }
  return { field: 'x', type: 'quantitative', scale: { zero: false, nice: true }, axis }
}

/** Steps of an axis at some times: months and years by their names, other days by month and day. */
function timeSteps(ticks: readonly string[]): Json {
  const isOfDays = ticks.every((time) => !time.includes('T'))
  const isOfMonths = ticks.every((time) => time.endsWith('-01'))
  return { values: ticks.map(momentOf), ...(isOfDays && !isOfMonths && { format: '%b %d' }) }
}

/** A time as the steps of an axis take it: with all of its parts, in UTC, as numbers have no zone. */
function momentOf(time: string): Json {
  const at = new Date(time)
  return {
    utc: true,
    year: at.getUTCFullYear(),
    month: at.getUTCMonth() + 1,
    date: at.getUTCDate(),
    hours: at.getUTCHours(),
    minutes: at.getUTCMinutes(),
    seconds: at.getUTCSeconds(),
  }
}

/** An axis of texts, none of which is cut off: in lines, and turned where they are too wide to stand side by side. */
function categoryAxis(categories: readonly string[], width: number, title: string | null): Json {
  const lines = categories.map((label) => wrapped(label, WIDEST_LABEL, SIZES.label))
  const widest = Math.max(0, ...lines.flat().map((line) => textWidth(line, SIZES.label)))
  const step = width / Math.max(1, categories.length)
  const angle = widest + 8 <= step ? 0 : step >= 2.2 * SIZES.label ? -40 : -90
  const broken = Object.fromEntries(categories.flatMap((label, at) => (lines[at]?.length === 1 ? [] : [[label, lines[at]]])))
  // A label in several lines has the room of several: turned, it stays in one.
  const isBroken = angle === 0 && Object.keys(broken).length > 0
  return {
    title: title === null ? null : wrapped(title, width, SIZES.axisTitle),
    labelAngle: angle,
    labelOverlap: false,
    ...(angle !== 0 && { labelAlign: 'right', labelBaseline: angle === -90 ? 'middle' : 'top' }),
    ...(isBroken && { labelExpr: `${JSON.stringify(broken)}[datum.label] || datum.label` }),
  }
}

/** How series are told apart: colour, and dash or mark; with the legend that says so. */
export function seriesEncoding(encoded: Encoded, kind: ChartSeriesData['kind'], legend: Json | null): Json {
  const { series, ids, theme } = encoded
  const channel = (range: readonly unknown[]): Json => ({
    field: 'series',
    type: 'nominal',
    scale: { domain: ids, range },
    legend,
  })
  const colours = series.map(({ color }, at) => color ?? seriesColour(at, theme))
  return {
    color: channel(colours),
    ...(kind === 'point' && { shape: channel(series.map((one, at) => symbolOf(one, at))) }),
    ...((kind === 'line' || kind === 'bar') && { strokeDash: channel(series.map((_, at) => dashOf(series, at))) }),
  }
}

/** What stands for a series in the legend: its mark, a piece of its line or edge, or a square for bars. */
function symbolOf({ kind }: ChartSeriesData, place: number): string {
  if (kind === 'line' || kind === 'area') return 'stroke'
  return kind === 'point' ? (SHAPES[place % SHAPES.length] as string) : 'square'
}

/** Lines have dashes, and bars alone a dashed edge: beside lines the legend would draw it in the colour of a line. */
function dashOf(series: readonly ChartSeriesData[], place: number): readonly number[] {
  const { kind } = series[place] as ChartSeriesData
  const isPlain = kind === 'point' || (kind === 'bar' && !isOfBars(series))
  return isPlain ? [] : (DASHES[place % DASHES.length] as readonly number[])
}

/** The legend as a layer that draws nothing: what stands for each series is told by its kind, whatever other layers draw. */
export function legendLayer(encoded: Encoded, legend: Json, switched: Json): Json {
  const { color, shape } = seriesEncoding(encoded, 'point', legend) as Record<string, Json>
  const { strokeDash } = seriesEncoding(encoded, 'line', legend) as Record<string, Json>
  return {
    name: 'legend',
    params: [switched],
    transform: [{ fold: encoded.ids, as: ['series', 'value'] }, { filter: 'false' }],
    mark: 'point',
    encoding: { color, shape, strokeDash },
  }
}

const isOfBars = (series: readonly ChartSeriesData[]): boolean => series.every(({ kind }) => kind === 'bar')

/** The legend: above the drawing, in as many columns as fit. */
export function legendOf({ series, ids, width, theme }: Encoded, wanted: boolean | undefined): Json | null {
  if (wanted === false || (series.length < 2 && wanted !== true)) return null
  const labels = series.map((one) => legendLabel(one, series))
  const widest = Math.max(...labels.map((label) => textWidth(label, SIZES.subtitle))) + 40
  const isNamed = labels.every((label, at) => label === ids[at])
  return {
    title: null,
    orient: 'top',
    direction: 'horizontal',
    columns: Math.max(1, Math.min(series.length, Math.floor((width + 60) / widest))),
    columnPadding: 18,
    rowPadding: 4,
    offset: 10,
    ...(isOfBars(series) && { symbolStrokeColor: TOKENS[theme].ink, symbolStrokeWidth: 1 }),
    ...(!isNamed && { labelExpr: `${JSON.stringify(Object.fromEntries(ids.map((id, at) => [id, labels[at]])))}[datum.label]` }),
  }
}
