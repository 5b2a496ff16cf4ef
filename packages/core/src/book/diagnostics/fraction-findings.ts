import { type Finding, finding } from '../../findings/index.js'
import { printName, statusOfFault } from '../../values/index.js'
import type { ColumnModel, TableModel } from '../model/index.js'

const MISFIT: number = statusOfFault('misfit')

/** Results that a column of whole numbers does not take. */
export function fractionFindings(table: TableModel, column: ColumnModel): Finding[] {
  const rows = table.store.column(column.id)?.faultCount(MISFIT) ?? 0
  if (rows === 0) return []
  const operation = { op: 'change-column', table: table.name, column: column.name, set: { type: 'number' } }
  const fixes = [{ title: `Make ${column.name} a number column`, operations: [operation] }]
  const count = `${rows} ${rows === 1 ? 'cell' : 'cells'}`
  return [finding('fractions', { count, name: printName(column.name) }, { rows, fixes })]
}
