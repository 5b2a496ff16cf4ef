import type { ShownValue } from '../model/index.js'

/** What should come out in a row. */
export interface SuggestionExample {
  /** Id of the row. */
  readonly row: number
  /**
   * Wanted values by new column: numbers, texts, true or false, null for a blank; dates as ISO 8601 text. A text may stand for a
   * number or date as well. Numbers match at the digits given. A column that is left out may be anything there.
   */
  readonly values: Readonly<Record<string, number | string | boolean | null>>
}

/** What formulas are sought for. */
export interface SuggestionRequest {
  readonly table: string
  /** Columns that the formulas may be made of; what their links lead to comes with them. All columns when left out. */
  readonly from?: readonly string[]
  /** Names of the new columns. */
  readonly columns: readonly string[]
  /** At least one and at most five rows. */
  readonly examples: readonly SuggestionExample[]
  /** How many suggestions are wanted; 5 when left out. */
  readonly most?: number
}

/** A row that tells a suggestion from another one: which of two values is wanted there says which of them is. */
export interface SuggestionQuestion {
  /** Id of the row. */
  readonly row: number
  /** Its number, from 1. */
  readonly rowNumber: number
  /** What this suggestion gives there, by new column. */
  readonly values: Readonly<Record<string, ShownValue>>
  /** What the other one gives. */
  readonly others: Readonly<Record<string, ShownValue>>
  /** The question in words. */
  readonly text: string
}

/** Formulas that give what is wanted in all examples. */
export interface Suggestion {
  /** A formula for each new column. */
  readonly formulas: Readonly<Record<string, string>>
  /** What they do, in plain English. */
  readonly explanation: string
  /** How many rows were looked at: all, or of a large table some of all parts of it. */
  readonly rows: number
  /** How many cells are blank in these rows. */
  readonly blanks: number
  /** How many cells are errors. */
  readonly errors: number
  /** The first row in which the best other suggestion gives something else. */
  readonly question?: SuggestionQuestion
}
