import type { SessionCells, SessionValue, WindowRow } from '@mellow-abacus/session'
import { memo, useRef } from 'react'
import { GHOST } from '../formula/ghost'
import { cellText, countedOf, fullText } from '../look/cell-text'
import type { ByColumn } from '../together/use-together'
import { CellInput, type Leaving } from './cell-input'
import { insetOf, type LaidOut, NUMBER_WIDTH, ROW_HEIGHT } from './layout'

/** What can be done to the cells of a row; the same functions from one render to the next. */
export interface RowActions {
  press(place: number, column: number, isRange: boolean): void
  /** Picks a whole row, or all up to it; of rows that are picked it may begin a drag. */
  pressRow(place: number, isRange: boolean, y: number): void
  dragRow(place: number): void
  drag(place: number, column: number): void
  /** Folds or unfolds the rows below a row. */
  turn(row: WindowRow): void
  edit(): void
  keep(text: string, leaving: Leaving): void
  giveUp(): void
}

/** The cell that is being edited. */
export interface Editing {
  readonly place: number
  readonly column: number
  /** What was typed first; null to begin with what is there. */
  readonly typed: string | null
  readonly start: string
  readonly choices: readonly string[]
}

interface GridRowProps {
  readonly row: WindowRow
  /** Which line of the grid it is, from 0. */
  readonly index: number
  /** What ids of cells begin with. */
  readonly cells: string
  readonly columns: readonly LaidOut[]
  /** How many of the first columns stay in sight. */
  readonly pinned: number
  /** Places of the other columns that are drawn: from one up to, not including, another. */
  readonly from: number
  readonly to: number
  readonly starts: readonly number[]
  readonly here: number | null
  /** The first and the last column of a range in this row; null where none is. */
  readonly range: readonly [number, number] | null
  readonly editing: Editing | null
  /** What the draft would give in this row; undefined where that is not known. */
  readonly ghost: SessionValue | undefined
  /** Names of others by the columns that they are at. */
  readonly visitors: ByColumn<string> | undefined
  /** What was typed and is not sent yet. */
  readonly waiting: ByColumn<SessionValue> | undefined
  /** Who else made the newest change. */
  readonly by: string | null
  readonly actions: RowActions
}

/** A row of the grid. It renders again only when something of it has changed. */
export const GridRow = memo(function GridRow(props: GridRowProps) {
  const { row, columns, pinned, from, to, starts } = props
  const followed = useFollowed(row.id, row.cells, props.by)
  const shown = { ...props, followed }
  const places = Array.from({ length: to - from }, (_, at) => from + at)
  const edge = Array.from({ length: pinned }, (_, at) => at)
  const { stand } = row
  return (
    <div
      role="row"
      aria-rowindex={row.place + 1}
      {...(stand !== undefined && { 'aria-level': stand.depth + 1 })}
      {...(stand !== undefined && stand.below > 0 && { 'aria-expanded': !stand.isFolded })}
      className="grid-row"
      style={{ transform: `translateY(${props.index * ROW_HEIGHT}px)`, width: NUMBER_WIDTH + (starts.at(-1) as number) }}
    >
      <div className="row-edge">
        <span
          role="rowheader"
          className="row-number"
          style={{ width: NUMBER_WIDTH }}
          onPointerDown={(event) => event.button === 0 && props.actions.pressRow(row.place, event.shiftKey, event.clientY)}
          onPointerEnter={(event) => event.buttons === 1 && props.actions.dragRow(row.place)}
        >
          {stand !== undefined && stand.below > 0 && (
            <button
              type="button"
              tabIndex={-1}
              className="row-fold"
              aria-label={`${countedOf(stand.below, 'row')} below`}
              title={`${countedOf(stand.below, 'row')} below`}
              onPointerDown={(event) => event.stopPropagation()}
              onClick={() => props.actions.turn(row)}
            >
              <span aria-hidden="true">{stand.isFolded ? '▸' : '▾'}</span>
            </button>
          )}
          {row.place}
        </span>
        {edge.map((place) => (
          <GridCell key={columns[place]?.column.name} {...shown} place={place} isPinned />
        ))}
      </div>
      {places.map((place) => (
        <GridCell key={columns[place]?.column.name} {...shown} place={place} isPinned={false} />
      ))}
    </div>
  )
})

