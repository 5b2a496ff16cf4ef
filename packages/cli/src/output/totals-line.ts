/** Totals below the rows of a table: a line of values, or of the names of the tallies that they are. */
export interface TotalsLine {
  readonly label: string
  readonly isName: boolean
  /** Texts by the name of the column they stand under. */
  readonly cells: ReadonlyMap<string, string>
}
