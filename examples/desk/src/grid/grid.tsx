import { useVirtualizer } from '@tanstack/react-virtual'
import type { ChangeSet, ColumnView } from 'mellow-abacus'
import { type CSSProperties, type KeyboardEvent, useMemo, useRef, useState } from 'react'
import { useAtRevision } from '../book/use-at-revision'
import type { BookHandle, CellPlace } from '../book/use-book'
import { cellText, isNumeric } from '../display/cell-text'
import { CellInput } from './cell-input'
import { widthOf } from './column-width'
import { HeadCell, TotalCell } from './edge-cells'
import { TOTALS, type Total, totalText } from './totals'
import { typedValue } from './typed-value'
import { useOrder } from './use-order'

const ROW_HEIGHT = 26

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
  const layout: CSSProperties = {
    gridTemplateColumns: widths.map((width) => `${width}px`).join(' '),
    width: widths.reduce((sum, width) => sum + width, 0),
  }

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
          {virtual.getVirtualItems().map((item) => {
            const row = order.ids[item.index] as number
            return (
              <div
                key={row}
                role="row"
                aria-rowindex={item.index + 1}
                className="grid-row"
                style={{ ...layout, transform: `translateY(${item.start}px)` }}
              >
                <span role="rowheader" className="row-number">
                  {row}
                </span>
                {columns.map((column, place) => {
                  const { text, kind } = cellText(column.value(row), column.properties.decimals)
                  const isHere = at.place === item.index && at.column === place
                  const isEdited = editing?.row === row && editing.column === column.name
                  const flash = marked?.get(column.name)?.has(row) === true
                  return (
                    <div
                      key={flash ? `${column.name} ${lastChange?.revision}` : column.name}
                      id={`cell-${item.index}-${place}`}
                      role="gridcell"
                      className={[
                        'cell',
                        kind,
                        isNumeric(column) ? 'numeric' : '',
                        column.formula === null ? '' : 'calculated',
                        isHere ? 'here' : '',
                        flash ? 'followed' : '',
                      ].join(' ')}
                      title={text}
                      onClick={() => {
                        setAt({ place: item.index, column: place })
                        onPick(column.name)
                        scroller.current?.focus()
                      }}
                      onDoubleClick={() => beginEdit(row, column)}
                    >
                      {isEdited ? (
                        <CellInput
                          start={startText(column, row)}
                          label={`${column.name} of row ${row}`}
                          onDone={(typed) => keep(row, column, typed)}
                          onGiveUp={() => {
                            setEditing(null)
                            scroller.current?.focus()
                          }}
                        />
                      ) : (
                        text
                      )}
                    </div>
                  )
                })}
              </div>
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
                text={summary === undefined ? '' : totalText(total, column, summary)}
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

/** Cells of the last change that are worth a mark; a change of a whole column is plain to see and is not marked. */
function markedCells(change: ChangeSet | null, tableName: string): Map<string, Set<number>> | null {
  if (change === null) return null
  const cells = change.changed.filter(({ table, rows }) => table === tableName && rows <= 200)
  return new Map(cells.map((one) => [one.column, new Set(one.ids())]))
}
