import type { AppliedChange, CellCount, SessionChange } from '@mellow-abacus/session'
import type { ChangeSet, ColumnCells, WorkbookView } from 'mellow-abacus'
import { cellsOf } from './cells.js'

/** A change set as plain data. */
export function sessionChange(
  { revision, author, at, recalculated, changed, stale, inserted, removed, findings }: ChangeSet,
  definitions: boolean,
): SessionChange {
  return {
    revision,
    author,
    at,
    definitions,
    recalculated: recalculated.map(countOf),
    changed: changed.map(countOf),
    stale: stale.map(countOf),
    inserted: inserted.map(({ table, ids }) => ({ table, ids: [...ids] })),
    removed: removed.map(({ table, ids }) => ({ table, ids: [...ids] })),
    findings,
  }
}

const countOf = ({ table, column, rows }: ColumnCells): CellCount => ({ table, column, rows })

/** Rows of one column, of which more were written, that do not come back: it was filled as a whole. */
const MOST_WRITTEN = 1_000

/** The rows that an edit has written source cells in, and those it has made, with all their values as they are now. */
export function touchedRows(view: WorkbookView, { changed, inserted }: ChangeSet): AppliedChange['rows'] {
  const ids = new Map<string, Set<number>>()
  const touch = (table: string, rows: Iterable<number>): void => {
    const known = ids.get(table) ?? new Set()
    for (const row of rows) known.add(row)
    ids.set(table, known)
  }
  for (const { table, column, rows, ids: of } of changed) {
    if (rows > MOST_WRITTEN || !view.tables.includes(table)) continue
    const found = view.table(table).columns.find(({ name }) => name === column)
    if (found?.isCalculated === false) touch(table, of())
  }
  for (const { table, ids: fresh } of inserted) touch(table, fresh)
  return [...ids].flatMap(([name, rows]) => {
    const table = view.table(name)
    const { columns } = table
    return [...rows].flatMap((id) => (table.hasRow(id) ? [{ table: name, id, cells: cellsOf(columns, id) }] : []))
  })
}

/** Operations that change cells and rows alone. */
const OF_CELLS: ReadonlySet<string> = new Set([
  'set-cells',
  'insert-rows',
  'remove-rows',
  'move-rows',
  'fill-column',
  'stamp-cells',
])

/** True where what is defined may be otherwise; a first value gives a column its type. */
export function isDefining({ operations, inverse }: ChangeSet): boolean {
  return [...operations, ...inverse].some(({ op }) => !OF_CELLS.has(op))
}
