import { type Finding, finding } from '../../findings/index.js'
import { printName } from '../../values/index.js'
import type { ColumnModel, TableModel } from '../model/index.js'

/** A column of text most of whose values are numbers; one that was declared text and holds nothing else is meant so. */
export function numberTextFindings(table: TableModel, column: ColumnModel): Finding[] {
  const storage = table.store.column(column.id)
  if (storage === undefined || column.type !== 'text') return []
  const share = storage.numberTextCount / storage.valueCount
  if (!(share >= 0.5) || (column.declared && share >= 0.95)) return []
  const rows = storage.numberTextCount
  const operation = { op: 'change-column', table: table.name, column: column.name, set: { type: 'number' } }
  const fixes = [{ title: `Make ${column.name} a number column`, operations: [operation] }]
  const count = `${rows} of ${storage.valueCount} values`
  return [finding('numbers-as-text', { count, name: printName(column.name) }, { rows, fixes })]
}
