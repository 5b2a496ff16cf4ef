import { useTable } from '@mellow-abacus/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { type ChangeSet, type ColumnView, tidyDecimalsOf, type Workbook } from 'mellow-abacus'
import { type CSSProperties, type KeyboardEvent, useMemo, useRef, useState } from 'react'
import { useAtRevision } from '../book/use-at-revision'
import type { BookHandle, CellPlace } from '../book/use-book'
import { isNumeric } from '../display/cell-text'
import { widthOf } from './column-width'
import { HeadCell, TotalCell } from './edge-cells'
import { type CellLook, GridRow, type RowActions } from './grid-row'
import { TOTALS, type Total, totalText } from './totals'
import { typedValue } from './typed-value'
import { useOrder } from './use-order'

const ROW_HEIGHT = 26
/** Rows whose numbers say how many decimals a column is shown with, besides the first ones of each column. */
const SAMPLED_ROWS = 60

/** The rows of a table, drawn only where they are seen, with a totals line below. Works from the keyboard. */
export function Grid({
  handle,
  tableName,
  picked,
  onPick,
}: {
  handle: BookHandle
  tableName: string
  picked: string | null
  onPick: (column: string) => void
}) {
  const { book, revision, lastChange } = handle
  const table = book.table(tableName)
  const columns = table.columns.filter((column) => column.properties.hidden !== true)
  const order = useOrder(book, tableName, revision)
  const [total, setTotal] = useState<Total>('sum')
  const [at, setAt] = useState({ place: 0, column: 0 })
  const [editing, setEditing] = useState<CellPlace | null>(null)
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: order.ids.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 8,
  })
  const marked = useMemo(() => markedCells(lastChange, tableName), [lastChange, tableName])
  const summaries = useAtRevision(revision, tableName, () => columns.map((column) => column.summary()))
  const widths = useAtRevision(revision, tableName, () => [60, ...columns.map(widthOf)])
  const layout: CSSProperties = useMemo(
    () => ({
      gridTemplateColumns: widths.map((width) => `${width}px`).join(' '),
      width: widths.reduce((sum, width) => sum + width, 0),
    }),
    [widths],
  )
  const decimals = useAtRevision(revision, tableName, () => tidyDecimals(book, tableName, columns))
  const looks = useSame(columns.map((column, place) => lookOf(column, decimals[place])))
  const items = virtual.getVirtualItems()
  const shown = useTable(book, {
    table: tableName,
    columns: looks.map(({ name }) => name),
    ids: items.flatMap(({ index }) => order.ids[index] ?? []),
  })
  const rowsById = new Map(shown.rows.map((row) => [row.id, row]))

  const beginEdit = (row: number, column: ColumnView): void => {
    if (column.formula === null) return setEditing({ row, column: column.name })
    // The workbook says why in its own words.
    handle.apply({ op: 'set-cells', table: tableName, cells: [{ row, column: column.name, value: null }] })
  }
  const keep = (row: number, column: ColumnView, text: string): void => {
    setEditing(null)
    scroller.current?.focus()
    if (text === startText(column, row)) return
    const typed = typedValue(text, column)
    if ('refused' in typed) return handle.refuse(typed.refused)
    handle.apply({ op: 'set-cells', table: tableName, cells: [{ row, column: column.name, value: typed.value }] })
  }
  const actions = useLatest<RowActions>({
    pick: (index, place) => {
      setAt({ place: index, column: place })
      onPick(columns[place]?.name ?? '')
      scroller.current?.focus()
    },
    edit: (row, place) => beginEdit(row, columns[place] as ColumnView),
    startText: (row, place) => startText(columns[place] as ColumnView, row),
    keep: (row, place, text) => keep(row, columns[place] as ColumnView, text),
    giveUp: () => {
      setEditing(null)
      scroller.current?.focus()
    },
  })
  const onKeyDown = (event: KeyboardEvent): void => {
    const moves: Record<string, [number, number]> = {
      ArrowDown: [1, 0],
      ArrowUp: [-1, 0],
      ArrowRight: [0, 1],
      ArrowLeft: [0, -1],
      PageDown: [12, 0],
      PageUp: [-12, 0],
    }
    const move = moves[event.key]
    const row = order.ids[at.place]
    const column = columns[at.column]
    if (move !== undefined) {
      const next = { place: clamp(at.place + move[0], order.ids.length), column: clamp(at.column + move[1], columns.length) }
      setAt(next)
      virtual.scrollToIndex(next.place)
      onPick(columns[next.column]?.name ?? '')
    } else if ((event.key === 'Enter' || event.key === 'F2') && row !== undefined && column !== undefined) beginEdit(row, column)
    else return
    event.preventDefault()
  }

  return (
    <section className="grid" aria-label={`Rows of ${tableName}`}>
      <div
        className="grid-scroll"
        ref={scroller}
        role="grid"
        tabIndex={0}
        aria-rowcount={order.ids.length}
        aria-colcount={columns.length + 1}
        aria-activedescendant={`cell-${at.place}-${at.column}`}
        onKeyDown={onKeyDown}
      >
        <div className="grid-head" role="row" style={layout}>
          <span role="columnheader" className="row-number">
            row
          </span>
          {columns.map((column) => (
            <HeadCell
              key={column.name}
              column={column}
              isPicked={column.name === picked}
              sort={order.sort?.column === column.name ? order.sort.descending : null}
              onSort={() => order.sortBy(column.name)}
            />
          ))}
        </div>
        <div className="grid-body" style={{ height: virtual.getTotalSize() }}>
          {items.map((item) => {
            const row = rowsById.get(order.ids[item.index] as number)
            if (row === undefined) return null
            return (
              <GridRow
                key={row.id}
                row={row}
                index={item.index}
                start={item.start}
                layout={layout}
                looks={looks}
                here={at.place === item.index ? at.column : null}
                edited={editing?.row === row.id ? looks.findIndex(({ name }) => name === editing.column) : null}
                followed={marked?.get(row.id) ?? ''}
                actions={actions}
              />
            )
          })}
        </div>
        <div className="grid-foot" role="row" style={layout}>
          <span className="row-number">
            <select
              aria-label="total shown"
              value={total}
              onChange={(event) => setTotal(event.target.value as Total)}
              onKeyDown={(event) => event.stopPropagation()}
            >
              {TOTALS.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </select>
          </span>
          {columns.map((column, place) => {
            const summary = summaries[place]
            return (
              <TotalCell
                key={column.name}
                column={column}
                text={summary === undefined ? '' : totalText(total, column, summary, looks[place] ?? {})}
              />
            )
          })}
        </div>
      </div>
      {order.isOld && (
        <button type="button" className="sort-again" onClick={order.sortAgain}>
          sorted before the last change: sort again
        </button>
      )}
    </section>
  )
}