function GridCell({
  row,
  cells,
  columns,
  starts,
  here,
  range,
  editing,
  ghost,
  visitors,
  waiting,
  actions,
  followed,
  place,
  isPinned,
}: GridRowProps & { readonly followed: ReadonlyMap<string, Followed>; readonly place: number; readonly isPinned: boolean }) {
  const { column, look, width } = columns[place] as LaidOut
  const isDraft = column.name === GHOST
  const visitor = visitors?.get(column.name)
  const isWaiting = waiting?.has(column.name) === true
  const value = isDraft ? ghost : isWaiting ? waiting.get(column.name) : row.cells[column.name]
  const { text, kind } = cellText(value, look)
  const isCalculated = column.calculated || column.state === 'stamp'
  const flash = followed.get(column.name)
  const isHere = here === place
  const classes = [
    'cell',
    kind,
    look.type === 'number' || look.type === 'integer' ? 'numeric' : '',
    isDraft ? 'draft' : isCalculated ? 'calculated' : '',
    isWaiting ? 'waiting' : '',
    visitor === undefined ? '' : 'visited',
    column.state === 'stale' ? 'stale' : '',
    isHere ? 'here' : '',
    range !== null && place >= range[0] && place <= range[1] ? 'in-range' : '',
    flash === undefined ? '' : flash.by === null ? 'followed' : 'followed by-other',
  ]
  return (
    <div
      key={flash?.count}
      id={`${cells}-${row.place}-${place}`}
      role="gridcell"
      tabIndex={-1}
      aria-colindex={place + 2}
      aria-readonly={isCalculated}
      {...(isHere && { 'aria-selected': true })}
      {...(visitor !== undefined && { 'data-visitor': visitor })}
      {...(flash?.by != null && { 'data-by': flash.by })}
      className={classes.filter((one) => one !== '').join(' ')}
      style={{
        width,
        ...(!isPinned && { left: NUMBER_WIDTH + (starts[place] as number) }),
        ...(place === 0 && row.stand !== undefined && { paddingInlineStart: insetOf(row.stand.depth) }),
      }}
      title={isWaiting ? `${fullText(value)}, kept here until the connection is back` : fullText(value)}
      onPointerDown={(event) => {
        if (event.button !== 0 || editing !== null) return
        actions.press(row.place, place, event.shiftKey)
      }}
      onPointerEnter={(event) => {
        if (event.buttons === 1) actions.drag(row.place, place)
      }}
      onDoubleClick={() => actions.edit()}
    >
      {editing !== null && editing.column === place ? (
        <CellInput
          start={editing.typed ?? editing.start}
          isReplacing={editing.typed !== null}
          label={`${column.name} of row ${row.place}`}
          choices={editing.choices}
          onDone={actions.keep}
          onGiveUp={actions.giveUp}
        />
      ) : kind === 'blank' ? (
        <span className="sr-only">blank</span>
      ) : (
        text
      )}
      {place === 0 && row.stand?.isFolded === true && <small className="folded-below">+{row.stand.below}</small>}
    </div>
  )
}

/** A cell that is another than it was: a number that is another each time, and who else changed it. */
interface Followed {
  readonly count: number
  readonly by: string | null
}

/** Which cells of a row are others than they were when it was last drawn. */
function useFollowed(id: number, cells: SessionCells, by: string | null): ReadonlyMap<string, Followed> {
  const before = useRef({ id, cells })
  const told = useRef<{ marks: ReadonlyMap<string, Followed>; count: number }>({ marks: new Map(), count: 0 })
  if (before.current.id !== id) {
    before.current = { id, cells }
    told.current = { ...told.current, marks: new Map() }
  } else if (before.current.cells !== cells) {
    const former = before.current.cells
    const count = told.current.count + 1
    const isOther = (name: string): boolean =>
      Object.hasOwn(former, name) && JSON.stringify(former[name]) !== JSON.stringify(cells[name])
    const marks = new Map(Object.keys(cells).flatMap((name) => (isOther(name) ? [[name, { count, by }] as const] : [])))
    before.current = { id, cells }
    if (marks.size > 0) told.current = { marks, count }
  }
  return told.current.marks
}
