import { useWindow } from '@mellow-abacus/react'
import type { ColumnFacts, TableFacts, WindowRow } from '@mellow-abacus/session'
import { useVirtualizer } from '@tanstack/react-virtual'
import { printName } from 'mellow-abacus/display'
import { type KeyboardEvent, type MouseEvent, type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { shownColumns } from '../book/desk-book'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { GHOST, type Ghost } from '../formula/ghost'
import { useTogether } from '../together/use-together'
import { Beam, useCalm } from './beam'
import { columnActions } from './column-actions'
import { ColumnMenu } from './column-menu'
import type { GridCalls, TableLook } from './grid-calls'
import { GridRow, type RowActions } from './grid-row'
import { GroupLine } from './group-line'
import { useBefore, useLatest, useSample } from './kept'
import { clampWidth, type LaidOut, laidOut, NUMBER_WIDTH, ROW_HEIGHT, startsOf, useHeights } from './layout'
import { useLinkString } from './link-string'
import { type GridPlace, moved } from './moves'
import { Pegs } from './pegs'
import { rangeOf, samePair } from './ranges'
import { remember, remembered } from './remembered'
import { type Mark, RodHead } from './rod-head'
import { RowMenu } from './row-menu'
import { rowWork } from './row-work'
import { type Reach, type Thread, threadsOf } from './threads'
import { type Total, usualTotal } from './totals'
import type { Sought, Travel } from './travel'
import { useEditing } from './use-editing'
import { totalsWanted, useGroups, useLines } from './use-groups'
import { useTravel } from './use-travel'

/** Rows that are had beyond those in sight, so that scrolling finds them. */
const AHEAD = 60
/** Columns that are had whole; of wider tables those in sight, and some beside them. */
const MOST_WHOLE = 60
const COLUMNS_AHEAD = 12
/** Rows by which what is had moves on at once. */
const LOT = 40

/** The rows of a table, drawn only where they are seen: the rod above them, the beam below. Works from the keyboard. */
export function Grid({
  table,
  look,
  picked,
  reach,
  travel,
  isDrafting,
  ghost,
  calls,
  children,
}: {
  table: TableFacts
  look: TableLook
  picked: string | null
  reach: Reach
  /** Where to go, each time it is another object. */
  travel: Travel | null
  isDrafting: boolean
  /** The column that the draft would be; null where there is none to be told of. */
  ghost: Ghost | null
  calls: GridCalls
  /** What lies over the first rows: sample rows of a draft. */
  children?: ReactNode
}) {
  const book = useDeskBook()
  const { revision, findings, facts } = useBookState()
  const scroller = useRef<HTMLDivElement>(null)
  const [kept, setKept] = useState(() => remembered('pinned', table.name) ?? NO_NAMES)
  const visible = useMemo(() => inSightFirst(table, kept), [table, kept])
  const names = useMemo(() => visible.map(({ name }) => name), [visible])
  const pinned = visible.filter(({ name }) => name === table.label || kept.includes(name)).length
  const [current, setAt] = useState<GridPlace>({ place: 1, column: 0 })
  // A column that went may have been the last one.
  const at = useMemo(
    () => ({ ...current, column: clamp(current.column, 0, Math.max(0, visible.length + (ghost === null ? -1 : 0))) }),
    [current, visible, ghost],
  )
  const [anchor, setAnchor] = useState<GridPlace | null>(null)
  const [menu, setMenu] = useState<{ readonly place: number; readonly anchor: HTMLElement } | null>(null)
  const [rowMenu, setRowMenu] = useState<{ readonly x: number; readonly y: number } | null>(null)
  const [widths, setWidths] = useState(() => remembered('widths', table.name) ?? {})
  const [totals, setTotals] = useState<Readonly<Record<string, Total>>>({})
  const totalOf = useCallback(
    ({ column }: LaidOut): Total => (column.name === GHOST ? 'none' : (totals[column.name] ?? usualTotal(column))),
    [totals],
  )
  const [span, setSpan] = useState({ from: 1, to: 1 + 2 * AHEAD })
  const [lot, setLot] = useState({ from: 0, to: MOST_WHOLE })
  const had = useMemo(() => columnsHad(names, pinned, lot), [names, pinned, lot])
  const calm = useCalm(revision)
  const [totalled, setTotalled] = useState(NO_TOTALS)
  const grouped = useGroups(table, look, totalled, calm)
  const { where, order } = grouped
  const window = useWindow(book.session, {
    table: table.name,
    columns: had,
    ...(where !== '' && { where }),
    ...(order !== '' && { order }),
    ...span,
  })
  const fault = window.fault?.message ?? grouped.fault
  const shown = useBefore(window.shown, `${where} ${order}`)
  const rows = shown?.rows ?? NO_ROWS
  const count = shown?.count ?? (where === '' ? table.rows : 0)
  const lines = useLines(grouped.groups, count)
  const sample = useSample(table.name, rows)
  const laid = useMemo(() => laidOut(visible, sample, widths), [visible, sample, widths])
  const ghostColumn = useGhostColumn(ghost)
  const columns = useMemo(() => withGhost(laid, ghostColumn), [laid, ghostColumn])
  const ids = useMemo(() => rows.map(({ id }) => id).join(), [rows])
  const tellIds = useRef(calls.inSight)
  tellIds.current = calls.inSight
  useEffect(() => {
    if (isDrafting) tellIds.current(ids === '' ? [] : ids.split(',').map(Number))
  }, [isDrafting, ids])
  const starts = useMemo(() => startsOf(columns), [columns])
  const edge = NUMBER_WIDTH + (starts[pinned] as number)
  const heights = useHeights()

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

  const rowAt = (place: number): WindowRow | undefined => rows[place - (rows[0]?.place ?? 1)]
  const here = columns[at.column]?.column
  const hereRow = at.place > 0 ? rowAt(at.place) : undefined
  const isDrawn =
    (at.place === 0 || (hereRow !== undefined && at.place >= firstRow && at.place <= lastRow)) &&
    (at.column < pinned || (at.column >= from && at.column < to))
  const latest = useRef({ calls })
  latest.current = { calls }
  useEffect(() => {
    latest.current.calls.at({ column: here?.name ?? null, row: hereRow?.id ?? null, place: at.place })
  }, [here?.name, hereRow?.id, at.place])

  const goTo = (next: GridPlace, isRange = false): void => {
    setAnchor(isRange ? (anchor ?? at) : null)
    setAt(next)
    if (next.place > 0) down.scrollToIndex(lines.indexOf(next.place))
    if (next.column >= pinned) across.scrollToIndex(next.column - pinned)
    book.hush()
  }
  const focus = (): void => scroller.current?.focus()
  useTravel(travel, {
    ...{ book, names },
    shown: { table: table.name, where, order },
    behind: at.place,
    go: (place, column) => {
      setAnchor(null)
      setAt({ place, column })
      if (place > 0) down.scrollToIndex(lines.indexOf(place), { align: 'center' })
      if (column >= pinned) across.scrollToIndex(column - pinned, { align: 'center' })
      focus()
    },
    showAll: () => calls.look({ ...look, where: '', group: null }),
  })

  const trace = useAnswer(picked === null ? null : `${table.name} ${picked} ${facts.revision}`, () =>
    book.session.trace(`${printName(table.name)}.${printName(picked ?? '')}`),
  )
  const threads = useMemo(() => {
    if (trace.answer === null) return []
    const byAddress = new Map(names.map((name) => [`${printName(table.name)}.${printName(name)}`, name]))
    return threadsOf(trace.answer, byAddress, reach)
  }, [trace.answer, names, table.name, reach])
  const ghostThreads = useMemo(() => (ghost?.sources ?? []).map((from): Thread => ({ from, to: GHOST, kind: 'source' })), [ghost])
  const { visitors, waitingCells, by } = useTogether(table.name)
  const marks = useMemo(() => {
    const found = new Map<string, Mark>()
    for (const { table: of, column, severity } of findings) {
      if (of !== table.name || column === undefined || severity === 'hint') continue
      if (found.get(column) !== 'error') found.set(column, severity)
    }
    return found
  }, [findings, table.name])

  const range = rangeOf(at, anchor)
  const { editing, ...edit } = useEditing({
    ...{ book, table, had, columns, rows, count, at, range, goTo, focus },
    shown: { where, order },
  })
  const actions = useLatest<RowActions>({
    press: (place, column, isRange) => {
      goTo({ place, column }, isRange)
      if (!isRange) setAnchor({ place, column })
      scroller.current?.focus()
    },
    pressRow: (place, isRange) => {
      goTo({ place, column: 0 }, isRange)
      setAnchor({ place: isRange ? (anchor?.place ?? at.place) : place, column: columns.length - 1 })
      focus()
    },
    drag: (place, column) => {
      if (anchor !== null) setAt({ place, column })
    },
    edit: () => edit.begin(null),
    keep: edit.keep,
    giveUp: edit.giveUp,
  })
  const work = rowWork({
    ...{ book, rows, all: count, top: range.top, bottom: range.bottom },
    table: table.name,
    isSorted: order !== '',
    go: (place, many) => {
      setAnchor(many > 1 ? { place: place + many - 1, column: at.column } : null)
      setAt({ place, column: at.column })
      down.scrollToIndex(lines.indexOf(place))
    },
  })
  const fold = (key: string | null): void => {
    if (look.group === null) return
    const { folded } = look.group
    const next = key === null ? [] : folded.includes(key) ? folded.filter((one) => one !== key) : [...folded, key]
    calls.look({ ...look, group: { ...look.group, folded: next } })
    setAnchor(null)
  }
  const onAltKey = (event: KeyboardEvent): void => {
    const isUp = event.key === 'ArrowUp'
    const own = lines.groupAt(at.place)
    if (isUp || event.key === 'ArrowDown') {
      if (event.shiftKey) work.move(isUp)
      else if (here !== undefined) calls.look({ ...look, sorts: [{ column: here.name, descending: !isUp }] })
    } else if (event.key === 'ArrowLeft' && own !== undefined) fold(JSON.stringify(own.key))
    else if (event.key === 'ArrowRight' && look.group !== null) fold(null)
    else return
    event.preventDefault()
  }
  const onKeyDown = (event: KeyboardEvent): void => {
    if (isOwnControl(event.target)) return
    if (event.altKey) return onAltKey(event)
    const page = Math.max(1, Math.floor(((scroller.current?.clientHeight ?? 400) - heights.head - heights.beam) / ROW_HEIGHT) - 1)
    const next = moved(at, event, { rows: count, columns: columns.length, page })
    const isCommand = event.ctrlKey || event.metaKey
    if (next !== null) goTo(next, event.shiftKey && next.place > 0)
    else if (at.place === 0 && event.key === 'Enter') openMenu(at.column)
    else if (event.key === 'Enter' || event.key === 'F2') edit.begin(null)
    else if (event.key === 'Tab' && at.place > 0) {
      // Out of the grid at its ends, as anywhere on a page.
      const column = at.column + (event.shiftKey ? -1 : 1)
      if (column < 0 || column >= columns.length) return
      goTo({ ...at, column })
    } else if (event.key === 'Delete' || event.key === 'Backspace') edit.blank()
    else if (event.key === 'Escape') setAnchor(null)
    else if (isCommand && event.key.toLowerCase() === 'd') edit.fillDown()
    else if (isCommand && event.key.toLowerCase() === 'a') {
      setAnchor({ place: 1, column: 0 })
      setAt({ place: count, column: columns.length - 1 })
    } else if (!isCommand && event.key.length === 1 && at.place > 0) edit.begin(event.key)
    else return
    event.preventDefault()
  }
  const pick = (column: number): void => {
    goTo({ place: Math.max(at.place, Math.min(1, count)), column })
    focus()
  }
  const goIn = (column: string, to: Sought): void => calls.travel({ table: table.name, column, to })
  const keepInSight = (name: string): void => {
    const next = kept.includes(name) ? kept.filter((one) => one !== name) : [...kept, name]
    setKept(next)
    remember('pinned', table.name, next)
  }
  const groupLook = laid.find(({ column }) => column.name === look.group?.column)?.look ?? NO_LOOK
  const linking = useLinkString({ book, table, onPick: pick })
  const openMenu = (place: number): void => {
    const heading = document.getElementById(`cell-0-${place}`)
    if (heading !== null && columns[place]?.column.name !== GHOST) setMenu({ place, anchor: heading })
  }

  const openRowMenu = (event: MouseEvent): void => {
    if (event.defaultPrevented || isOwnControl(event.target)) return
    const cell = (event.target as Element).closest('[role=gridcell], [role=rowheader]')
    const place = Number(cell?.closest('.grid-row')?.getAttribute('aria-rowindex') ?? 0) - 1
    // Asked for by its key, it is about the current cell.
    const isByKey = event.target === scroller.current
    if (!isByKey && place < 1) return
    event.preventDefault()
    if (isByKey && at.place === 0) return openMenu(at.column)
    if (!isByKey && (place < range.top || place > range.bottom)) {
      const column = Number(cell?.getAttribute('aria-colindex') ?? at.column + 2) - 2
      goTo({ place, column: clamp(column, 0, columns.length - 1) })
    }
    const own = document.getElementById(`cell-${at.place}-${at.column}`)?.getBoundingClientRect()
    setRowMenu(isByKey && own !== undefined ? { x: own.left, y: own.bottom } : { x: event.clientX, y: event.clientY })
  }

  const seen = { scroll: across.scrollOffset ?? 0, width: (scroller.current?.clientWidth ?? 1_000) - NUMBER_WIDTH }
  const menuColumn = menu === null ? undefined : columns[menu.place]?.column
  return (
    <section className="grid" aria-label={`Rows of ${table.name}`}>
      <div
        className="grid-scroll"
        ref={scroller}
        role="grid"
        tabIndex={0}
        aria-label={table.name}
        aria-rowcount={count + 2}
        aria-colcount={columns.length + 1}
        aria-multiselectable="true"
        {...(isDrawn && { 'aria-activedescendant': `cell-${at.place}-${at.column}` })}
        onKeyDown={onKeyDown}
        // The grid itself has the focus, and says which of its cells is the current one.
        onMouseDown={(event) => {
          if (isOwnControl(event.target)) return
          event.preventDefault()
          focus()
        }}
        onContextMenu={openRowMenu}
        onCopy={edit.copy}
        onPaste={edit.paste}
      >
        <RodHead
          {...{ columns, pinned, from, to, starts, marks, heights }}
          picked={ghost === null ? picked : GHOST}
          threads={ghost === null ? threads : ghostThreads}
          here={at.place === 0 ? at.column : null}
          sorts={look.sorts}
          {...seen}
          onPick={pick}
          onGrip={linking.begin}
          onMenu={(place, of) => {
            if (columns[place]?.column.name === GHOST) return
            goTo({ ...at, column: place })
            setMenu({ place, anchor: of })
          }}
          onResize={(name, width) => {
            const next = { ...widths, [name]: clampWidth(width) }
            setWidths(next)
            remember('widths', table.name, next)
          }}
        />
        <div className="grid-body" role="rowgroup" style={{ height: down.getTotalSize(), width: edge + across.getTotalSize() }}>
          {drawn.map(({ index, line }) => {
            if ('group' in line)
              return (
                <GroupLine
                  key={`group ${JSON.stringify(line.group.key)}`}
                  {...{ index, columns, pinned, from, to, starts, totalOf }}
                  group={line.group}
                  look={groupLook}
                  onFold={() => fold(JSON.stringify(line.group.key))}
                />
              )
            const row = rowAt(line.place)
            if (row === undefined) return null
            const isIn = row.place >= range.top && row.place <= range.bottom && anchor !== null
            return (
              <GridRow
                key={row.id}
                {...{ row, index, columns, pinned, from, to, starts, actions, by }}
                ghost={ghost?.values.get(row.id)}
                visitors={visitors.get(row.id)}
                waiting={waitingCells.get(row.id)}
                here={at.place === row.place ? at.column : null}
                range={isIn ? samePair(range.left, range.right) : null}
                editing={editing?.place === row.place ? editing : null}
              />
            )
          })}
        </div>
        {columns.length > 0 && heights.beam > 0 && (
          <Beam
            {...{ table, columns, pinned, from, to, starts, calm, heights, totalOf }}
            where={fault === null ? look.where : ''}
            shown={count}
            onTotal={(name, total) => setTotals({ ...totals, [name]: total })}
          />
        )}
      </div>
      {heights.beam > 0 && (
        <Pegs
          {...{ threads, picked, columns, pinned, starts, ...seen }}
          onTravel={(name) => goTo({ ...at, column: names.indexOf(name) })}
        />
      )}
      {linking.string}
      {children}
      {fault !== null && <p className="grid-fault">{fault}</p>}
      {fault === null && shown !== null && lines.count === 0 && (
        <p className="grid-empty">
          {look.where === ''
            ? 'There is no row yet. Add one with the button below, or paste rows from elsewhere.'
            : `No row is as ${look.where} says.`}
        </p>
      )}
      {menu !== null && menuColumn !== undefined && (
        <ColumnMenu
          column={menuColumn}
          anchor={menu.anchor}
          isSorted={look.sorts.length > 0}
          isGrouped={look.group?.column === menuColumn.name}
          isKept={menuColumn.name === table.label ? null : kept.includes(menuColumn.name)}
          mayDefine={book.may.define}
          actions={columnActions(menuColumn, {
            book,
            table,
            look,
            calls,
            go: (to) => goIn(menuColumn.name, to),
            keep: keepInSight,
          })}
          onClose={() => {
            setMenu(null)
            focus()
          }}
        />
      )}
      {rowMenu !== null && (
        <RowMenu
          at={rowMenu}
          count={range.bottom - range.top + 1}
          mayEnter={book.may.enter}
          work={{ ...work, form: calls.form, why: calls.why }}
          onClose={() => {
            setRowMenu(null)
            focus()
          }}
        />
      )}
    </section>
  )
}

/** True for what has keys of its own inside the grid: fields and buttons. */
function isOwnControl(target: EventTarget): boolean {
  return target instanceof Element && target.closest('input, button, [role=menu]') !== null
}

const NO_ROWS: readonly WindowRow[] = []
const NO_NAMES: readonly string[] = []
const NO_TOTALS: readonly { readonly column: string; readonly total: Total }[] = []
const NO_LOOK = { type: null } as const

const clamp = (value: number, least: number, most: number): number => Math.max(least, Math.min(most, value))

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

/** The columns that are shown: first that which names the rows, then those that are kept in sight. */
function inSightFirst(table: TableFacts, kept: readonly string[]): ColumnFacts[] {
  const shown = shownColumns(table)
  const rankOf = ({ name }: ColumnFacts): number => (name === table.label ? 0 : kept.includes(name) ? 1 : 2)
  return shown.toSorted((a, b) => rankOf(a) - rankOf(b))
}
