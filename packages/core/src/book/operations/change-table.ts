import type { ColumnId } from '../../formula/index.js'
import { type ColumnModel, mapSource, type RowsTable, type TableProperties, type TableSource, usersOf } from '../model/index.js'
import { type ChangeTable, changeTableSchema } from '../schemas/index.js'
import type { Transaction } from '../transaction/index.js'
import { defineOperation } from './define.js'

export const changeTable = defineOperation<ChangeTable>({
  schema: changeTableSchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const { label, key, parent, source } = operation.set
    const before = tableSpec(table)
    const own: TableProperties = { ...table.properties }
    if (label !== undefined) own.label = label === null ? null : table.column(label).id
    if (key !== undefined) own.key = key === null ? null : key.map((name) => table.column(name).id)
    if (parent !== undefined) own.parent = parent === null ? null : table.column(parent).id
    if (source !== undefined) own.source = source === null ? null : mapSource(source, (name) => table.column(name).id)
    // What is said of a label is said of its column.
    for (const id of [table.properties.label, own.label])
      if (id !== null && transaction.model.hasColumn(id)) transaction.findingsDue.add(transaction.model.columnOf(id).column)
    table.properties = own
    if (source !== undefined) lookAtReaders(transaction, table)
    transaction.applied.push(operation)
    const set = Object.fromEntries(Object.keys(operation.set).map((name) => [name, before[name as keyof typeof before]]))
    transaction.undoWith({ op: 'change-table', table: table.name, set })
  },
})

/** What is said of a sample is said where its columns are read, and where links lead to it. */
function lookAtReaders({ model, findingsDue }: Transaction, table: RowsTable): void {
  for (const one of table.columns) for (const { column } of usersOf(model, one)) findingsDue.add(column)
  for (const { links } of model.tables)
    for (const { to, columns } of links) if (to === table) findingsDue.add(columns[0] as ColumnModel)
}

/** The properties of a table as operations carry them; null for what it has not. */
export interface TableSpec {
  readonly label: string | null
  readonly key: string[] | null
  readonly parent: string | null
  readonly source: TableSource<string> | null
}

/** The properties of a table as operations carry them. */
export function tableSpec(table: RowsTable): TableSpec {
  const nameOf = (id: ColumnId): string | undefined => table.withId(id)?.name
  const { label, key, parent, source } = table.properties
  const names = (key ?? []).flatMap((id) => nameOf(id) ?? [])
  return {
    label: (label === null ? undefined : nameOf(label)) ?? null,
    parent: (parent === null ? undefined : nameOf(parent)) ?? null,
    // A key that has lost a column finds nothing for certain.
    key: key === null || names.length < key.length ? null : names,
    source: source === null ? null : mapSource(source, nameOf),
  }
}
