import type { Engine, IndexMemory } from '../../engine/index.js'
import { printName } from '../../values/index.js'
import type { Model, TableModel } from '../model/index.js'

/** What a workbook takes in memory. */
export interface MemoryReport {
  /** Source and calculated columns. */
  readonly columns: readonly ColumnMemory[]
  /** What is kept so that edits need not compute it again; shared by all formulas that need it, and gone with the last of them. */
  readonly indexes: readonly { readonly table: string; readonly what: string; readonly bytes: number }[]
  /** All of it. */
  readonly bytes: number
}

/** What one column takes. */
export interface ColumnMemory {
  readonly table: string
  readonly column: string
  readonly bytes: number
  /** Bytes a cell; 0 without rows. */
  readonly perCell: number
}

/** Counts what columns and indexes take; of texts and of maps an estimate. */
export function memoryReport(model: Model, engine: Engine): MemoryReport {
  const columns = model.tables.flatMap((table) => table.columns.map((column) => columnMemory(table, column.id, column.name)))
  const indexes = engine.memory().flatMap((one) => {
    const table = model.tables.find(({ store }) => store === one.store)
    return table === undefined || one.bytes === 0 ? [] : [{ table: table.name, what: words(table, one), bytes: one.bytes }]
  })
  for (const table of model.tables) {
    const named = new Set(table.columns.map((column) => column.id))
    const bytes = table.store.byteLength((id) => !named.has(id))
    if (bytes > 0) indexes.push({ table: table.name, what: 'parts of formulas kept as columns', bytes })
  }
  const all = [...columns, ...indexes]
  return { columns, indexes, bytes: all.reduce((sum, one) => sum + one.bytes, 0) }
}

function columnMemory(table: TableModel, id: TableModel['columns'][number]['id'], name: string): ColumnMemory {
  const bytes = table.store.byteLength((one) => one === id)
  const { rowCount } = table.store.rows
  return { table: table.name, column: name, bytes, perCell: rowCount === 0 ? 0 : bytes / rowCount }
}

function words(table: TableModel, { kind, columns }: IndexMemory): string {
  const names = columns.map((id) => {
    const column = table.columns.find((one) => one.id === id)
    return column === undefined ? 'part of a formula' : printName(column.name)
  })
  const of = names.join(', ')
  if (kind === 'groups') return of === '' ? 'groups by the row that links lead to' : `groups by ${of}`
  return of === '' ? kind : `${kind} of ${of}`
}
