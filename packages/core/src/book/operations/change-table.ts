import type { ColumnId } from '../../formula/index.js'
import type { RowsTable, TableProperties } from '../model/index.js'
import { type ChangeTable, changeTableSchema } from '../schemas/index.js'
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
    if (source !== undefined) own.source = source === null ? null : sourceOf(table, source)
    // What is said of a label is said of its column.
    for (const id of [table.properties.label, own.label])
      if (id !== null && transaction.model.hasColumn(id)) transaction.findingsDue.add(transaction.model.columnOf(id).column)
    table.properties = own
    transaction.applied.push(operation)
    const set = Object.fromEntries(Object.keys(operation.set).map((name) => [name, before[name as keyof typeof before]]))
    transaction.undoWith({ op: 'change-table', table: table.name, set })
  },
})

function sourceOf(table: RowsTable, { columns, ...source }: TableSource): TableProperties['source'] {
  return { ...source, ...(columns !== undefined && { columns: columns.map((name) => table.column(name).id) }) }
}

/** Where rows were read from, as operations carry it. */
interface TableSource {
  readonly file: string
  readonly options: Readonly<Record<string, unknown>>
  readonly columns?: readonly string[] | undefined
}

/** The properties of a table as operations carry them; null for what it has not. */
export interface TableSpec {
  readonly label: string | null
  readonly key: string[] | null
  readonly parent: string | null
  readonly source: { file: string; options: Record<string, unknown>; columns?: string[] } | null
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
    source:
      source === null
        ? null
        : {
            file: source.file,
            options: { ...source.options },
            ...(source.columns !== undefined && { columns: source.columns.flatMap((id) => nameOf(id) ?? []) }),
          },
  }
}
