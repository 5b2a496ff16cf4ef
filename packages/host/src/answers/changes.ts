import type { AppliedChange, CellCount, MetCell, SessionChange } from '@mellow-abacus/session'
import type { ChangeSet, ColumnCells, WorkbookView } from 'mellow-abacus'
import { cellsOf } from './cells.js'

/** A change set as plain data. */
export function sessionChange(
  { revision, author, at, recalculated, changed, stale, inserted, removed, units, findings }: ChangeSet,
  definitions: boolean,
  met: readonly MetCell[] = [],
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
    units,
    findings,
    met,
  }
}

/** Those of some cells that there are for someone. */
export function seenCells(view: WorkbookView, cells: readonly MetCell[]): readonly MetCell[] {
  const isSeen = ({ table, column }: MetCell): boolean =>
    view.tables.includes(table) && view.table(table).columns.some(({ name }) => name === column)
  return cells.length === 0 ? cells : cells.filter(isSeen)
}

const countOf = ({ table, column, rows }: ColumnCells): CellCount => ({ table, column, rows })

/** Rows of one column, of which more were written, that do not come back: it was filled as a whole. */
const MOST_WRITTEN = 1_000

/** The rows that an edit has written source cells in, and those it has made, with all their values as they are now. */
export function touchedRows(view: WorkbookView, { changed, inserted }: ChangeSet): AppliedChange['rows'] {
  const told = new Set([...changed, ...inserted].map(({ table }) => table))
  return view.tables.flatMap((name) => {
    if (!told.has(name)) return []
    const table = view.table(name)
    const { columns } = table
    const sources = new Set(columns.flatMap((column) => (column.isCalculated ? [] : [column.name])))
    const isOwn = (cells: { readonly table: string }): boolean => cells.table === name
    const written = changed.filter((cells) => isOwn(cells) && cells.rows <= MOST_WRITTEN && sources.has(cells.column))
    const ids = new Set([...written.flatMap((cells) => [...cells.ids()]), ...inserted.filter(isOwn).flatMap((rows) => rows.ids)])
    return [...ids].flatMap((id) => (table.hasRow(id) ? [{ table: name, id, cells: cellsOf(columns, id) }] : []))
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

/** True for an operation that changes cells and rows alone. */
export function isOfCells(operation: { readonly op: string }): boolean {
  return OF_CELLS.has(operation.op)
}

/** True where what is defined may be otherwise; a first value gives a column its type. */
export function isDefining({ operations, inverse }: ChangeSet): boolean {
  return [...operations, ...inverse].some((one) => !isOfCells(one))
}

/** Changes that were made one after the other for one who asked once, as one. */
export function joinedChange(parts: readonly AppliedChange[]): AppliedChange {
  const last = parts.at(-1) as AppliedChange
  const all = <Key extends keyof AppliedChange>(key: Key): AppliedChange[Key] =>
    parts.flatMap((part) => part[key] as readonly unknown[]) as unknown as AppliedChange[Key]
  const counted = (key: 'recalculated' | 'changed' | 'stale'): CellCount[] => {
    const counts = new Map<string, CellCount>()
    for (const { table, column, rows } of all(key)) {
      const place = JSON.stringify([table, column])
      counts.set(place, { table, column, rows: rows + (counts.get(place)?.rows ?? 0) })
    }
    return [...counts.values()]
  }
  return {
    ...last,
    recalculated: counted('recalculated'),
    changed: counted('changed'),
    stale: counted('stale'),
    inserted: all('inserted'),
    removed: all('removed'),
    units: all('units'),
    findings: {
      added: parts.flatMap(({ findings }) => findings.added),
      removed: parts.flatMap(({ findings }) => findings.removed),
    },
    rows: all('rows'),
  }
}

/** What is kept of an answer that is very long: the revision, and the ids of what came in. */
export function shortenedAnswer<Answer>(answer: Answer): Answer {
  const change = answer as Partial<AppliedChange> | null
  if (change === null) return answer
  if ('change' in change) return { ...change, change: shortenedAnswer(change.change) } as Answer
  return { ...change, rows: [], findings: { added: [], removed: [] }, met: [] } as Answer
}
