import {
  isSameStand,
  MOST_WINDOW_ROWS,
  type RowStand,
  type SessionCells,
  type SessionValue,
  USUAL_ROWS,
  type WindowNews,
  type WindowRequest,
} from '@mellow-abacus/session'
import { finding, Refusal, type TableView, type WorkbookView } from 'mellow-abacus'
import { cellsOf } from '../answers/cells.js'
import type { FoundRows } from './found-rows.js'
import type { TouchedCells } from './touched-cells.js'

/** Gets what has become of a window. */
export type NewsListener = (news: WindowNews) => void

/**
 * A window as all have it who asked for the same and see the same: its rows are found, and its cells read, once for all of them,
 * and only where something was touched.
 */
export class WindowFeed {
  /** All the rows that it shows some of: those of other windows may be the same. */
  readonly rows: FoundRows
  readonly #view: WorkbookView
  readonly #request: WindowRequest
  readonly #from: number
  readonly #to: number
  readonly #listeners: Set<NewsListener> = new Set()
  #columns: readonly string[] = []
  #ids: readonly number[] = []
  #stands: readonly RowStand[] | null = null
  #cells: Map<number, SessionCells> = new Map()
  #count = 0
  #isGone = false

  /**
   * @param rows - all the rows that it shows some of
   * @throws Refusal for columns that there are not, and places that are none
   */
  constructor(view: WorkbookView, request: WindowRequest, rows: FoundRows) {
    this.#view = view
    this.#request = request
    this.rows = rows
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
    return { ...this.#news(), columns: this.#columns, ids: this.#ids, stands: this.#stands, rows }
  }

  /** Brings it up to date, and tells those who listen what is different. */
  refresh(touched: TouchedCells): void {
    const news = this.#refreshed(touched)
    if (news !== null) for (const listener of [...this.#listeners]) listener(news)
  }

  #refreshed(touched: TouchedCells): WindowNews | null {
    const { table: name } = this.#request
    const [columns, ids, stands, cells] = [this.#columns, this.#ids, this.#stands, this.#cells]
    const before = { columns, ids, stands, cells, count: this.#count, isGone: this.#isGone }
    const table = this.#view.tables.includes(name) ? this.#view.table(name) : null
    if (table === null) this.#empty()
    else if (touched.definitions || this.#isGone) this.#tryToReadAll(table, touched)
    else {
      this.rows.refresh(touched)
      this.#takePlaces()
      this.#readCells(table, touched)
    }
    const isSameColumns = isSameList(before.columns, this.#columns)
    const isSameIds = isSameList(before.ids, this.#ids)
    const rows = this.#ids.flatMap((id) => {
      const cells = this.#cells.get(id) as SessionCells
      return isSameColumns && before.cells.get(id) === cells ? [] : [{ id, cells }]
    })
    const isSameStands = before.stands === this.#stands || isSameStandsOf(before.stands, this.#stands)
    const isSameRows = isSameColumns && isSameIds && isSameStands && rows.length === 0
    if (isSameRows && before.count === this.#count && before.isGone === this.#isGone) return null
    return {
      ...this.#news(),
      ...(!isSameColumns && { columns: this.#columns }),
      ...(!isSameIds && { ids: this.#ids }),
      ...((!isSameIds || !isSameStands) && { stands: this.#stands }),
      rows,
    }
  }

  #news(): Omit<WindowNews, 'rows'> {
    return { revision: this.#view.revision, count: this.#count, from: this.#from, isGone: this.#isGone }
  }

  #empty(): void {
    this.#columns = []
    this.#ids = []
    this.#stands = null
    this.#cells = new Map()
    this.#count = 0
    this.#isGone = true
  }

  /** Reads all of it; where what it asks for is no more, it is gone. */
  #tryToReadAll(table: TableView, touched: TouchedCells): void {
    try {
      this.rows.refresh(touched)
      this.#readAll(table)
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      this.#empty()
    }
  }

  #readAll(table: TableView): void {
    const { columns } = this.#request
    const shown =
      columns === undefined
        ? table.columns.filter(({ properties }) => properties.hidden !== true)
        : columns.map((name) => table.column(name))
    this.#takePlaces()
    const former = this.#cells
    this.#columns = shown.map(({ name }) => name)
    this.#cells = new Map(this.#ids.map((id) => [id, sameOr(former.get(id), cellsOf(shown, id))]))
    this.#isGone = false
  }

  /** Takes the rows that stand at its places. */
  #takePlaces(): void {
    this.#count = this.rows.count
    this.#ids = this.rows.ids(this.#from, this.#to)
    this.#stands = this.rows.stands(this.#from, this.#to)
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

function isSameStandsOf(one: readonly RowStand[] | null, other: readonly RowStand[] | null): boolean {
  return one?.length === other?.length && (one ?? []).every((stand, at) => isSameStand(stand, other?.[at]))
}

function isSameList<Item>(one: readonly Item[], other: readonly Item[]): boolean {
  return one === other || (one.length === other.length && one.every((item, at) => item === other[at]))
}
