import type { Cell, CellValue } from '../columns/index.js'
import { refusal } from '../findings/index.js'
import { printName } from '../values/index.js'
import { type ColumnModel, type RowsTable, readCellValue } from './model/index.js'

/**
 * The cells that a key stands for, each with its column.
 *
 * @param key - the value of the only key column, or values by column
 * @throws Refusal for a single value where the table has no key of one column, and for columns that there are not
 */
export function keyCells(
  table: RowsTable,
  key: CellValue | Readonly<Record<string, CellValue>>,
  zone: string,
): { readonly column: ColumnModel; readonly cell: Cell }[] {
  const values = isByColumn(key) ? Object.entries(key) : [[onlyKey(table).name, key] as const]
  return values.map(([name, value]) => {
    const column = table.column(name)
    return { column, cell: readCellValue(value, column.type ?? 'text', () => `the key, column ${printName(name)},`, zone) }
  })
}

function isByColumn(key: CellValue | Readonly<Record<string, CellValue>>): key is Readonly<Record<string, CellValue>> {
  return typeof key === 'object' && key !== null
}

function onlyKey(table: RowsTable): ColumnModel {
  const [first, ...others] = table.properties.key ?? []
  const column = first === undefined || others.length > 0 ? undefined : table.withId(first)
  if (column !== undefined) return column
  const reason = 'the table has no key of one column; give values by column, such as { code: "H2" }.'
  throw refusal('bad-operation', { place: `find in ${printName(table.name)}`, reason }, { table: table.name })
}
