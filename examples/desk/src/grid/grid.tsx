import { useWindow } from '@mellow-abacus/react'
import type { ColumnFacts, SessionCells, TableFacts, WindowRow } from '@mellow-abacus/session'
import { useVirtualizer } from '@tanstack/react-virtual'
import type { Operation } from 'mellow-abacus'
import { printName } from 'mellow-abacus/display'
import { type ClipboardEvent, type KeyboardEvent, type ReactNode, useEffect, useMemo, useRef, useState } from 'react'
import { shownColumns } from '../book/desk-book'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { GHOST, type Ghost } from '../formula/ghost'
import { useTogether } from '../together/use-together'
import { Beam } from './beam'
import type { Leaving } from './cell-input'
import { copyCells, pasteCells } from './clipboard'
import { columnActions } from './column-actions'
import { ColumnMenu } from './column-menu'
import type { GridCalls, TableLook } from './grid-calls'
import { type Editing, GridRow, type RowActions } from './grid-row'
import { useBefore, useLatest, useSample } from './kept'
import {
  clampWidth,
  type LaidOut,
  laidOut,
  NUMBER_WIDTH,
  ROW_HEIGHT,
  startsOf,
  storedWidths,
  storeWidths,
  useHeights,
} from './layout'
import { useLinkString } from './link-string'
import { type GridPlace, moved } from './moves'
import { Pegs } from './pegs'
import { rangeOf, samePair } from './ranges'
import { type Mark, RodHead } from './rod-head'
import { type Reach, type Thread, threadsOf } from './threads'
import { startText, typedValue } from './typed-value'

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
  /** A cell to go to, each time it is another object. */
  travel: { readonly column: string; readonly row?: number; readonly place?: number } | null
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
  const visible = useMemo(() => labelFirst(table), [table])
  const names = useMemo(() => visible.map(({ name }) => name), [visible])
  const pinned = visible[0] !== undefined && visible[0].name === table.label ? 1 : 0
  const [current, setAt] = useState<GridPlace>({ place: 1, column: 0 })
  // A column that went may have been the last one.
  const at = useMemo(
    () => ({ ...current, column: clamp(current.column, 0, Math.max(0, visible.length + (ghost === null ? -1 : 0))) }),
    [current, visible, ghost],
  )
  const [anchor, setAnchor] = useState<GridPlace | null>(null)
  const [editing, setEditing] = useState<Editing | null>(null)
  const [menu, setMenu] = useState<{ readonly place: number; readonly anchor: HTMLElement } | null>(null)
  const [widths, setWidths] = useState(() => storedWidths(table.name))
  const [span, setSpan] = useState({ from: 1, to: 1 + 2 * AHEAD })
  const order = look.sorts.map(({ column, descending }) => `${printName(column)}${descending ? ' desc' : ''}`).join(', ')
  const [lot, setLot] = useState({ from: 0, to: MOST_WHOLE })
  const had = useMemo(() => columnsHad(names, pinned, lot), [names, pinned, lot])
  const window = useWindow(book.session, {
    table: table.name,
    columns: had,
    ...(look.where !== '' && { where: look.where }),
    ...(order !== '' && { order }),
    ...span,
  })
  const { fault } = window
  const shown = useBefore(window.shown, `${look.where} ${order}`)
  const rows = shown?.rows ?? NO_ROWS
  const count = shown?.count ?? (look.where === '' ? table.rows : 0)
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
    count,
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
  const [firstRow, lastRow] = [(items[0]?.index ?? 0) + 1, (items.at(-1)?.index ?? 0) + 1]
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
    if (next.place > 0) down.scrollToIndex(next.place - 1)
    if (next.column >= pinned) across.scrollToIndex(next.column - pinned)
    book.hush()
  }
  const travelled = useRef<typeof travel>(null)
  useEffect(() => {
    if (travel === null || travel === travelled.current) return
    travelled.current = travel
    const column = names.indexOf(travel.column)
    if (column < 0) return
    const known = travel.row === undefined ? undefined : rows.find(({ id }) => id === travel.row)?.place
    const place = known ?? travel.place ?? at.place
    setAnchor(null)
    setAt({ place, column })
    if (place > 0) down.scrollToIndex(place - 1, { align: 'center' })
    if (column >= pinned) across.scrollToIndex(column - pinned, { align: 'center' })
    scroller.current?.focus()
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

  const beginEdit = (typed: string | null): void => {
    if (here === undefined || hereRow === undefined) return
    if (!book.may.enter) return book.say('refused', 'You are a reader of this workbook: you see all of it and change nothing.')
    if (here.name === GHOST)
      return book.say('refused', 'This column is a draft: its values come from the formula that is being written.')
    if (here.calculated || here.state === 'stamp') {
      const why = here.state === 'stamp' ? 'writes itself' : 'is calculated'
      return book.say(
        'refused',
        `${here.name} ${why}, so a cell of it cannot be typed over. ${here.calculated ? 'Edit its formula, or pause it to type values by hand.' : ''}`,
      )
    }
    const choices = (here.properties.choices ?? []) as readonly string[]
    const start = startText(hereRow.cells[here.name])
    setEditing({ ...at, typed, start, choices: here.type === 'boolean' ? ['true', 'false'] : choices })
  }
  const keep = (text: string, leaving: Leaving): void => {
    const edited = editing
    setEditing(null)
    scroller.current?.focus()
    const column = edited === null ? undefined : columns[edited.column]?.column
    const row = edited === null ? undefined : rowAt(edited.place)
    if (edited === null || column === undefined || row === undefined) return
    const [dy, dx] = STEPS[leaving]
    if (leaving !== 'stay')
      goTo({ place: clamp(edited.place + dy, 1, count), column: clamp(edited.column + dx, 0, columns.length - 1) })
    if (text === edited.start && edited.typed === null) return
    const typed = typedValue(text, column)
    if ('refused' in typed) return book.say('refused', typed.refused)
    const cell = { row: row.id, column: column.name, value: typed.value }
    void book.apply({ op: 'set-cells', table: table.name, cells: [cell] }, `${column.name} of row ${row.place} set`)
  }
  const actions = useLatest<RowActions>({
    press: (place, column, isRange) => {
      goTo({ place, column }, isRange)
      if (!isRange) setAnchor({ place, column })
      scroller.current?.focus()
    },
    drag: (place, column) => {
      if (anchor !== null) setAt({ place, column })
    },
    edit: () => beginEdit(null),
    keep,
    giveUp: () => {
      setEditing(null)
      scroller.current?.focus()
    },
  })

  const range = rangeOf(at, anchor)
  const rangeRows = (): WindowRow[] => rows.filter(({ place }) => place >= range.top && place <= range.bottom)
  const rangeColumns = (): ColumnFacts[] =>
    columns.slice(range.left, range.right + 1).flatMap(({ column }) => (column.name === GHOST ? [] : [column]))
  const setRange = (fresh: (row: WindowRow, column: ColumnFacts) => unknown, done: string): void => {
    const open = rangeColumns().filter((column) => !column.calculated)
    const made = rangeRows().flatMap((row) =>
      open.map((column) => ({ row: row.id, column: column.name, value: fresh(row, column) })),
    )
    if (made.length === 0) return book.say('refused', 'These cells are calculated, so they cannot be typed over.')
    void book.apply({ op: 'set-cells', table: table.name, cells: made } as Operation, done)
  }
  const clipped = { book, table: table.name, where: look.where, order, had, range, rows, columns: rangeColumns() }
  const copy = (event: ClipboardEvent): void => {
    if (editing !== null || at.place === 0) return
    event.preventDefault()
    void copyCells(event.clipboardData, clipped)
  }
  const paste = (event: ClipboardEvent): void => {
    if (editing !== null || at.place === 0) return
    event.preventDefault()
    void pasteCells(event.clipboardData, { ...clipped, columns: columns.slice(range.left).map(({ column }) => column) })
  }
  const onKeyDown = (event: KeyboardEvent): void => {
    if (isOwnControl(event.target)) return
    const isSorting = event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')
    if (isSorting && here !== undefined) {
      calls.look({ ...look, sorts: [{ column: here.name, descending: event.key === 'ArrowDown' }] })
      return event.preventDefault()
    }
    if (event.altKey) return
    const page = Math.max(1, Math.floor(((scroller.current?.clientHeight ?? 400) - heights.head - heights.beam) / ROW_HEIGHT) - 1)
    const next = moved(at, event, { rows: count, columns: columns.length, page })
    const isCommand = event.ctrlKey || event.metaKey
    if (next !== null) goTo(next, event.shiftKey && next.place > 0)
    else if (at.place === 0 && event.key === 'Enter') openMenu(at.column)
    else if (event.key === 'Enter' || event.key === 'F2') beginEdit(null)
    else if (event.key === 'Tab' && at.place > 0) {
      // Out of the grid at its ends, as anywhere on a page.
      const column = at.column + (event.shiftKey ? -1 : 1)
      if (column < 0 || column >= columns.length) return
      goTo({ ...at, column })
    } else if (event.key === 'Delete' || event.key === 'Backspace') setRange(() => null, 'Made blank')
    else if (event.key === 'Escape') setAnchor(null)
    else if (isCommand && event.key.toLowerCase() === 'd' && range.bottom > range.top) {
      const first = rowAt(range.top)
      // What is out of sight in a wide table is not at hand, and would be filled with nothing.
      if (!rangeColumns().every(({ name }) => had.includes(name)))
        return book.say('refused', 'These are more columns than can be filled down at once. Fill down some of them.')
      setRange((_, column) => storedValue(first?.cells[column.name]), 'Filled down')
    } else if (isCommand && event.key.toLowerCase() === 'a') {
      setAnchor({ place: 1, column: 0 })
      setAt({ place: count, column: columns.length - 1 })
    } else if (!isCommand && event.key.length === 1 && at.place > 0) beginEdit(event.key)
    else return
    event.preventDefault()
  }
  const pick = (column: number): void => {
    goTo({ place: Math.max(at.place, Math.min(1, count)), column })
    scroller.current?.focus()
  }
  const linking = useLinkString({ book, table, onPick: pick })
  const openMenu = (place: number): void => {
    const heading = document.getElementById(`cell-0-${place}`)
    if (heading !== null && columns[place]?.column.name !== GHOST) setMenu({ place, anchor: heading })
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
          scroller.current?.focus()
        }}
        onCopy={copy}
        onPaste={paste}
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
            storeWidths(table.name, next)
          }}
        />
        <div className="grid-body" role="rowgroup" style={{ height: down.getTotalSize(), width: edge + across.getTotalSize() }}>
          {items.map(({ index }) => {
            const row = rowAt(index + 1)
            if (row === undefined) return null
            const isIn = row.place >= range.top && row.place <= range.bottom && anchor !== null
            return (
              <GridRow
                key={row.id}
                {...{ row, columns, pinned, from, to, starts, actions, by }}
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
            {...{ table, columns, pinned, from, to, starts, revision, heights }}
            where={fault === null ? look.where : ''}
            shown={count}
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
      {fault !== null && <p className="grid-fault">{fault.message}</p>}
      {fault === null && shown !== null && count === 0 && (
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
          mayDefine={book.may.define}
          actions={columnActions(menuColumn, { book, table, look, calls })}
          onClose={() => {
            setMenu(null)
            scroller.current?.focus()
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
const STEPS: Readonly<Record<Leaving, readonly [number, number]>> = {
  down: [1, 0],
  up: [-1, 0],
  right: [0, 1],
  left: [0, -1],
  stay: [0, 0],
}

const clamp = (value: number, least: number, most: number): number => Math.max(least, Math.min(most, value))

/** A value of a cell as an operation takes it. */
function storedValue(value: SessionCells[string] | undefined): unknown {
  return typeof value === 'object' && value !== null && 'error' in value ? null : (value ?? null)
}

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

/** The columns that are shown, that which names the rows first. */
function labelFirst(table: TableFacts): ColumnFacts[] {
  const shown = shownColumns(table)
  const label = shown.find(({ name }) => name === table.label)
  return label === undefined ? shown : [label, ...shown.filter((column) => column !== label)]
}
