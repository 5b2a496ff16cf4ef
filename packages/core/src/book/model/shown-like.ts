import type { Checked, CheckedFormula, ColumnId } from '../../formula/index.js'
import { type ColumnProperties, shownUnit } from './column-model.js'
import type { Model } from './model.js'

/** How values are shown, as far as a formula can take it over from what it reads. */
export type Look = Pick<ColumnProperties, 'unit' | 'symbol' | 'display' | 'decimals'>

/** How what a formula gives is shown where nothing is said: in its unit, else as what it is made of. */
export function shownAs(model: Model, { expression, unit }: Pick<CheckedFormula, 'expression' | 'unit'>): Look {
  const { unit: _, ...look } = shownLike(model, expression)
  const shown = shownUnit(unit)
  return shown === null ? look : { ...look, unit: shown }
}

/**
 * How what a formula gives is shown where nothing is said: as the column that it is, or whose values it sums, averages or
 * picks, also with something in place of blanks and errors; nothing for anything else.
 */
function shownLike(model: Model, node: Checked): Look {
  if (node.kind === 'column' || node.kind === 'single') return model.hasColumn(node.column) ? lookOf(model, node.column) : {}
  if (node.kind === 'follow') return shownLike(model, node.read)
  if (node.kind === 'if-error') return shownLike(model, node.value)
  if (node.kind === 'coalesce') return node.operands[0] === undefined ? {} : shownLike(model, node.operands[0])
  const [value] = node.kind === 'over-rows' && node.record.unit === 'same' ? node.args : []
  return value === undefined ? {} : shownLike(model, value)
}

/** The look of a column, named value or tally: what is said of it; of a tally also what it takes over. */
export function lookOf(model: Model, id: ColumnId): Look {
  const { table, column } = model.columnOf(id)
  const { symbol, display, decimals } = column.properties
  const unit = column.shownUnit
  const own: Look = {
    ...(unit !== null && { unit }),
    ...(symbol !== undefined && { symbol }),
    ...(display !== undefined && { display }),
    ...(decimals !== undefined && { decimals }),
  }
  const expression = column.formula?.checked?.expression
  return table.role !== 'tallies' || expression === undefined ? own : { ...shownLike(model, expression), ...own }
}

/** The column that a function of many rows is of, where it is of that alone; null for any other formula. */
export function columnUnder(node: Checked | undefined): ColumnId | null {
  if (node?.kind !== 'over-rows' || node.rows.which !== 'own') return null
  const [value, other] = node.args
  return value?.kind === 'column' && other === undefined ? value.column : null
}
