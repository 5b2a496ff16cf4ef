import type { WindowRow } from 'mellow-abacus'
import { type CSSProperties, memo } from 'react'
import { cellText, fullText, type NumberLook } from '../display/cell-text'
import { CellInput } from './cell-input'

/** What is to be known of a column to draw its cells. */
export interface CellLook extends NumberLook {
  readonly name: string
  readonly isNumeric: boolean
  readonly isCalculated: boolean
}

/** What can be done to the cells of a row; the same functions from one render to the next. */
export interface RowActions {
  pick(index: number, place: number): void
  edit(row: number, place: number): void
  startText(row: number, place: number): string
  keep(row: number, place: number, text: string): void
  giveUp(): void
}

interface GridRowProps {
  readonly row: WindowRow
  /** Its place among the rows shown, and where it begins, in pixels. */
  readonly index: number
  readonly start: number
  readonly layout: CSSProperties
  readonly looks: readonly CellLook[]
  /** Places of the current cell and of the one being edited; null where they are in other rows. */
  readonly here: number | null
  readonly edited: number | null
  /** Columns whose cell the last change has moved, as one text; each revision marks them anew. */
  readonly followed: string
  readonly actions: RowActions
}

/** A row of the grid. It renders again only when something of it has changed. */
export const GridRow = memo(function GridRow({
  row,
  index,
  start,
  layout,
  looks,
  here,
  edited,
  followed,
  actions,
}: GridRowProps) {
  const marked = new Set(followed.split('\n'))
  return (
    <div role="row" aria-rowindex={index + 1} className="grid-row" style={{ ...layout, transform: `translateY(${start}px)` }}>
      <span role="rowheader" className="row-number">
        {row.id}
      </span>
      {looks.map(({ name, isNumeric, isCalculated, ...look }, place) => {
        const { text, kind } = cellText(row.values[place], look)
        const flash = marked.has(name)
        return (
          <div
            key={flash ? `${name} ${marked.values().next().value}` : name}
            id={`cell-${index}-${place}`}
            role="gridcell"
            className={[
              'cell',
              kind,
              isNumeric ? 'numeric' : '',
              isCalculated ? 'calculated' : '',
              here === place ? 'here' : '',
              flash ? 'followed' : '',
            ].join(' ')}
            title={fullText(row.values[place])}
            onClick={() => actions.pick(index, place)}
            onDoubleClick={() => actions.edit(row.id, place)}
          >
            {edited === place ? (
              <CellInput
                start={actions.startText(row.id, place)}
                label={`${name} of row ${row.id}`}
                onDone={(typed) => actions.keep(row.id, place, typed)}
                onGiveUp={actions.giveUp}
              />
            ) : (
              text
            )}
          </div>
        )
      })}
    </div>
  )
})