/** The text an edit of a cell begins with: the value in full, not as it is shown. */
function startText(column: ColumnView, row: number): string {
  const stored = column.stored(row)
  if (stored === null || typeof stored !== 'object') return stored === null ? '' : String(stored)
  return 'misfit' in stored ? stored.misfit : ''
}

function clamp(value: number, count: number): number {
  return Math.max(0, Math.min(count - 1, value))
}

/**
 * Cells of the last change that are worth a mark, by row: the revision, and the names of their columns. A change of a whole column
 * is plain to see and is not marked.
 */
function markedCells(change: ChangeSet | null, tableName: string): Map<number, string> | null {
  if (change === null) return null
  const marked = new Map<number, string>()
  for (const cells of change.changed)
    if (cells.table === tableName && cells.rows <= 200)
      for (const row of cells.ids()) marked.set(row, `${marked.get(row) ?? change.revision}\n${cells.column}`)
  return marked
}

/** Decimals by column: those said of it, or as many as its typical value asks for. */
function tidyDecimals(book: Workbook, table: string, columns: readonly ColumnView[]): (number | undefined)[] {
  const shown = book.query({ table, columns: columns.map(({ name }) => name), limit: SAMPLED_ROWS })
  return shown.columns.map((column) => tidyDecimalsOf(column, shown.slots))
}

function lookOf(column: ColumnView, decimals: number | undefined): CellLook {
  const { name, properties } = column
  return { name, isNumeric: isNumeric(column), isCalculated: column.formula !== null, display: properties.display, decimals }
}

/** Plain facts, the same object from one render to the next as long as they say the same. */
function useSame<Facts>(facts: Facts): Facts {
  const kept = useRef(facts)
  if (JSON.stringify(kept.current) !== JSON.stringify(facts)) kept.current = facts
  return kept.current
}

/** Functions that stay the same from one render to the next and do what those of the last render do. */
function useLatest<Functions extends object>(functions: Functions): Functions {
  const latest = useRef(functions)
  latest.current = functions
  return useMemo(() => {
    const names = Object.keys(latest.current) as (keyof Functions)[]
    const call =
      (name: keyof Functions) =>
      (...args: unknown[]) =>
        (latest.current[name] as (...given: unknown[]) => unknown)(...args)
    return Object.fromEntries(names.map((name) => [name, call(name)])) as Functions
  }, [])
}
