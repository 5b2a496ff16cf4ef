import type { ColumnFacts, TableFacts, WindowRow } from '@mellow-abacus/session'
import { type KeyboardEvent, type MouseEvent, type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { shownColumns } from '../book/desk-book'
import { useDeskBook } from '../book/use-book'
import { GHOST, type Ghost } from '../formula/ghost'
import { useTogether } from '../together/use-together'
import { Beam } from './beam'
import { columnActions } from './column-actions'
import { ColumnMenu } from './column-menu'
import { foldingOf } from './folding'
import type { GridCalls, TableLook } from './grid-calls'
import { GridRow, type RowActions } from './grid-row'
import { GroupLine } from './group-line'
import { useLatest } from './kept'
import { takeKey } from './keys'
import { clampWidth, type LaidOut, NUMBER_WIDTH, ROW_HEIGHT, useHeights } from './layout'
import { useLinkString } from './link-string'
import type { GridPlace } from './moves'
import { outlineWork } from './outline-work'
import { Pegs } from './pegs'
import { rangeOf, samePair } from './ranges'
import { remember, remembered } from './remembered'
import { RodHead } from './rod-head'
import { RowMenu } from './row-menu'
import { rowWork } from './row-work'
import { SelectionSum } from './selection-sum'
import type { Reach } from './threads'
import { type Total, usualTotal } from './totals'
import type { Sought, Travel } from './travel'
import { useEditing } from './use-editing'
import { useKeptInSight } from './use-kept-in-sight'
import { usePlane } from './use-plane'
import { useRowDrag } from './use-row-drag'
import { useThreads } from './use-threads'
import { useTravel } from './use-travel'

/** The rows of a table, drawn only where they are seen: the rod above them, the beam below. Works from the keyboard. */
export function Grid({
  table,
  look,
  picked,
  reach,
  travel,
  isDrafting,
  ghost,
  isBeside = false,
  calls,
  onWork,
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
  /** True where another table is shown above it, which has the threads. */
  isBeside?: boolean
  calls: GridCalls
  /** Called when something of it gets the focus. */
  onWork?: () => void
  /** What lies over the first rows: sample rows of a draft. */
  children?: ReactNode
}) {
  const book = useDeskBook()
  const scroller = useRef<HTMLDivElement>(null)
  const body = useRef<HTMLDivElement>(null)
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
  const heights = useHeights(isBeside)
  const cells = isBeside ? 'beside-cell' : 'cell'
  const plane = usePlane({ table, look, visible, names, pinned, widths, ghost, heights, totalOf, scroller })
  const { rows, count, lines, columns, laid, starts, edge, drawn, from, to, firstRow, lastRow, had, shown, fault } = plane
  const { down, across } = plane
  const ids = useMemo(() => rows.map(({ id }) => id).join(), [rows])
  const tellIds = useRef(calls.inSight)
  tellIds.current = calls.inSight
  useEffect(() => {
    if (isDrafting) tellIds.current(ids === '' ? [] : ids.split(',').map(Number))
  }, [isDrafting, ids])

  const isOutlined = shown.outline !== undefined
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
  useKeptInSight(scroller, down, at.place > 0 ? lines.indexOf(at.place) : null)
  const focus = (): void => scroller.current?.focus()
  useTravel(travel, {
    ...{ book, names, shown },
    behind: at.place,
    go: (place, column) => {
      setAnchor(null)
      setAt({ place, column })
      if (place > 0) down.scrollToIndex(lines.indexOf(place), { align: 'center' })
      if (column >= pinned) across.scrollToIndex(column - pinned, { align: 'center' })
      focus()
    },
    showAll: (isFolded) => calls.look({ ...look, ...(!isFolded && { where: '', group: null }), outline: {} }),
  })

  const { threads, ghostThreads, marks } = useThreads({ table, picked, reach, ghost, names })
  const { visitors, waitingCells, by } = useTogether(table.name)

  const range = rangeOf(at, anchor)
  const areWhole = anchor !== null && range.left === 0 && range.right === columns.length - 1
  const { editing, ...edit } = useEditing({
    ...{ book, table, shown, had, columns, rows, count, at, range, goTo, focus },
  })
  const actions = useLatest<RowActions>({
    press: (place, column, isRange) => {
      goTo({ place, column }, isRange)
      if (!isRange) setAnchor({ place, column })
      scroller.current?.focus()
    },
    pressRow: (place, isRange, y) => {
      const press = (): void => {
        goTo({ place, column: 0 }, isRange)
        setAnchor({ place: isRange ? (anchor?.place ?? at.place) : place, column: columns.length - 1 })
        focus()
      }
      if (areWhole && !isRange && place >= range.top && place <= range.bottom && book.may.enter) rowDrag.begin(y, press)
      else press()
    },
    dragRow: (place) => {
      if (areWhole && !rowDrag.isHeld()) setAt({ place, column: 0 })
    },
    drag: (place, column) => {
      if (anchor !== null) setAt({ place, column })
    },
    edit: () => edit.begin(null),
    turn: (row) => {
      folding.turnRow(row)
      focus()
    },
    keep: edit.keep,
    giveUp: edit.giveUp,
  })
  const goToRow = (place: number, many = 1): void => {
    setAnchor(many > 1 ? { place: place + many - 1, column: at.column } : null)
    setAt({ place, column: at.column })
    down.scrollToIndex(lines.indexOf(place))
  }
  const folding = foldingOf({
    ...{ look, setLook: calls.look, lines, rows, at: at.place, go: goToRow },
    refuse: (why) => book.say('refused', why),
  })
  const ofRows = rowWork({
    ...{ book, rows, all: count, top: range.top, bottom: range.bottom },
    table: table.name,
    isSorted: shown.order !== undefined,
    go: goToRow,
  })
  const inOutline = isOutlined
    ? outlineWork({ ...{ book, table, shown, rows, at: at.place, go: goToRow }, unfold: folding.turnRow })
    : null
  const work = { ...ofRows, ...inOutline }
  const rowDrag = useRowDrag(body, count, (place) => {
    if (isOutlined) book.say('refused', 'In an outline rows are moved by their menu, and by Alt Shift with the arrows.')
    else work.moveTo(place)
  })
  const onKeyDown = (event: KeyboardEvent): void => {
    if (isOwnControl(event.target)) return
    const page = Math.floor(((scroller.current?.clientHeight ?? 400) - heights.head - heights.beam) / ROW_HEIGHT) - 1
    const isTaken = takeKey(event, {
      ...{ at, edit, goTo, openMenu, folding, setAnchor },
      ...{ rows: count, columns: columns.length, page: Math.max(1, page) },
      move: work.move,
      putBelow: inOutline?.putBelow ?? (() => false),
      sort: (descending) => here !== undefined && calls.look({ ...look, sorts: [{ column: here.name, descending }] }),
      pickAll: () => {
        setAnchor({ place: 1, column: 0 })
        setAt({ place: count, column: columns.length - 1 })
      },
    })
    if (isTaken) event.preventDefault()
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
    const heading = document.getElementById(`${cells}-0-${place}`)
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
    const own = document.getElementById(`${cells}-${at.place}-${at.column}`)?.getBoundingClientRect()
    setRowMenu(isByKey && own !== undefined ? { x: own.left, y: own.bottom } : { x: event.clientX, y: event.clientY })
  }

  const seen = { scroll: across.scrollOffset ?? 0, width: (scroller.current?.clientWidth ?? 1_000) - NUMBER_WIDTH }
  const menuColumn = menu === null ? undefined : columns[menu.place]?.column
  const aria = {
    role: isOutlined ? 'treegrid' : 'grid',
    tabIndex: 0,
    'aria-label': table.name,
    'aria-rowcount': count + 2,
    'aria-colcount': columns.length + 1,
    'aria-multiselectable': true,
    ...(isDrawn && { 'aria-activedescendant': `${cells}-${at.place}-${at.column}` }),
  }
  return (
    <section className="grid" aria-label={`Rows of ${table.name}`} onFocus={onWork}>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: its role is one of two, and both take keys. */}
      <div
        className="grid-scroll"
        ref={scroller}
        {...aria}
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
          {...{ cells, columns, pinned, from, to, starts, marks, heights }}
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
        <div
          className="grid-body"
          role="rowgroup"
          ref={body}
          style={{ height: down.getTotalSize(), width: edge + across.getTotalSize() }}
        >
          {rowDrag.over !== null && (
            <div className="drop-line" style={{ transform: `translateY(${rowDrag.over * ROW_HEIGHT - 2}px)` }} />
          )}
          {drawn.map(({ index, line }) => {
            if ('group' in line)
              return (
                <GroupLine
                  key={`group ${JSON.stringify(line.group.key)}`}
                  {...{ index, columns, pinned, from, to, starts, totalOf }}
                  group={line.group}
                  look={groupLook}
                  onFold={() => folding.turnGroup(JSON.stringify(line.group.key))}
                />
              )
            const row = rowAt(line.place)
            if (row === undefined) return null
            const isIn = row.place >= range.top && row.place <= range.bottom && anchor !== null
            return (
              <GridRow
                key={row.id}
                {...{ row, index, cells, columns, pinned, from, to, starts, actions, by }}
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
            {...{ table, columns, pinned, from, to, starts, heights, totalOf }}
            calm={plane.calm}
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
      {anchor !== null && at.place > 0 && (
        <SelectionSum
          {...{ shown, range, rows, count }}
          picked={columns.slice(range.left, range.right + 1).flatMap(({ column }) => (column.name === GHOST ? [] : [column]))}
        />
      )}
      {children}
      {fault !== null && <p className="grid-fault">{fault}</p>}
      {fault === null && plane.isKnown && lines.count === 0 && (
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
          folding={folding}
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

const NO_NAMES: readonly string[] = []
const NO_LOOK = { type: null } as const

const clamp = (value: number, least: number, most: number): number => Math.max(least, Math.min(most, value))

/** The columns that are shown: first that which names the rows, then those that are kept in sight. */
function inSightFirst(table: TableFacts, kept: readonly string[]): ColumnFacts[] {
  const shown = shownColumns(table)
  const rankOf = ({ name }: ColumnFacts): number => (name === table.label ? 0 : kept.includes(name) ? 1 : 2)
  return shown.toSorted((a, b) => rankOf(a) - rankOf(b))
}
