import {
  MOST_WINDOW_ROWS,
  type SessionCells,
  type SessionValue,
  USUAL_ROWS,
  type WindowNews,
  type WindowRequest,
} from '@mellow-abacus/session'
import { decidingColumns, finding, Refusal, type TableView, type WorkbookView } from 'mellow-abacus'
import { cellsOf } from '../answers/cells.js'
import type { TouchedCells } from './touched-cells.js'

/** Gets what has become of a window. */
export type NewsListener = (news: WindowNews) => void

/**
 * A window as all have it who asked for the same and see the same: its rows are found, and its cells read, once for all of them,
 * and only where something was touched.
 */
export class WindowFeed {
  readonly #view: WorkbookView
  readonly #request: WindowRequest
  readonly #from: number
  readonly #to: number
  readonly #listeners: Set<NewsListener> = new Set()
  #columns: readonly string[] = []
  #ids: readonly number[] = []
  #cells: Map<number, SessionCells> = new Map()
  #count = 0
  #isGone = false
  /** Columns that decide which rows there are and in what order; null where only rows that come and go do. */
  #deciding: readonly { readonly table: string; readonly column: string }[] | null = null

  /** @throws Refusal for what there is not, and places that are none */
  constructor(view: WorkbookView, request: WindowRequest) {
    this.#view = view
    this.#request = request
    const { from = 1, to = from + USUAL_ROWS } = request
    if (!Number.isInteger(from) || !Number.isInteger(to) || from < 1 || to < from || to - from > MOST_WINDOW_ROWS) {
      const reason = `expected places from 1, at most ${MOST_WINDOW_ROWS} of them, received ${from} to ${to}.`
      throw new Refusal([finding('bad-operation', { place: 'a window', reason })])
    }
    this.#from = from
    this.#to = to
    for (const name of request.columns ?? []) view.table(request.table).column(name)
    this.#readAll(view.table(request.table))
  }

  /** True while someone listens. */
  get isFollowed(): boolean {
    return this.#listeners.size > 0
  }

  /** Adds someone who listens, until the function given back is called. */
  add(listener: NewsListener): () => void {
    this.#listeners.add(listener)
    return () => void this.#listeners.delete(listener)
  }

  /** All that it shows, for someone who sees it first. */
  whole(): WindowNews {
    const rows = this.#ids.map((id) => ({ id, cells: this.#cells.get(id) as SessionCells }))
    return { ...this.#news(), columns: this.#columns, ids: this.#ids, rows }
  }

  /** Brings it up to date, and tells those who listen what is different. */
  refresh(touched: TouchedCells): void {
    const news = this.#refreshed(touched)
    if (news !== null) for (const listener of [...this.#listeners]) listener(news)
  }

  #refreshed(touched: TouchedCells): WindowNews | null {
    const { table: name } = this.#request
    const before = { columns: this.#columns, ids: this.#ids, cells: this.#cells, count: this.#count, isGone: this.#isGone }
    const table = this.#view.tables.includes(name) ? this.#view.table(name) : null
    if (table === null) this.#empty()
    else if (touched.definitions || this.#isGone) this.#tryToReadAll(table)
    else if (touched.hasRowsOf(name) || this.#deciding?.some((one) => touched.hasColumn(one)) === true) {
      this.#findRows(table)
      this.#readCells(table, touched)
    } else this.#readCells(table, touched)
    const isSameColumns = isSameList(before.columns, this.#columns)
    const isSameIds = isSameList(before.ids, this.#ids)
    const rows = this.#ids.flatMap((id) => {
      const cells = this.#cells.get(id) as SessionCells
      return isSameColumns && before.cells.get(id) === cells ? [] : [{ id, cells }]
    })
    const isSame =
      isSameColumns && isSameIds && rows.length === 0 && before.count === this.#count && before.isGone === this.#isGone
    if (isSame) return null
    return {
      ...this.#news(),
      ...(!isSameColumns && { columns: this.#columns }),
      ...(!isSameIds && { ids: this.#ids }),
      rows,
    }
  }

  #news(): Omit<WindowNews, 'rows'> {
    return { revision: this.#view.revision, count: this.#count, from: this.#from, isGone: this.#isGone }
  }

  #empty(): void {
    this.#columns = []
    this.#ids = []
    this.#cells = new Map()
    this.#count = 0
    this.#isGone = true
  }

  /** Reads all of it; where what it asks for is no more, it is gone. */
  #tryToReadAll(table: TableView): void {
    try {
      this.#readAll(table)
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      this.#empty()
    }
  }

  #readAll(table: TableView): void {
    const { where, order, columns } = this.#request
    const shown =
      columns === undefined
        ? table.columns.filter(({ properties }) => properties.hidden !== true)
        : columns.map((name) => table.column(name))
    this.#deciding = where === undefined && order === undefined ? null : decidingColumns(this.#view, this.#request)
    this.#findRows(table)
    const former = this.#cells
    this.#columns = shown.map(({ name }) => name)
    this.#cells = new Map(this.#ids.map((id) => [id, sameOr(former.get(id), cellsOf(shown, id))]))
    this.#isGone = false
  }

  /** Finds the rows that stand in the window. */
  #findRows(table: TableView): void {
    const { where, order } = this.#request
    if (where === undefined && order === undefined) {
      this.#count = table.rowCount
      const most = Math.max(0, Math.min(this.#to, this.#count + 1) - this.#from)
      this.#ids = Array.from({ length: most }, (_, at) => table.idAt(this.#from + at) as number)
      return
    }
    const asked = { table: this.#request.table, ...(where !== undefined && { where }), ...(order !== undefined && { order }) }
    const found = this.#view.query({ ...asked, columns: [], offset: this.#from - 1, limit: this.#to - this.#from })
    this.#count = found.matched
    this.#ids = found.ids()
  }

  /** Reads the cells that were touched, and rows that are new in the window. */
  #readCells(table: TableView, touched: TouchedCells): void {
    const { name } = table
    const columns = this.#columns.map((column) => table.column(column))
    const touchedColumns = columns.flatMap((column) => {
      const ids = touched.idsIn(name, column.name)
      return ids === undefined ? [] : [{ column, ids }]
    })
    const former = this.#cells
    this.#cells = new Map(
      this.#ids.map((id) => {
        const known = former.get(id)
        if (known === undefined) return [id, cellsOf(columns, id)]
        const again = touchedColumns.flatMap(({ column, ids }) => (ids === null || ids.has(id) ? [column] : []))
        return [id, again.length === 0 ? known : sameOr(known, { ...known, ...cellsOf(again, id) })]
      }),
    )
  }
}

/** The former cells where they are the same, so that it is seen at once that nothing is different. */
function sameOr(former: SessionCells | undefined, cells: SessionCells): SessionCells {
  if (former === undefined) return cells
  const names = Object.keys(cells)
  const isSame =
    names.length === Object.keys(former).length &&
    names.every((name) => Object.hasOwn(former, name) && isSameValue(former[name] as SessionValue, cells[name] as SessionValue))
  return isSame ? former : cells
}

function isSameValue(one: SessionValue, other: SessionValue): boolean {
  if (typeof one !== 'object' || one === null) return Object.is(one, other)
  return JSON.stringify(one) === JSON.stringify(other)
}

function isSameList<Item>(one: readonly Item[], other: readonly Item[]): boolean {
  return one === other || (one.length === other.length && one.every((item, at) => item === other[at]))
}
