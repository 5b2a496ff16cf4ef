import type { ColumnId } from '../formula/index.js'
import type { Model } from './model.js'
import type { OperationInput } from './operations/index.js'

const OF_ROWS: ReadonlySet<string> = new Set(['insert-rows', 'remove-rows', 'move-rows', 'reread-rows'])

/** The columns, and rows of tables, that operations are about to touch; of definitions nothing, since they are computed anew. */
export function touchedBy(model: Model, operations: readonly OperationInput[]): Set<ColumnId> {
  const touched = new Set<ColumnId>()
  for (const operation of operations) {
    const fields = operation as Readonly<Record<string, unknown>>
    if (operation.op === 'set-value') {
      const value = model.values.find(String(fields.name))
      if (value !== undefined) touched.add(value.id)
    }
    const table = typeof fields.table === 'string' ? model.find(fields.table) : undefined
    if (table === undefined) continue
    if (OF_ROWS.has(operation.op)) {
      touched.add(table.store.rowsNode)
      for (const column of table.columns) if (column.formula === null) touched.add(column.id)
    }
    if (operation.op === 'fill-column') {
      const filled = table.find(String(fields.column))
      if (filled !== undefined) touched.add(filled.id)
    }
    if (operation.op === 'set-cells' && Array.isArray(fields.cells)) {
      for (const { column } of fields.cells as readonly { readonly column?: unknown }[]) {
        const found = table.find(String(column))
        if (found !== undefined) touched.add(found.id)
      }
    }
  }
  return touched
}
