import * as v from 'valibot'
import { Text } from './fields.js'

/** How the points of a series are drawn. */
export type SeriesKind = 'line' | 'point' | 'bar' | 'area'

/** One series of a chart. */
export interface ChartSeries {
  /** What it is called; the text of its formula when left out. */
  readonly name?: string
  /** A column of numbers, or any formula over one row; of a report the name of one of its columns. */
  readonly formula: string
  /** How its points are drawn. */
  readonly kind: SeriesKind
  /** On which side its axis stands; left when left out. */
  readonly axis?: 'left' | 'right'
  /** A colour as CSS writes it, `#rrggbb`; the next of the palette when left out. */
  readonly color?: string
}

/** A curve through the points of a series. */
export interface ChartFit {
  /** Name of the series. */
  readonly series: string
  /** Degree of the polynomial, 1 to 6; 1 when left out, or that of the coefficients. */
  readonly degree?: number
  /** A curve to be tried instead of the best one: its coefficients, from that of the highest power. */
  readonly coefficients?: readonly number[]
  /** Whether what the curve leaves is drawn below. */
  readonly residuals?: boolean
}

/** In which order the points of a chart stand. */
export interface ChartOrder {
  /** Name of a series, or `x`. */
  readonly by: string
  /** From the largest. */
  readonly descending?: boolean
}

/** A drawing of the rows of a table, or of the groups of one level of a report. */
export interface ChartDefinition {
  /** The table whose rows are drawn; left out for a report. */
  readonly table?: string
  /** A condition on the rows of the table; only those where it is true are drawn. */
  readonly where?: string
  /** The report whose groups are drawn; left out for a table. */
  readonly report?: string
  /** Name of the level of the report whose groups are drawn; the innermost when left out. */
  readonly level?: string
  /**
   * What runs along: a column of the table or any formula over one row; of a report the name of one of its columns, the key of
   * the level when left out.
   */
  readonly x?: string
  /** What is drawn over it. A tally of a report that goes across is a series a value. */
  readonly series: readonly ChartSeries[]
  /** In which order the points stand: categories side by side, lines from point to point; by x when left out, groups as in the report. */
  readonly order?: ChartOrder
  /** Whether the total stands beside its parts: the whole of a report after its groups, and a tally over all after its values. */
  readonly total?: boolean
  /** A curve through the points of a series. */
  readonly fit?: ChartFit
  /** What stands above it; made of the names when left out. */
  readonly title?: string
  /** What stands at the axis below; name and unit when left out. */
  readonly xTitle?: string
  /** What stands at the axis on the left; names and unit when left out. */
  readonly leftTitle?: string
  /** What stands at the axis on the right; names and unit when left out. */
  readonly rightTitle?: string
  /** Whether a legend tells the series; when left out, where there are several. */
  readonly legend?: boolean
}

const finite = v.pipe(v.number(), v.finite())
const text = v.optional(Text)
const flag = v.optional(v.boolean())
const colour = v.pipe(v.string(), v.regex(/^#[0-9a-f]{6}$/i, 'expected a colour like #0a6470.'))

const series = v.strictObject({
  name: text,
  formula: Text,
  kind: v.picklist(['line', 'point', 'bar', 'area']),
  axis: v.optional(v.picklist(['left', 'right'])),
  color: v.optional(colour),
})

const shape = v.strictObject({
  table: text,
  where: text,
  report: text,
  level: text,
  x: text,
  series: v.pipe(v.array(series), v.minLength(1, 'expected at least one series.')),
  order: v.optional(v.strictObject({ by: Text, descending: flag })),
  total: flag,
  fit: v.optional(
    v.strictObject({
      series: Text,
      degree: v.optional(finite),
      coefficients: v.optional(v.array(finite)),
      residuals: flag,
    }),
  ),
  title: text,
  xTitle: text,
  leftTitle: text,
  rightTitle: text,
  legend: flag,
})

/** What a chart looks like as JSON. */
export const chartShape = shape as unknown as v.GenericSchema<ChartDefinition>
