import { refusal } from '../findings/index.js'
import type { Subscription } from './calls/index.js'
import type { ShownValue } from './model/index.js'
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
}

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
  show(rows: Pick<WindowQuery, 'from' | 'to'>): void
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
  const table = book.table(query.table)
  for (const name of query.columns ?? []) table.column(name)
  let span = spanOf(query)
  let current = look(table, query, span, null)
  const refresh = (): void => {
    const next = look(table, query, span, current)
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
      value: (rows: Pick<WindowQuery, 'from' | 'to'>): void => {
        span = spanOf(rows)
        refresh()
      },
    },
  }) as unknown as RowWindow
}

interface Span {
  readonly from: number
  readonly to: number
}

function spanOf({ from = 1, to = Number.POSITIVE_INFINITY }: Pick<WindowQuery, 'from' | 'to'>): Span {
  const isNumber = (number: number): boolean => number === Number.POSITIVE_INFINITY || Number.isInteger(number)
  if (isNumber(from) && from >= 1 && isNumber(to)) return { from, to }
  const reason = `expected row numbers from 1, received ${from} to ${to}.`
  throw refusal('bad-operation', { place: 'subscribe', reason })
}

/** What a window shows; the former object where nothing differs, and in it the former rows that are the same. */
function look(table: TableView, query: WindowQuery, { from, to }: Span, former: WindowRows | null): WindowRows {
  const columns = table.isGone ? null : columnsOf(table, query)
  if (columns === null) {
    if (former?.isGone === true) return former
    return { table: former?.table ?? query.table, columns: query.columns ?? [], rowCount: 0, rows: [], isGone: true }
  }
  const { name, rowCount } = table
  const names = columns.map((column) => column.name)
  const known = new Map(former?.rows.map((row) => [row.id, row]))
  const rows: WindowRow[] = []
  for (let number = from; number < Math.min(to, rowCount + 1); number++) {
    const id = table.idAt(number) as number
    const row = { id, number, values: columns.map((column) => column.value(id) ?? null) }
    const before = known.get(id)
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

function columnsOf(table: TableView, { columns }: WindowQuery): TableView['columns'] | null {
  const all = table.columns
  if (columns === undefined) return all.filter((column) => column.properties.hidden !== true)
  const found = columns.flatMap((name) => all.find((column) => column.name === name) ?? [])
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
