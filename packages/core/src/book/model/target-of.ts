import type { FormulaTarget } from '../../formula/index.js'
import { parseUnit } from '../../units/index.js'
import type { ColumnModel } from './column-model.js'

/** What the result of a column's formula is checked against; of a column that is not there yet nothing. */
export function targetOf(column: ColumnModel | undefined): FormulaTarget {
  if (column === undefined) return {}
  const { name, properties } = column
  const { choices } = properties
  const unit = properties.unit === undefined ? null : parseUnit(properties.unit)
  return { name, ...(choices !== undefined && { choices }), ...(unit !== null && { unit }) }
}
