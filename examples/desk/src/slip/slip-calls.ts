import type { Travel } from '../grid/travel'
import type { RowsBeside } from '../use-panes'
import type { Defined } from '../views/define-dialog'

/** The sides of the slip. */
export type SlipTab = 'formula' | 'why' | 'findings' | 'column'

/** What the slip asks of the rest of the page. */
export interface SlipCalls {
  turnTo(tab: SlipTab): void
  /** Goes to a column, and to a row of it where one is said. */
  travel(to: Travel): void
  /** Shows the rows of a table where something is true. */
  showRows(table: string, where: string): void
  /** The same below the table that is shown, to look at both. */
  showBeside(rows: RowsBeside): void
  editFormula(table: string, column: string): void
  /** Asks for what is to be defined beside columns. */
  define(first: Defined): void
  close(): void
}
