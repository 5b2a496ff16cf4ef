import { type CheckedFormula, type ColumnId, somePart } from '../../formula/index.js'
import { type ColumnModel, formulaOf } from './column-model.js'
import type { Model } from './model.js'
import type { TableModel } from './table-model.js'

/** A column, tally or named value with what it belongs to. */
export interface Owned {
  readonly table: TableModel
  readonly column: ColumnModel
}

/**
 * The columns whose formulas name one, or stand for it under its own name. Those that take it in by a tag do without it once
 * it is gone.
 */
export function usersOf(model: Model, column: ColumnModel): Owned[] {
  return [...model.columns()].filter(({ column: other }) => {
    const formula = formulaOf(other)
    if (other === column || formula === null) return false
    const { checked } = formula
    // A formula that is not checked yet names its missing column at the end of the call.
    return other.original === column.id || (checked !== null && namesColumn(checked, column.id))
  })
}

/** True when a formula names a column, tally or value, other than by a tag. */
function namesColumn({ references, expression }: CheckedFormula, id: ColumnId): boolean {
  return (
    references.some((one) => one.column === id) || somePart(expression, (part) => part.kind === 'single' && part.column === id)
  )
}
