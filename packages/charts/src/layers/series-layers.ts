import type { ChartSeriesData, SeriesKind } from 'mellow-abacus'
import type { LonePoint } from '../points/point-rows.js'
import type { Json } from '../theme.js'
import { TOKENS } from '../tokens.js'
import { axisFormat } from '../words/quantity-words.js'
import { type Encoded, seriesEncoding } from './encodings.js'

/** Name of what says which series are shown. */
const SHOWN = 'shown'

/** Which series are shown: a click on an entry of the legend takes one out, and another puts it back. */
export function switchedBy(ids: readonly string[]): Json {
  const select = { type: 'point', fields: ['series'], toggle: 'true' }
  return { name: SHOWN, select, bind: 'legend', value: ids.map((series) => ({ series })) }
}

/** One side of a chart: the axis and what stands on it. */
export interface Side {
  readonly axis: 'left' | 'right'
  readonly title: readonly string[]
  readonly legend: Json | null
  readonly xOfLayers: Json
  readonly step: number | null
  /** Points of lines that stand between two gaps. */
  readonly lone: readonly LonePoint[]
  /** Least width of the axis, so that drawings below one another stand in line. */
  readonly extent: number | null
}

/** Bars take this part of the step between them. */
const BAR_PART = 0.8

/** Steps of an axis of values, about. */
const TICKS = 6

/** What is drawn first stands behind. */
const KINDS: readonly SeriesKind[] = ['area', 'bar', 'line', 'point']

/** The layers of one side: one a kind of drawing. */
export function seriesLayers(encoded: Encoded, side: Side): Json[] {
  const { series, ids } = encoded
  const own = series.map((one, at) => ({ one, id: ids[at] as string })).filter(({ one }) => one.axis === side.axis)
  const y = yEncoding(
    own.map(({ one }) => one),
    side,
  )
  const drawn = KINDS.flatMap((kind) => {
    // The edge of an area is a line.
    const isDrawn = (one: SeriesKind): boolean => one === kind || (kind === 'line' && one === 'area')
    const wanted = own.filter(({ one }) => isDrawn(one.kind)).map(({ id }) => id)
    return wanted.length === 0 ? [] : [layerOf(encoded, side, kind, wanted, y)]
  })
  const lone = side.lone.filter(({ series: id }) => own.some((one) => one.id === id))
  return lone.length === 0 ? drawn : [...drawn, loneLayer(encoded, side, lone, y)]
}

/** Points between two gaps, which a line alone would not show. */
function loneLayer(encoded: Encoded, side: Side, values: readonly LonePoint[], y: Json): Json {
  const { color } = seriesEncoding(encoded, 'line', side.legend) as Record<string, Json>
  return {
    data: { name: `lone_${side.axis}`, values },
    transform: side.legend === null ? [] : [{ filter: { param: SHOWN } }],
    mark: { type: 'point', size: 16, opacity: 1 },
    encoding: { x: side.xOfLayers, y, color },
  }
}

function layerOf(encoded: Encoded, side: Side, kind: SeriesKind, drawn: readonly string[], y: Json): Json {
  const bars = encoded.ids.filter((_, at) => encoded.series[at]?.kind === 'bar')
  const isOnScale = kind === 'bar' && side.step !== null
  const place = isOnScale ? barPlaces(encoded, bars, side.step as number) : null
  const fold = { fold: drawn, as: ['series', 'value'] }
  const x: Json = place === null ? { x: side.xOfLayers } : { x: { ...side.xOfLayers, field: 'from' }, x2: { field: 'to' } }
  const switched = side.legend === null ? [] : [{ filter: { param: SHOWN } }]
  const besides = kind === 'bar' && !isOnScale && bars.length > 1
  return {
    transform: [fold, ...switched, { filter: 'isDefined(datum.value)' }, ...(place ?? [])],
    // Paths go from point to point as they come: along x, or in an order of their own.
    mark: {
      type: kind,
      ...((kind === 'line' || kind === 'area') && { order: false }),
      ...(kind === 'bar' && { strokeWidth: 1, stroke: TOKENS[encoded.theme].ink }),
    },
    encoding: {
      ...x,
      y,
      ...(isOnScale && { y2: { datum: 0 } }),
      ...seriesEncoding(encoded, kind, side.legend),
      ...(besides && { xOffset: { field: 'series', type: 'nominal', scale: { domain: bars } } }),
    },
  }
}

/** Where bars begin and end that stand on a scale, side by side around their x. */
function barPlaces({ x }: Encoded, bars: readonly string[], step: number): Json[] {
  const isTime = x.column.type === 'date' || x.column.type === 'datetime'
  const middle = isTime ? 'toDate(datum.x)' : 'datum.x'
  const width = (step * BAR_PART) / bars.length
  const from = `${middle} - ${(step * BAR_PART) / 2} + indexof(${JSON.stringify(bars)}, datum.series) * ${width}`
  return [
    { calculate: from, as: 'from' },
    { calculate: `datum.from + ${width}`, as: 'to' },
  ]
}

function yEncoding(series: readonly ChartSeriesData[], { axis, title, extent }: Side): Json {
  const [first] = series
  const format = first === undefined ? null : axisFormat(first.column)
  // Bars and areas stand on zero: what they show is their size.
  const hasBase = series.some(({ kind }) => kind === 'bar' || kind === 'area')
  return {
    field: 'value',
    type: 'quantitative',
    stack: null,
    scale: { zero: hasBase, nice: TICKS },
    axis: {
      title,
      orient: axis,
      grid: axis === 'left',
      tickCount: TICKS,
      ...(format !== null && { format }),
      ...(extent !== null && { minExtent: extent }),
    },
  }
}
