import type { OrderKey } from 'mellow-abacus'
import type { Ending } from './changes.js'
import type { SessionCells } from './values.js'

/** Rows below each other, as a table with a parent column has them. */
export interface WindowOutline {
  /** Rows of how many levels are shown; all when left out. */
  readonly levels?: number
  /** Ids of rows that are the other way round: folded where others of their level are open, and open where they are folded. */
  readonly turned?: readonly number[]
}

/** Which rows of a table are shown, and in what order. */
export interface RowsToShow {
  readonly table: string
  /** Rows where this is true; all when left out. */
  readonly where?: string
  /** As of a query; in row order when left out. With an outline it is the order of siblings. */
  readonly order?: readonly OrderKey[] | string
  /** Rows stand below their parents, in a table that has a parent column; as they come when left out. */
  readonly outline?: WindowOutline
}

/** Which part of a table a window shows: rows by a condition, in an order, by their places in it. */
export interface WindowRequest extends RowsToShow {
  /** Names, in the order wanted; all that are not hidden when left out. */
  readonly columns?: readonly string[]
  /** The place of the first row, from 1; 1 when left out. */
  readonly from?: number
  /** The place behind that of the last row, at most 10 000 further; 200 further when left out. */
  readonly to?: number
}

/** The part of a request that says which rows of the result are shown. */
export type WindowSpan = Pick<WindowRequest, 'from' | 'to'>

/** Where a row stands in an outline. */
export interface RowStand {
  /** How deep, from 0. */
  readonly depth: number
  /** How many rows are below it, at any depth. */
  readonly below: number
  /** True where these are not shown. */
  readonly isFolded: boolean
}

/** A row of a window: the same object as long as nothing of it changes, so that a page draws it once. */
export interface WindowRow {
  readonly id: number
  /** Its place in the result, from 1. */
  readonly place: number
  readonly cells: SessionCells
  /** Where it stands in the outline, in a window that shows one. */
  readonly stand?: RowStand
}

/** What a window shows: the same object as long as nothing changes. */
export interface WindowShown {
  /** Of the state that it shows. */
  readonly revision: number
  readonly columns: readonly string[]
  /** Rows that the condition keeps. */
  readonly count: number
  readonly rows: readonly WindowRow[]
  /** True when the table, or a column that was asked for by name, is no more. */
  readonly isGone: boolean
}

/**
 * What has become of a window: columns and ids only where they are others, rows only where something of them is. Of a row that was
 * there before, with the same columns, the cells that are others are enough.
 */
export interface WindowNews {
  readonly revision: number
  readonly count: number
  /** Place of the first row. */
  readonly from: number
  readonly columns?: readonly string[]
  /** Ids of the rows in their order. */
  readonly ids?: readonly number[]
  /** Where these rows stand in the outline, one for each; null where there is no outline any more. */
  readonly stands?: readonly RowStand[] | null
  /** Rows that came in, with all their cells, and those of which cells changed. */
  readonly rows: readonly { readonly id: number; readonly cells: SessionCells }[]
  readonly isGone: boolean
}

/** A window that follows every edit until it is ended. What it shows can be subscribed to, or waited for one after the other. */
export interface LiveWindow extends Ending, AsyncIterable<WindowShown> {
  /** What it shows now. */
  readonly current: WindowShown
  /** Calls a listener each time it shows something else, until the subscription is ended. */
  subscribe(listener: (shown: WindowShown) => void): Ending
  /** Shows other places from now on. */
  show(span: WindowSpan): Promise<void>
}

/** Places that a window shows when it does not say how many, and the most that one can. */
export const USUAL_ROWS = 200
/** As above. */
export const MOST_WINDOW_ROWS = 10_000

