import type { ColumnId } from '../../formula/index.js'
import { foldName } from '../../values/index.js'
import type { ColumnModel, Model, Owned, RowsTable } from '../model/index.js'

/** The groups that columns are hidden from, as they were first written, in the order of the columns. */
export function groupsOfModel(model: Model): string[] {
  const groups = new Map<string, string>()
  for (const { column } of hiddenColumns(model))
    for (const group of column.properties.hiddenFrom ?? []) if (!groups.has(foldName(group))) groups.set(foldName(group), group)
  return [...groups.values()]
}

/** The columns that are hidden from any group. */
export function* hiddenColumns(model: Model): Generator<Owned & { readonly table: RowsTable }> {
  for (const table of model.tables)
    for (const column of table.columns) if ((column.properties.hiddenFrom?.length ?? 0) > 0) yield { table, column }
}

/** True where a column is hidden from someone of some groups. */
function isHiddenFrom({ properties }: ColumnModel, groups: readonly string[]): boolean {
  if (properties.hiddenFrom === undefined || groups.length === 0) return false
  const own = new Set(groups.map(foldName))
  return properties.hiddenFrom.some((group) => own.has(foldName(group)))
}

/** The columns that are hidden from someone of some groups. */
export function columnsHiddenFrom(model: Model, groups: readonly string[]): Set<ColumnId> {
  const hidden = new Set<ColumnId>()
  for (const { column } of hiddenColumns(model)) if (isHiddenFrom(column, groups)) hidden.add(column.id)
  return hidden
}
