import type { ColumnFacts } from '@mellow-abacus/session'
import type { PointerEvent } from 'react'
import { GHOST } from '../formula/ghost'
import { BEAD_WORDS, Bead, type BeadKind, beadKind } from '../look/bead'
import { type Heights, type LaidOut, NUMBER_WIDTH } from './layout'
import { bundled, type Thread } from './threads'

/** Where the rod runs, in pixels from the bottom of the head. */
const ROD_UP = 60
/** The least height of the rod above which there is room for threads. */
const ROOM = 30
const GAP = 11

/** How rows are sorted by one column. */
export interface SortKey {
  readonly column: string
  readonly descending: boolean
}

/** What a heading says besides its name: severity of the worst finding. */
export type Mark = 'error' | 'warning' | 'hint'

/**
 * The rod of a table is its head: a bead for each column, and below it the name, the unit and the type. Threads lead from the
 * picked bead to what it reads and to what reads it; one whose other end is out of sight ends at a peg.
 */
export function RodHead({
  cells,
  columns,
  pinned,
  from,
  to,
  starts,
  picked,
  here,
  threads,
  sorts,
  marks,
  scroll,
  width,
  heights,
  onPick,
  onGrip,
  onMenu,
  onResize,
}: {
  /** What ids of cells begin with. */
  cells: string
  columns: readonly LaidOut[]
  pinned: number
  from: number
  to: number
  starts: readonly number[]
  picked: string | null
  /** Place of the heading that the cursor is at; null where it is at a row. */
  here: number | null
  threads: readonly Thread[]
  sorts: readonly SortKey[]
  marks: ReadonlyMap<string, Mark>
  /** How far the columns are scrolled, and how much of them is seen. */
  scroll: number
  width: number
  heights: Heights
  onPick: (place: number) => void
  /** Called where a bead is pressed, to be picked or dragged. */
  onGrip: (event: PointerEvent<SVGElement>, column: string, place: number) => void
  onMenu: (place: number, anchor: HTMLElement) => void
  onResize: (name: string, width: number) => void
}) {
  const { head } = heights
  const rodY = head - ROD_UP
  const total = starts.at(-1) as number
  const edge = starts[pinned] as number
  const placeOf = (name: string): number => columns.findIndex(({ column }) => column.name === name)
  // What is pinned stands where it is, however far the others are scrolled.
  const middle = (place: number): number =>
    (starts[place] as number) + (columns[place] as LaidOut).width / 2 + (place < pinned ? scroll : 0)
  const drawn = [...Array.from({ length: pinned }, (_, at) => at), ...Array.from({ length: to - from }, (_, at) => from + at)]
  const { single, cords } = picked === null || rodY < ROOM ? { single: [], cords: [] } : bundled(threads, picked, placeOf)
  const [left, right] = [scroll + edge + 14, scroll + width - 14]
  const seen = (name: string): number => {
    const place = placeOf(name)
    return place < 0 ? left : place < pinned ? middle(place) : Math.max(left, Math.min(right, middle(place)))
  }
  return (
    <div className="rod-head" role="row" aria-rowindex={1} style={{ height: head, width: NUMBER_WIDTH + total }}>
      <svg className="rod" width={total} height={head} style={{ left: NUMBER_WIDTH }} aria-hidden="true">
        <line className="rod-line" x1={0} x2={total} y1={rodY} y2={rodY} />
        <clipPath id={`${cells}-edge`}>
          <rect x={scroll + edge} y={0} width={width} height={head} />
        </clipPath>
        {single.map(({ from: one, to: other, kind }) => (
          <path key={`${kind} ${one} ${other}`} className={`thread ${kind}`} d={arc(seen(one), seen(other), rodY)} />
        ))}
        {cords.map(({ side, count, to: end }) => {
          const x = picked === null ? 0 : seen(picked)
          return (
            <g key={side}>
              <path className="thread cord" d={arc(x, seen(end), rodY)} />
              <text className="cord-count" x={(x + seen(end)) / 2} y={12}>
                {count}
              </text>
            </g>
          )
        })}
        {drawn.map((place) => {
          const { column } = columns[place] as LaidOut
          return (
            <g key={column.name} {...(place >= pinned && { clipPath: `url(#${cells}-edge)` })}>
              {column.name === picked && column.name !== GHOST && (
                <circle className="bead-ring" cx={middle(place)} cy={rodY} r={13} />
              )}
              <Bead kind={kindOf(column)} x={middle(place)} y={rodY} />
              <circle
                className="bead-reach"
                cx={middle(place)}
                cy={rodY}
                r={13}
                onPointerDown={(event) => onGrip(event, column.name, place)}
              />
              {marks.has(column.name) && (
                <path className={`bead-flag ${marks.get(column.name)}`} d={`M${middle(place) + 13} ${rodY - 18}l5.5 9.5h-11z`} />
              )}
            </g>
          )
        })}
      </svg>
      <div className="row-edge head-edge">
        <span role="columnheader" className="row-number" style={{ width: NUMBER_WIDTH }}>
          row
        </span>
        {columns.slice(0, pinned).map(({ column, width: wide }, place) => (
          <HeadCell key={column.name} {...headOf(place)} style={{ width: wide }} />
        ))}
      </div>
      {Array.from({ length: to - from }, (_, at) => from + at).map((place) => {
        const { column, width: wide } = columns[place] as LaidOut
        return (
          <HeadCell
            key={column.name}
            {...headOf(place)}
            style={{ width: wide, left: NUMBER_WIDTH + (starts[place] as number) }}
          />
        )
      })}
    </div>
  )

  function headOf(place: number): HeadCellProps {
    const { column } = columns[place] as LaidOut
    const at = sorts.findIndex((sort) => sort.column === column.name)
    return {
      id: `${cells}-0-${place}`,
      column,
      place,
      isPicked: column.name === picked,
      isHere: here === place,
      sort: at < 0 ? null : { ...(sorts[at] as SortKey), rank: sorts.length > 1 ? at + 1 : null },
      mark: marks.get(column.name),
      onPick,
      onMenu,
      onResize,
    }
  }
}

