import type { ValueType } from '../../values/index.js'

/** What is to be fitted. */
export interface FitRequest {
  readonly table: string
  /** A column of numbers, or a formula over one row. */
  readonly y: string
  /** A column of numbers, dates or date-times, or a formula over one row. Times count in days from the smallest. */
  readonly x: string
  /** A condition; only rows where it is true are looked at. */
  readonly where?: string
  /** Degree of the polynomial, 1 to 6; 1 when left out, or that of the coefficients. */
  readonly degree?: number
  /** A curve to be tried instead of the best one: its coefficients, from that of the highest power. */
  readonly coefficients?: readonly number[]
}

/** What a curve is of, or over. */
export interface FitQuantity {
  /** As it was asked for. */
  readonly formula: string
  /** Its symbol, or its name where it has none. */
  readonly symbol: string
  readonly unit: string | null
  readonly type: ValueType
}

/** A coefficient of a curve. */
export interface FitCoefficient {
  readonly power: number
  readonly value: number
  /** Its standard error; null for one that was given, and where no row is left over. */
  readonly error: number | null
  /** Unit of y over that of x to the power; null where neither has one. */
  readonly unit: string | null
}

/** Rows that were left out. */
export interface LeftOut {
  readonly reason: 'condition' | 'blank' | 'error'
  readonly rows: number
}

/** The rows that a curve was held to. */
export interface FitPoints {
  readonly ids: readonly number[]
  readonly x: Float64Array
  readonly y: Float64Array
  /** y less the curve. */
  readonly residuals: Float64Array
}

/** A curve through the rows of a table, and how well it fits. */
export interface Fit {
  readonly table: string
  readonly where: string | null
  readonly y: FitQuantity
  readonly x: FitQuantity
  readonly degree: number
  /** From the highest power. */
  readonly coefficients: readonly FitCoefficient[]
  /** Whether the coefficients were given. */
  readonly isGiven: boolean
  /** Where times count from, ISO 8601; null for numbers. */
  readonly start: string | null
  /** Which part of the sum of squares of y around its mean the curve accounts for; null where y is the same everywhere. */
  readonly rSquared: number | null
  /** Root mean square of the residuals. */
  readonly rms: number
  /** Standard deviation of the residuals: of as many as rows less coefficients; null where no row is left over. */
  readonly deviation: number | null
  readonly rowCount: number
  readonly leftOut: readonly LeftOut[]
  /** The value of the curve; of times, days from the start. */
  at(x: number): number
  points(): FitPoints
}
