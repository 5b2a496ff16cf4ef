import type { Term } from '../terms/index.js'
import type { Descendants } from './descendants.js'

/** How rows are taken in for the row that an aggregate is for. */
export interface Membership {
  /** What a row read is grouped by, and what of the own row is equal to it. */
  readonly keys: readonly { readonly read: Term; readonly own: Term }[]
  /** True where blank keys are equal to each other. */
  readonly blankIsKey: boolean
  /** Rows read that belong to none. */
  readonly without: readonly Term[]
  /** The error of an own row that has no rows for certain. */
  readonly ownFault: Term | null
  /** Where the rows are those below the row. */
  readonly descendants?: Descendants
}
