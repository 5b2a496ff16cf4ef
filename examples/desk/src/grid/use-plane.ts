import { useWindow } from '@mellow-abacus/react'
import type { ColumnFacts, RowsToShow, TableFacts, WindowRow } from '@mellow-abacus/session'
import { useVirtualizer, type Virtualizer } from '@tanstack/react-virtual'
import { type RefObject, useEffect, useMemo, useState } from 'react'
import { useBookState, useDeskBook } from '../book/use-book'
import type { Ghost } from '../formula/ghost'
import { useCalm } from './beam'
import type { TableLook } from './grid-calls'
import { useBefore, useSample } from './kept'
import { clampWidth, type Heights, type LaidOut, laidOut, NUMBER_WIDTH, ROW_HEIGHT, startsOf } from './layout'
import type { Line, Lines } from './lines'
import type { Total } from './totals'
import { totalsWanted, useGroups, useLines } from './use-groups'

/** Rows that are had beyond those in sight, so that scrolling finds them. */
const AHEAD = 60
/** Columns that are had whole; of wider tables those in sight, and some beside them. */
const MOST_WHOLE = 60
const COLUMNS_AHEAD = 12
/** Rows by which what is had moves on at once. */
const LOT = 40

/** The part of a table that is in hand, and the part of that which is drawn. */
export interface Plane {
  /** Which rows are shown: groups have a part in their condition and in their order. */
  readonly shown: RowsToShow
  readonly fault: string | null
  /** Names of the columns whose cells are in hand. */
  readonly had: readonly string[]
  /** The rows in hand, of how many there are; the lines that all of them stand in. */
  readonly rows: readonly WindowRow[]
  readonly count: number
  readonly lines: Lines
  /** True as soon as it is known which rows there are. */
  readonly isKnown: boolean
  /** The columns as they are laid out, with that of a draft and without it. */
  readonly columns: readonly LaidOut[]
  readonly laid: readonly LaidOut[]
  readonly starts: readonly number[]
  /** Pixels that stay in sight at the left. */
  readonly edge: number
  readonly down: Virtualizer<HTMLDivElement, Element>
  readonly across: Virtualizer<HTMLDivElement, Element>
  /** The lines that are drawn. */
  readonly drawn: readonly { readonly index: number; readonly line: Line }[]
  /** Places of the first and the last row among them. */
  readonly firstRow: number
  readonly lastRow: number
  /** Places of the first column that is drawn besides the pinned ones, and of the one behind the last. */
  readonly from: number
  readonly to: number
  /** The revision since which nothing was done for a moment. */
  readonly calm: number
}

