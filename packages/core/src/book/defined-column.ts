import type { Checked, ColumnId } from '../formula/index.js'
import type { ValueType } from '../values/index.js'

/** A column, tally, rule or named value as it is defined. */
export interface DefinedColumn {
  readonly id: ColumnId
  readonly name: string
  /** Null for a column without values and without a declared type. */
  readonly type: ValueType | null
  /** What calculates it, typed and with its names resolved; null where its values are its own. */
  readonly expression: Checked | null
  /** The formula as it is written; null where there is none. */
  readonly formula: string | null
}
