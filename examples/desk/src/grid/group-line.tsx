import type { SessionValue } from '@mellow-abacus/session'
import { cellText, countedOf, isNumeric, type Look } from '../look/cell-text'
import { type LaidOut, NUMBER_WIDTH, ROW_HEIGHT } from './layout'
import type { RowGroup } from './lines'
import { TOTAL_NAMES, type Total, totalText } from './totals'

/** The line of a group above its rows: what they have in common, how many there are, and their totals. */
export function GroupLine({
  group,
  look,
  index,
  columns,
  pinned,
  from,
  to,
  starts,
  totalOf,
  onFold,
}: {
  group: RowGroup
  /** How values of the column of the groups are shown. */
  look: Look
  index: number
  columns: readonly LaidOut[]
  pinned: number
  from: number
  to: number
  starts: readonly number[]
  totalOf: (one: LaidOut) => Total
  onFold: () => void
}) {
  const total = (place: number) => {
    const one = columns[place] as LaidOut
    const text = textOf(one, totalOf(one), group.totals.get(one.column.name))
    if (text === '') return null
    return (
      <span
        key={one.column.name}
        role="gridcell"
        tabIndex={-1}
        aria-colindex={place + 2}
        className={`group-total ${isNumeric(one.column) ? 'numeric' : ''}`}
        title={`${TOTAL_NAMES[totalOf(one)]} of ${one.column.name}`}
        style={{ width: one.width, left: NUMBER_WIDTH + (starts[place] as number) }}
      >
        {text}
      </span>
    )
  }
  const title = keyText(group.key, look)
  return (
    <div
      role="row"
      className="group-line"
      style={{ transform: `translateY(${index * ROW_HEIGHT}px)`, width: NUMBER_WIDTH + (starts.at(-1) as number) }}
    >
      <div role="rowheader" className="row-edge">
        <button type="button" tabIndex={-1} className="group-fold" aria-expanded={!group.isFolded} onClick={onFold}>
          <span aria-hidden="true">{group.isFolded ? '▸' : '▾'}</span> {title}
          <small>{countedOf(group.rows, 'row')}</small>
        </button>
      </div>
      {Array.from({ length: to - from }, (_, at) => total(from + at))}
      {pinned > 1 && Array.from({ length: pinned - 1 }, (_, at) => total(at + 1))}
    </div>
  )
}

/** What the rows of a group have in common, as it is read. */
export function keyText(key: SessionValue, look: Look): string {
  const { text, kind } = cellText(key, look)
  return kind === 'blank' ? '(blank)' : text
}

function textOf({ column, look }: LaidOut, total: Total, value: SessionValue | undefined): string {
  return totalText(total, value, look, column.unit)
}