/** Has what is in sight of a table, and a little more on each side, so that scrolling finds it. */
export function usePlane({
  table,
  look,
  visible,
  names,
  pinned,
  widths,
  ghost,
  heights,
  totalOf,
  scroller,
}: {
  readonly table: TableFacts
  readonly look: TableLook
  /** The columns that are shown, in order, and their names; how many of the first ones stay in sight. */
  readonly visible: readonly ColumnFacts[]
  readonly names: readonly string[]
  readonly pinned: number
  readonly widths: Readonly<Record<string, number>>
  readonly ghost: Ghost | null
  readonly heights: Heights
  readonly totalOf: (one: LaidOut) => Total
  readonly scroller: RefObject<HTMLDivElement | null>
}): Plane {
  const { session } = useDeskBook()
  const { revision } = useBookState()
  const [span, setSpan] = useState({ from: 1, to: 1 + 2 * AHEAD })
  const [lot, setLot] = useState({ from: 0, to: MOST_WHOLE })
  const had = useMemo(() => columnsHad(names, pinned, lot), [names, pinned, lot])
  const calm = useCalm(revision)
  const [totalled, setTotalled] = useState(NO_TOTALS)
  const grouped = useGroups(table, look, totalled, calm)
  const { where, order } = grouped
  const outline = table.parent === null || look.group !== null ? null : look.outline
  const asked: RowsToShow = useMemo(
    () => ({
      table: table.name,
      ...(where !== '' && { where }),
      ...(order !== '' && { order }),
      ...(outline !== null && { outline }),
    }),
    [table.name, where, order, outline],
  )
  const window = useWindow(session, { ...asked, columns: had, ...span })
  const fault = window.fault?.message ?? grouped.fault
  const shown = useBefore(window.shown, `${where} ${order}`)
  const rows = shown?.rows ?? NO_ROWS
  const count = shown?.count ?? (where === '' ? table.rows : 0)
  const lines = useLines(grouped.groups, count)
  const sample = useSample(table.name, rows)
  const isOutlined = outline !== null
  const laid = useMemo(() => laidOut(visible, sample, widths, isOutlined), [visible, sample, widths, isOutlined])
  const ghostColumn = useGhostColumn(ghost)
  const columns = useMemo(() => withGhost(laid, ghostColumn), [laid, ghostColumn])
  const starts = useMemo(() => startsOf(columns), [columns])
  const edge = NUMBER_WIDTH + (starts[pinned] as number)

  const down = useVirtualizer({
    count: lines.count,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 6,
    scrollPaddingEnd: heights.head + heights.beam,
  })
  const across = useVirtualizer({
    horizontal: true,
    count: columns.length - pinned,
    getScrollElement: () => scroller.current,
    estimateSize: (place) => columns[place + pinned]?.width ?? 100,
    overscan: 2,
    scrollPaddingEnd: edge,
  })
  // biome-ignore lint/correctness/useExhaustiveDependencies: it measures again when widths are others.
  useEffect(() => across.measure(), [columns, across])
  const items = down.getVirtualItems()
  const cells = across.getVirtualItems()
  const [from, to] = [pinned + (cells[0]?.index ?? 0), pinned + (cells.at(-1)?.index ?? -1) + 1]
  const drawn = items.map(({ index }) => ({ index, line: lines.lineAt(index) }))
  const places = drawn.flatMap(({ line }) => ('place' in line ? [line.place] : []))
  const [firstRow, lastRow] = [places[0] ?? 1, places.at(-1) ?? 1]
  useEffect(() => {
    const wanted = {
      from: Math.max(1, Math.floor((firstRow - AHEAD) / LOT) * LOT + 1),
      to: Math.ceil((lastRow + AHEAD) / LOT) * LOT + 1,
    }
    setSpan((before) => (before.from === wanted.from && before.to === wanted.to ? before : wanted))
  }, [firstRow, lastRow])
  useEffect(() => {
    const wanted = {
      from: Math.floor((from - COLUMNS_AHEAD) / COLUMNS_AHEAD) * COLUMNS_AHEAD,
      to: Math.ceil((to + COLUMNS_AHEAD) / COLUMNS_AHEAD) * COLUMNS_AHEAD,
    }
    setLot((before) => (before.from === wanted.from && before.to === wanted.to ? before : wanted))
  }, [from, to])

  // Groups have totals of the columns in sight, and of those that were in sight before.
  useEffect(() => {
    if (look.group === null) return
    const wanted = totalsWanted([...columns.slice(0, pinned), ...columns.slice(from, to)], totalOf)
    setTotalled((before) => {
      const fresh = wanted.filter((one) => !before.some(({ column, total }) => column === one.column && total === one.total))
      return fresh.length === 0
        ? before
        : [...before.filter(({ column }) => !fresh.some((one) => one.column === column)), ...fresh]
    })
  }, [look.group, columns, pinned, from, to, totalOf])

  return {
    ...{ shown: asked, fault, had, rows, count, lines, columns, laid, starts, edge, down, across, drawn },
    ...{ firstRow, lastRow, from, to, calm, isKnown: shown !== null },
  }
}

const NO_TOTALS: readonly { readonly column: string; readonly total: Total }[] = []
const NO_ROWS: readonly WindowRow[] = []

/** The columns that are had: all, or of a wide table those that stay in sight and those that are or soon will be. */
function columnsHad(names: readonly string[], pinned: number, { from, to }: { from: number; to: number }): readonly string[] {
  if (names.length <= MOST_WHOLE) return names
  return names.filter((_, place) => place < pinned || (place >= from && place < to))
}

/** The column of a draft as it is laid out; the same object while only its values are others. */
function useGhostColumn(ghost: Ghost | null): (LaidOut & { readonly after: string | null }) | null {
  const key = ghost === null ? null : JSON.stringify([ghost.column, ghost.look, ghost.after])
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says what it is made of.
  return useMemo(() => {
    if (ghost === null) return null
    const { column, look, after } = ghost
    return { column, look, width: clampWidth(String(column.properties.heading).length * 7.6 + 60), after }
  }, [key])
}

/** The columns with that of the draft beside the one that it comes after. */
function withGhost(columns: LaidOut[], made: ReturnType<typeof useGhostColumn>): LaidOut[] {
  if (made === null) return columns
  const place = columns.findIndex((one) => one.column.name === made.after)
  return place < 0 ? [...columns, made] : [...columns.slice(0, place + 1), made, ...columns.slice(place + 1)]
}
