import type { ChartAxis, ChartData, ChartSeriesData } from 'mellow-abacus'
import { keptPlaces, MOST_POINTS } from './kept-places.js'

const MS_PER_DAY = 86_400_000

/** A row of points: x, and by the id of each series its value; null is a gap, and what is left out is no point. */
type PointRow = Readonly<Record<string, number | string | null>>

/** A point of a line that stands between two gaps. */
export interface LonePoint {
  readonly x: number | string
  /** The id of its series. */
  readonly series: string
  readonly value: number
}

/** The points of a chart as they are drawn. */
export interface DrawnPoints {
  readonly rows: readonly PointRow[]
  readonly lone: readonly LonePoint[]
  /** Of few different times, all of them: an axis has its steps there. */
  readonly ticks: readonly string[] | null
  /** Of a chart with more points than can be told apart: how many there are in its longest series. */
  readonly reducedFrom: number | null
  /** Series of bars of which some cover others, since several rows stand at one x. */
  readonly covered: readonly string[]
  /** The least step between two different x of bars, in the unit of x, milliseconds for times; null where there is none. */
  readonly step: number | null
}

/**
 * The points of a chart as rows.
 *
 * @param ids - fields of the series, in their order
 * @param columns - how many columns of pixels the drawing has
 */
export function drawnPoints({ x, series, definition }: ChartData, ids: readonly string[], columns: number): DrawnPoints {
  const shared = series[0] !== undefined && series.every(({ slots }) => slots === series[0]?.slots)
  const parts = shared ? [{ ids, series }] : series.map((one, at) => ({ ids: [ids[at] as string], series: [one] }))
  const reduced: number[] = []
  const rows: PointRow[] = []
  const byX = new Map<number | string, Record<string, number | string | null>>()
  for (const part of parts) {
    const { slots } = part.series[0] as ChartSeriesData
    const values = part.series.map(({ column }) => numbersOf(column.storage, slots))
    const xs = xsOf(x, slots)
    const isDense = x.categories === null && slots.length > MOST_POINTS
    if (isDense) reduced.push(slots.length)
    // Points along a path of its own are reduced by their places in it.
    const along = definition.order === undefined ? xs.numbers : Float64Array.from(slots, (_, place) => place)
    const places = isDense ? keptPlaces({ xs: along, series: values }, columns) : slots.keys()
    for (const place of places) {
      const row: Record<string, number | string | null> = { x: xs.at(place) }
      for (const [at, id] of part.ids.entries()) {
        const value = values[at]?.[place] as number
        row[id] = Number.isNaN(value) ? null : value
      }
      // Series of groups meet at one x, so that what stands there can be told together.
      const known = shared ? undefined : byX.get(row.x as number | string)
      if (known !== undefined) Object.assign(known, row)
      else {
        rows.push(row)
        byX.set(row.x as number | string, row)
      }
    }
  }
  if (!shared && x.categories === null) rows.sort((a, b) => (a.x as number) - (b.x as number) || compareTexts(a.x, b.x))
  const reducedFrom = reduced.length === 0 ? null : Math.max(...reduced)
  const lines = ids.filter((_, at) => series[at]?.kind === 'line' || series[at]?.kind === 'area')
  const bars = ids.filter((_, at) => series[at]?.kind === 'bar')
  return {
    rows,
    covered: bars.filter((id) => isCovered(rows, id)),
    lone: lines.flatMap((id) => lonePoints(rows, id)),
    ticks: ticksOf(x, rows),
    reducedFrom,
    step: stepOf(x, series),
  }
}

/** Most different times that an axis has its steps at. */
const MOST_TICKS = 12

function ticksOf({ column: { type }, categories }: ChartAxis, rows: readonly PointRow[]): string[] | null {
  if (categories !== null || (type !== 'date' && type !== 'datetime')) return null
  const times = new Set<string>()
  for (const { x } of rows) if (times.add(x as string).size > MOST_TICKS) return null
  return [...times]
}

/** True where two bars of a series stand at one x. */
function isCovered(rows: readonly PointRow[], id: string): boolean {
  const seen = new Set<unknown>()
  return rows.some((row) => typeof row[id] === 'number' && seen.size === seen.add(row.x).size)
}

/** The points of a series that have a gap, or nothing, on both sides. */
function lonePoints(rows: readonly PointRow[], id: string): LonePoint[] {
  const own = rows.filter((row) => row[id] !== undefined)
  const isGap = (row: PointRow | undefined): boolean => (row?.[id] ?? null) === null
  return own.flatMap((row, at) => {
    const value = row[id]
    if (typeof value !== 'number' || !isGap(own[at - 1]) || !isGap(own[at + 1])) return []
    return [{ x: row.x as number | string, series: id, value }]
  })
}

const compareTexts = (a: PointRow[string] | undefined, b: PointRow[string] | undefined): number =>
  String(a) < String(b) ? -1 : Number(String(a) > String(b))

type Storage = ChartSeriesData['column']['storage']

function numbersOf(storage: Storage, slots: Int32Array): Float64Array {
  return Float64Array.from(slots, (slot) => {
    const cell = storage?.read(slot) ?? null
    return typeof cell === 'number' ? cell : Number.NaN
  })
}

/** What runs along: as numbers, and as it stands in the rows. Times are texts that say that they are of no zone: UTC. */
function xsOf(
  { column: { type, storage }, categories, places }: ChartAxis,
  slots: Int32Array,
): { readonly numbers: Float64Array; at(place: number): number | string } {
  if (categories !== null)
    return { numbers: Float64Array.from(places), at: (place) => categories[places[place] as number] as string }
  const numbers = numbersOf(storage, slots)
  const isoOf = (ms: number): string => new Date(ms).toISOString()
  if (type === 'date') return { numbers, at: (place) => isoOf((numbers[place] as number) * MS_PER_DAY).split('T')[0] as string }
  if (type === 'datetime') return { numbers, at: (place) => isoOf(numbers[place] as number) }
  return { numbers, at: (place) => numbers[place] as number }
}

/** The least step between bars that stand on a scale. */
function stepOf({ column: { type, storage }, categories }: ChartAxis, series: readonly ChartSeriesData[]): number | null {
  if (categories !== null) return null
  const bars = series.filter(({ kind }) => kind === 'bar')
  const all = Float64Array.from(new Set(bars.flatMap(({ slots }) => [...numbersOf(storage, slots)]))).sort()
  let least = Number.POSITIVE_INFINITY
  for (let at = 1; at < all.length; at++) least = Math.min(least, (all[at] as number) - (all[at - 1] as number))
  const step = Number.isFinite(least) ? least : 1
  return type === 'date' ? step * MS_PER_DAY : step
}
