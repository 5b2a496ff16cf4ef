import type { SessionValue } from '@mellow-abacus/session'
import type { CellValue } from 'mellow-abacus'
import type { Meeting } from '../book/desk-book'
import { useBookState, useDeskBook } from '../book/use-book'
import type { Travel } from '../grid/travel'
import { fullText } from '../look/cell-text'

/**
 * Cells in which edits have met: both values, who wrote the other one, and a way to have it the other way. Before them edits that
 * were done without a connection and could not be done any more when it was back.
 */
export function Meetings({ onTravel }: { onTravel: (to: Travel) => void }) {
  const book = useDeskBook()
  const { met, tooLate } = useBookState()
  if (met.length === 0 && tooLate.length === 0) return null
  const write = (meeting: Meeting, value: SessionValue): void => {
    const { table, row, column } = meeting
    book.settle(meeting)
    void book.apply(
      { op: 'set-cells', table, cells: [{ row, column, value: givenValue(value) }] },
      `${column} set to ${told(value)}`,
    )
  }
  return (
    <section className="meetings" aria-label="Edits that met" aria-live="polite">
      {tooLate.map((late) => (
        <div key={late.key} className="card error">
          <p>
            <b>Not done: {late.done}.</b> It was kept while there was no connection. {late.why}
          </p>
          <div className="row">
            <button type="button" className="un" onClick={() => book.forgetLate(late)}>
              Understood
            </button>
          </div>
        </div>
      ))}
      {met.map((meeting) => {
        const { key, table, row, column, theirs, yours, isYours, other, at } = meeting
        // Of an edit that was written over, the earlier value is one's own.
        const [own, others] = isYours ? [yours, theirs] : [theirs, yours]
        const when = isYours && at !== null ? ` at ${at.slice(11, 16)}` : ''
        return (
          <div key={key} className="card warning">
            <p>
              <button type="button" className="link" onClick={() => onTravel({ table, column, to: { row } })}>
                {table}.{column}
              </button>
              : {other} wrote <b>{told(others)}</b>
              {when}, you wrote <b>{told(own)}</b>, neither having seen the other. {isYours ? 'Yours' : 'Theirs'} stands.
            </p>
            <div className="row">
              <button type="button" onClick={() => write(meeting, isYours ? others : own)}>
                {isYours ? `Take ${told(others)}` : `Write ${told(own)} again`}
              </button>
              <button type="button" className="un" onClick={() => book.settle(meeting)}>
                Leave it
              </button>
            </div>
          </div>
        )
      })}
    </section>
  )
}

const told = (value: SessionValue): string => (value === null ? 'nothing' : fullText(value))

/** A value that was written, as an operation takes it. */
function givenValue(value: SessionValue): CellValue {
  if (typeof value !== 'object' || value === null) return value
  return 'misfit' in value ? value.misfit : null
}