/** Rows at the places where they were, some with other cells. */
function withCells(rows: readonly WindowRow[], fresh: WindowNews['rows']): readonly WindowRow[] {
  if (fresh.length === 0) return rows
  const now = [...rows]
  for (const { id, cells } of fresh) {
    const at = rows.findIndex((row) => row.id === id)
    const before = rows[at]
    if (before !== undefined) now[at] = { ...before, cells: { ...before.cells, ...cells } }
  }
  return now
}

/**
 * What has become of a window between two times: the news that make the one of the other.
 *
 * @param former - null to tell all that it shows
 * @param from - the place of its first row now
 */
export function newsBetween(former: WindowShown | null, shown: WindowShown, from: number): WindowNews {
  const { revision, count, isGone } = shown
  const known = new Map(former?.rows.map(({ id, cells }) => [id, cells]))
  const ids = shown.rows.map(({ id }) => id)
  const isSameIds = former !== null && ids.length === former.rows.length && ids.every((id, at) => id === former.rows[at]?.id)
  return {
    revision,
    count,
    from,
    ...(former?.columns !== shown.columns && { columns: shown.columns }),
    ...(!isSameIds && { ids }),
    ...(!isSameStands(former?.rows ?? [], shown.rows) && { stands: standsOf(shown.rows) }),
    rows: shown.rows.flatMap(({ id, cells }) => {
      const before = former?.columns === shown.columns ? known.get(id) : undefined
      return before === cells ? [] : [{ id, cells: before === undefined ? cells : otherCells(before, cells) }]
    }),
    isGone,
  }
}

/** The cells that are others than before. */
function otherCells(before: SessionCells, now: SessionCells): SessionCells {
  const isSame = (one: unknown, other: unknown): boolean =>
    one === other || (typeof one === 'object' && JSON.stringify(one) === JSON.stringify(other))
  return Object.fromEntries(Object.entries(now).filter(([name, value]) => !isSame(before[name], value)))
}

/** Where rows stand, one for each; null where they are in no outline. */
function standsOf(rows: readonly WindowRow[]): readonly RowStand[] | null {
  const stands = rows.flatMap(({ stand }) => (stand === undefined ? [] : [stand]))
  return stands.length === 0 ? null : stands
}

function isSameStands(former: readonly WindowRow[], rows: readonly WindowRow[]): boolean {
  return former.length === rows.length && rows.every(({ stand }, at) => isSameStand(stand, former[at]?.stand))
}

/** True where two rows stand the same in an outline, or both in none. */
export function isSameStand(one: RowStand | undefined, other: RowStand | undefined): boolean {
  return one?.depth === other?.depth && one?.below === other?.below && one?.isFolded === other?.isFolded
}

/** What a window shows after some news of it. */
export function afterNews(former: WindowShown | null, news: WindowNews): WindowShown {
  const { revision, count, from, isGone, stands } = news
  const isSameRows = news.ids === undefined && news.columns === undefined && stands === undefined
  if (former !== null && isSameRows && former.rows[0]?.place === from)
    return { ...former, revision, count, isGone, rows: withCells(former.rows, news.rows) }
  const fresh = new Map(news.rows.map((row) => [row.id, row.cells]))
  const known = new Map(former?.rows.map((row) => [row.id, row]))
  const isWhole = news.columns !== undefined
  const ids = news.ids ?? former?.rows.map((row) => row.id) ?? []
  const rows = ids.flatMap((id, at): WindowRow[] => {
    const before = known.get(id)
    const given = fresh.get(id)
    const cells =
      given === undefined || before === undefined || isWhole ? (given ?? before?.cells) : { ...before.cells, ...given }
    if (cells === undefined) return []
    const place = from + at
    const stand = stands === undefined ? before?.stand : stands?.[at]
    const isSame = before?.cells === cells && before.place === place && isSameStand(before.stand, stand)
    return [isSame ? before : { id, place, cells, ...(stand !== undefined && { stand }) }]
  })
  return { revision, columns: news.columns ?? former?.columns ?? [], count, rows, isGone }
}
