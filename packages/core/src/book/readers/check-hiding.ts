import { refusal } from '../../findings/index.js'
import type { ColumnId } from '../../formula/index.js'
import { printName } from '../../values/index.js'
import type { Model, RowsTable } from '../model/index.js'
import { changesDefinitions } from '../transaction/index.js'
import { hiddenColumns } from './hidden-columns.js'

/**
 * Refuses to hide a column by which rows are told apart, found or linked: without it a reader would have no rows to speak of.
 *
 * @throws Refusal naming what the column is
 */
export function checkHiding(model: Model, { applied }: { readonly applied: readonly { readonly op: string }[] }): void {
  if (!changesDefinitions(applied)) return
  for (const { table, column } of hiddenColumns(model)) {
    const use = useOfKey(model, table, column.id)
    if (use === null) continue
    throw refusal('hides-key', { name: printName(column.name), use }, { table: table.name, column: column.name })
  }
}

/** What a column is that cannot be missing; null for one that can. */
function useOfKey(model: Model, { properties }: RowsTable, id: ColumnId): string | null {
  if (properties.label === id) return 'the label of its table'
  if (properties.key?.includes(id) === true) return 'a key of its table'
  if (properties.parent === id) return 'the parent of its table'
  for (const { link } of model.links())
    if ([...link.columns, ...link.keys].some((column) => column.id === id)) return `a key of the link ${printName(link.name)}`
  return null
}