/** The bead of a column, or of the draft among them. */
const kindOf = (column: ColumnFacts): BeadKind => (column.name === GHOST ? 'draft' : beadKind(column))

interface HeadCellProps {
  readonly id: string
  readonly column: ColumnFacts
  readonly place: number
  readonly isPicked: boolean
  readonly isHere: boolean
  readonly sort: (SortKey & { readonly rank: number | null }) | null
  readonly mark: Mark | undefined
  readonly onPick: (place: number) => void
  readonly onMenu: (place: number, anchor: HTMLElement) => void
  readonly onResize: (name: string, width: number) => void
}

function HeadCell({
  id,
  column,
  place,
  isPicked,
  isHere,
  sort,
  mark,
  onPick,
  onMenu,
  onResize,
  style,
}: HeadCellProps & { style: { width: number; left?: number } }) {
  const kind = kindOf(column)
  const { heading } = column.properties as { heading?: string }
  const unit = column.unit ?? undefined
  const words = [BEAD_WORDS[kind], column.type ?? 'no type yet', unit, mark === undefined ? undefined : `has a finding (${mark})`]
  return (
    <div
      id={id}
      role="columnheader"
      tabIndex={-1}
      aria-colindex={place + 2}
      aria-sort={sort === null ? 'none' : sort.descending ? 'descending' : 'ascending'}
      aria-label={`${heading ?? column.name}, ${words.filter((word) => word !== undefined).join(', ')}`}
      className={`head-cell ${kind} ${isPicked ? 'picked' : ''} ${isHere ? 'here' : ''}`}
      style={style}
      onPointerDown={(event) => event.button === 0 && onPick(place)}
      onContextMenu={(event) => {
        event.preventDefault()
        onMenu(place, event.currentTarget)
      }}
      title={column.formula ?? BEAD_WORDS[kind]}
    >
      <b>
        <span className="head-name">{heading ?? column.name}</span>
        {sort !== null && (
          <span className="sort-mark">
            {sort.descending ? '↓' : '↑'}
            {sort.rank}
          </span>
        )}
      </b>
      <small>{unit ?? column.type ?? 'no type yet'}</small>
      {kind !== 'draft' && (
        <button
          type="button"
          tabIndex={-1}
          className="head-menu"
          aria-label={`What can be done with ${column.name}`}
          onPointerDown={(event) => event.stopPropagation()}
          onClick={(event) => onMenu(place, event.currentTarget)}
        >
          ⋯
        </button>
      )}
      <span
        className="head-grip"
        aria-hidden="true"
        onPointerDown={(event) => {
          event.stopPropagation()
          const grip = event.currentTarget
          const [startX, startWidth] = [event.clientX, style.width]
          grip.setPointerCapture(event.pointerId)
          grip.onpointermove = (move) => onResize(column.name, startWidth + move.clientX - startX)
          grip.onpointerup = () => {
            grip.onpointermove = null
          }
        }}
      />
    </div>
  )
}

/** An arc above the rod from one bead to another; the wider apart, the higher. */
function arc(x1: number, x2: number, rodY: number): string {
  const top = rodY - GAP - Math.min(34, 14 + Math.abs(x1 - x2) / 9)
  return `M${x1} ${rodY - GAP}C${x1} ${top} ${x2} ${top} ${x2} ${rodY - GAP}`
}
