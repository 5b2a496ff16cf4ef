import type { HistoryStep, SessionValue, StepCell } from '@mellow-abacus/session'
import { countedOf, fullText } from '../look/cell-text'

/** Cells and columns of a step that are told one by one. */
const MOST = 4

/** Who made a step and when, and the difference that it made: cells before and after, and what followed in which columns. */
export function StepFacts({ step, isWhole = false }: { step: HistoryStep; isWhole?: boolean }) {
  const { author, at, cells, recalculated } = step
  const many = recalculated.reduce((sum, { rows }) => sum + rows, 0)
  const told = [author, at?.replace('T', ' ').slice(0, 16), many === 0 ? '' : `${countedOf(many, 'cell')} followed`]
  const more = recalculated.length - MOST
  return (
    <>
      <small>{told.filter((part) => part !== '' && part !== null && part !== undefined).join(' · ')}</small>
      {cells.slice(0, MOST).map((cell) => (
        <small key={`${cell.table} ${cell.column} ${cell.row}`}>
          {cell.column}: <Difference cell={cell} />
        </small>
      ))}
      {isWhole &&
        recalculated.slice(0, MOST).map(({ table, column, rows }) => (
          <small key={`${table} ${column}`}>
            {table}.{column}: {countedOf(rows, 'cell')} followed
          </small>
        ))}
      {isWhole && more > 0 && <small>and {countedOf(more, 'further column')}</small>}
    </>
  )
}

/** What a cell held before a step, and after it. */
export function Difference({ cell }: { cell: StepCell }) {
  return (
    <>
      {valueText(cell.before)} → {valueText(cell.after)}
    </>
  )
}

const valueText = (value: SessionValue): string => (value === null ? 'blank' : fullText(value))
