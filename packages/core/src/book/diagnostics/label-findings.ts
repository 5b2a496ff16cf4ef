import type { Engine } from '../../engine/index.js'
import { counted, type Finding, finding } from '../../findings/index.js'
import { printName } from '../../values/index.js'
import type { ColumnModel, RowsTable } from '../model/index.js'
import { cellText } from '../model/index.js'

/** Labels that are compared on every edit; more are compared when everything is checked. */
const MOST_COMPARED = 20_000

/** Rows that their label does not name for certain: those without one, and those that share one. */
export function labelFindings(engine: Engine, table: RowsTable, column: ColumnModel, isThorough: boolean): Finding[] {
  const { store, properties } = table
  if (properties.label !== column.id || (!isThorough && store.rows.rowCount > MOST_COMPARED)) return []
  const storage = engine.recalculation.storage(store, column.id)
  const counts = new Map<string, number>()
  let unlabelled = 0
  for (const slot of store.rows.inOrder()) {
    const text = cellText(storage, slot)
    if (text === '') unlabelled++
    else counts.set(text, (counts.get(text) ?? 0) + 1)
  }
  const shared = [...counts].filter(([, count]) => count > 1)
  const rows = shared.reduce((sum, [, count]) => sum + count, 0)
  const name = printName(column.name)
  const found: Finding[] = []
  if (unlabelled > 0) found.push(finding('no-label', { rows: counted(unlabelled, 'row'), name }, { rows: unlabelled }))
  if (rows > 0)
    found.push(finding('same-label', { rows: counted(rows, 'row'), name, sample: JSON.stringify(shared[0]?.[0]) }, { rows }))
  return found
}
