import { refusal } from '../findings/index.js'
import { foldName } from '../values/index.js'
import type { Subscription } from './calls/index.js'
import type { ShownValue } from './model/index.js'
import type { RowView } from './row-view.js'
import type { TableView } from './table-view.js'

/** Which part of a table is looked at: columns, and rows by their numbers. */
export interface WindowQuery {
  readonly table: string
  /** Names, in the order wanted; all that are not hidden when left out. */
  readonly columns?: readonly string[]
  /** The number of the first row, from 1; 1 when left out. */
  readonly from?: number
  /** The number behind that of the last row; the end of the table when left out. */
  readonly to?: number
  /** Rows by their ids, in this order, instead of by number; those that are gone are left out. */
  readonly ids?: readonly number[]
}

/** Which rows a window shows. */
export type WindowSpan = Pick<WindowQuery, 'from' | 'to' | 'ids'>

/** A row of a window. As long as nothing of it changes it is the same object, so that a page draws it once. */
export interface WindowRow {
  readonly id: number
  readonly number: number
  /** In the order of the columns. */
  readonly values: readonly ShownValue[]
}

/** What a window shows. As long as nothing changes it is the same object. */
export interface WindowRows {
  readonly table: string
  readonly columns: readonly string[]
  /** How many rows the table has. */
  readonly rowCount: number
  readonly rows: readonly WindowRow[]
  /** True when the table, or a column that was asked for by name, is no more. */
  readonly isGone: boolean
}

/** A window on a table that follows every edit, until it is ended: by calling it, or by `using`. */
export interface RowWindow extends Subscription {
  /** What it shows now. */
  readonly current: WindowRows
  /** Shows other rows from now on; the listener hears of it when anything differs. */
  show(rows: WindowSpan): void
}

/** What a window needs of a workbook. */
export interface WindowSource {
  readonly tables: readonly string[]
  table(name: string): TableView
  on(event: 'change', listener: () => void): Subscription
}

/**
 * Opens a window on a table. It reads the cells it shows after each change and tells only of what differs.
 *
 * @param listener - called with what the window shows, each time that has changed
 * @throws Refusal for a table or column that there is not
 */
export function openWindow(book: WindowSource, query: WindowQuery, listener: (shown: WindowRows) => void): RowWindow {
  let table = book.table(query.table)
  let asked = query
  let current = readWindow(table, asked, null)
  const refresh = (): void => {
    // One that was removed and is back, by a step back, is another table of the same name.
    if (table.isGone && book.tables.includes(current.table)) table = book.table(current.table)
    const next = readWindow(table, asked, current)
    if (next === current) return
    current = next
    listener(next)
  }
  const ended = book.on('change', refresh)
  const window = (): void => ended()
  return Object.defineProperties(window, {
    [Symbol.dispose]: { value: window },
    current: { get: () => current },
    show: {
      value: ({ from, to, ids }: WindowSpan): void => {
        const { from: _from, to: _to, ids: _ids, ...rest } = query
        asked = {
          ...rest,
          ...(from !== undefined && { from }),
          ...(to !== undefined && { to }),
          ...(ids !== undefined && { ids }),
        }
        refresh()
      },
    },
  }) as unknown as RowWindow
}

/**
 * Reads what a window shows.
 *
 * @param table - null when it is gone
 * @param former - what it showed before: given back where nothing differs, and its rows where they are the same
 * @throws Refusal for a column that there is not when the window is opened, and for row numbers that are none
 */
export function readWindow(table: TableView | null, query: WindowQuery, former: WindowRows | null): WindowRows {
  const span = spanOf(query)
  const columns = table === null || table.isGone ? null : columnsOf(table, query)
  if (table === null || columns === null) {
    // What was never there is refused with the nearest name; what was there is gone.
    if (former === null) for (const name of query.columns ?? []) table?.column(name)
    if (former?.isGone === true) return former
    return { table: former?.table ?? query.table, columns: query.columns ?? [], rowCount: 0, rows: [], isGone: true }
  }
  const { name, rowCount } = table
  const names = columns.map((column) => column.name)
  const known = new Map(former?.rows.map((row) => [row.id, row]))
  const rows: WindowRow[] = []
  for (const view of rowsShown(table, query.ids, span, rowCount)) {
    const row = { id: view.id, number: view.number, values: columns.map((column) => column.value(view.id) ?? null) }
    const before = known.get(row.id)
    rows.push(before !== undefined && isSameRow(before, row) ? before : row)
  }
  const isSame =
    former !== null &&
    !former.isGone &&
    former.table === name &&
    former.rowCount === rowCount &&
    isSameList(former.columns, names) &&
    isSameList(former.rows, rows)
  return isSame ? former : { table: name, columns: names, rowCount, rows, isGone: false }
}

interface Span {
  readonly from: number
  readonly to: number
}

function spanOf({ from = 1, to = Number.POSITIVE_INFINITY }: WindowSpan): Span {
  const isNumber = (number: number): boolean => number === Number.POSITIVE_INFINITY || Number.isInteger(number)
  if (isNumber(from) && from >= 1 && isNumber(to)) return { from, to }
  const reason = `expected row numbers from 1, received ${from} to ${to}.`
  throw refusal('bad-operation', { place: 'a window', reason })
}

function* rowsShown(
  table: TableView,
  ids: readonly number[] | undefined,
  { from, to }: Span,
  rowCount: number,
): Generator<RowView> {
  if (ids !== undefined) for (const id of ids) yield* [table.row(id) ?? []].flat()
  else
    for (let number = from; number < Math.min(to, rowCount + 1); number++)
      yield table.row(table.idAt(number) as number) as RowView
}

function columnsOf(table: TableView, { columns }: WindowQuery): TableView['columns'] | null {
  const all = table.columns
  if (columns === undefined) return all.filter((column) => column.properties.hidden !== true)
  const found = columns.flatMap((name) => all.find((column) => foldName(column.name) === foldName(name)) ?? [])
  return found.length === columns.length ? found : null
}

function isSameRow(one: WindowRow, other: WindowRow): boolean {
  return one.number === other.number && one.values.length === other.values.length && one.values.every(isSameAt(other.values))
}

/** Compares by what is shown: errors of one code are the same. */
const isSameAt =
  (values: readonly ShownValue[]) =>
  (value: ShownValue, at: number): boolean => {
    const other = values[at] as ShownValue
    if (typeof value === 'object' && typeof other === 'object' && value !== null && other !== null)
      return value.code === other.code && value.text === other.text
    return Object.is(value, other)
  }

function isSameList<Item>(one: readonly Item[], other: readonly Item[]): boolean {
  return one.length === other.length && one.every((item, at) => item === other[at])
}
