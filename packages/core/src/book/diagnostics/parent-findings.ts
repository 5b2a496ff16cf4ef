import type { Engine } from '../../engine/index.js'
import { counted, type Finding, finding } from '../../findings/index.js'
import type { ColumnModel, RowsTable } from '../model/index.js'
import { parentsOf, rowsInLoops } from '../queries/index.js'

/** Rows that are looked at on every edit; more are looked at when everything is checked. */
const MOST_LOOKED_AT = 20_000

/** Rows of an outline that are below themselves. */
export function parentFindings(engine: Engine, table: RowsTable, column: ColumnModel, isThorough: boolean): Finding[] {
  const { store, properties } = table
  if (properties.parent !== column.id || (!isThorough && store.rows.rowCount > MOST_LOOKED_AT)) return []
  const parents = parentsOf(engine, table)
  const loops = parents === null ? [] : rowsInLoops(store.rows.inOrder(), parents)
  const [first] = loops
  if (first === undefined) return []
  const parameters = { rows: counted(loops.length, 'row'), place: store.rows.placeOf(first) + 1 }
  return [finding('parent-loop', parameters, { rows: loops.length })]
}
