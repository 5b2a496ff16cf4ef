/** Totals below the rows of a table: a line of values, or of the names of the tallies that they are. */
export interface TotalsLine {
  readonly label: string
  readonly isName: boolean
  /** Texts by the name of the column they stand under. */
  readonly cells: ReadonlyMap<string, string>
}

/** The tallies of a table: those about a column that is shown stand under it, the others are said below. */
export interface Totals {
  readonly lines: readonly TotalsLine[]
  readonly others: string
}
