import type { ColumnId } from './ids.js'

/** A number column where its size matters: an operand of arithmetic, or a part of a function across the row. */
export interface ColumnUse {
  readonly column: ColumnId
  readonly from: number
  readonly to: number
}

/** What a formula does with number columns that findings about data go by. */
export interface ColumnUses {
  /** Columns that are added up, multiplied or averaged as they are. */
  readonly measures: readonly ColumnUse[]
  /** Lists of columns that are made into one score. */
  readonly scores: readonly { readonly parts: readonly ColumnUse[]; readonly from: number; readonly to: number }[]
}
