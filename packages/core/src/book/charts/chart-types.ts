import type { Fit } from '../fits/index.js'
import type { QueryColumn } from '../queries/index.js'
import type { ChartDefinition, SeriesKind, ViewParameter } from '../schemas/index.js'

/** What runs along a chart. */
export interface ChartAxis {
  readonly column: QueryColumn
  /** What stands side by side, in order, of texts and booleans and of groups; null where x is a number or a time. */
  readonly categories: readonly string[] | null
  /** Of each point the place of its category; empty where there are none. */
  readonly places: Int32Array
}

/** One series of a chart. */
export interface ChartSeriesData {
  readonly name: string
  readonly kind: SeriesKind
  readonly axis: 'left' | 'right'
  /** As it was given; null for the next of the palette. */
  readonly color: string | null
  readonly column: QueryColumn
  /** Slots of its points in the order in which they are drawn, to be read from its column and from that of x. */
  readonly slots: Int32Array
  /** How many of its points are gaps, since there is no value or an error in its place. */
  readonly blanks: number
  readonly errors: number
}

/** The points of a chart. Its series share their points, unless groups around those of its level part them. */
export interface ChartData {
  readonly definition: ChartDefinition
  readonly table: string
  readonly where: string | null
  readonly parameters: readonly ViewParameter[]
  /** Rows of the table, and those of them that the condition keeps. */
  readonly rowCount: number
  readonly keptCount: number
  readonly x: ChartAxis
  readonly series: readonly ChartSeriesData[]
  /** Points that have no place along x: rows, or groups of a report. */
  readonly leftOut: { readonly blanks: number; readonly errors: number; readonly others: number }
  /** The curve through the points of a series, with its name. */
  readonly fit: { readonly series: string; readonly curve: Fit; readonly residuals: boolean } | null
}
