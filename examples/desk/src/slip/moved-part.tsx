import type { MovedAnswer, MovedRequest, SessionValue, ValueMove } from '@mellow-abacus/session'
import { useState } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { countedOf, fullText } from '../look/cell-text'
import type { SlipCalls } from './slip-calls'

/** Steps that one may look back behind, and rows that are listed. */
const [MOST_STEPS, MOST_ROWS] = [60, 12]

/**
 * What moved a value between two steps: the steps that did, and what rows account for of the difference. It is looked for when it is
 * asked for, since steps are taken back for it.
 */
export function MovedPart({
  address,
  row = null,
  keys,
  begin,
  isFirst = false,
  calls,
}: {
  address: string
  row?: number | null
  /** Of a figure of a report: the keys of its group. */
  keys?: readonly string[]
  /** The step that it is looked at from behind first; the last one when left out. */
  begin?: number | undefined
  /** True where it is what one asked for, and so is looked for at once. */
  isFirst?: boolean
  calls: Pick<SlipCalls, 'travel'>
}) {
  const { steps, revision } = useBookState()
  const [isOpen, setOpen] = useState(isFirst)
  const shown = steps.slice(-MOST_STEPS).toReversed()
  const [chosen, setChosen] = useState<{ readonly from?: number; readonly to?: number }>({})
  const first = begin ?? shown[0]?.revision
  if (first === undefined) return null
  const { from = first - 1, to = revision } = chosen
  const option = ({ revision: made, what }: { revision: number; what: string }, at: number) => (
    <option key={made} value={made + at}>
      {made} {what}
    </option>
  )
  return (
    <details open={isOpen} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="soft">what moved it</summary>
      <label className="field">
        <span>before</span>
        <select value={from} onChange={(event) => setChosen({ ...chosen, from: Number(event.target.value) })}>
          {shown.map((step) => option(step, -1))}
        </select>
      </label>
      <label className="field">
        <span>until after</span>
        <select value={to} onChange={(event) => setChosen({ ...chosen, to: Number(event.target.value) })}>
          {shown.filter((step) => step.revision > from).map((step) => option(step, 0))}
        </select>
      </label>
      {isOpen && (
        <Moves
          request={{ address, ...(row !== null && { row }), ...(keys !== undefined && { keys }), from, to: Math.max(to, from) }}
          calls={calls}
        />
      )}
    </details>
  )
}

function Moves({ request, calls }: { request: MovedRequest; calls: Pick<SlipCalls, 'travel'> }) {
  const { session } = useDeskBook()
  const { revision } = useBookState()
  const { answer, fault } = useAnswer(JSON.stringify([request, revision]), () => session.moved(request))
  if (fault !== null) return <p className="card error">{fault}</p>
  if (answer === null) return null
  if (answer.steps.length === 0) return <p className="soft">Nothing: it is {valueText(answer.after)} all along.</p>
  return (
    <>
      <p>
        <Move move={answer} />
      </p>
      <ol className="plain">
        {answer.steps.map((step) => (
          <li key={step.revision}>
            {step.what}: <Move move={step} />{' '}
            <small className="soft">{[step.author, step.at?.replace('T', ' ').slice(0, 16)].filter(Boolean).join(' · ')}</small>
          </li>
        ))}
      </ol>
      {answer.rows !== null && answer.rows.rows.length > 0 && <Rows rows={answer.rows} calls={calls} />}
      {!answer.isWhole && <p className="soft">Steps before that cannot be looked behind.</p>}
    </>
  )
}

/** The rows that account for a difference, those that moved it most first. */
function Rows({
  rows: { table, rows, difference, more },
  calls,
}: {
  rows: NonNullable<MovedAnswer['rows']>
  calls: Pick<SlipCalls, 'travel'>
}) {
  const rest = rows.length - MOST_ROWS + more
  return (
    <>
      <small className="soft">
        rows of {table} that account for {signed(difference)}
      </small>
      <ul className="plain">
        {rows.slice(0, MOST_ROWS).map(({ row, rowNumber, was, change }) => (
          <li key={row}>
            {was === 'gone' ? (
              `row ${rowNumber}, which is gone`
            ) : (
              <button type="button" className="chip" onClick={() => calls.travel({ table, column: '', to: { row } })}>
                row {rowNumber}
              </button>
            )}{' '}
            {signed(change)} {was === 'new' && <small className="soft">new</small>}
          </li>
        ))}
      </ul>
      {rest > 0 && <small className="soft">and {countedOf(rest, 'further row')}</small>}
    </>
  )
}

function Move({ move: { before, after, change } }: { move: ValueMove }) {
  return (
    <>
      {valueText(before)} → {valueText(after)}
      {change !== null && `, ${signed(change)}`}
    </>
  )
}

const valueText = (value: SessionValue | undefined): string =>
  value === undefined ? 'not there' : value === null ? 'blank' : fullText(value)
const signed = (change: number): string => `${change < 0 ? '' : '+'}${fullText(change)}`
