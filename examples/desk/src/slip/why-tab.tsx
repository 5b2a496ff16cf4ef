import type { BookSession, ColumnFacts, SessionValue, TableFacts } from '@mellow-abacus/session'
import { printName } from 'mellow-abacus/display'
import { useEffect, useState } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { cellText, countedOf, fullText } from '../look/cell-text'
import { Difference } from '../steps/step-facts'
import type { SlipCalls } from './slip-calls'

type Derivation = Awaited<ReturnType<BookSession['why']>>
type Read = Derivation['reads'][number]

/** Where the value of the current cell comes from: pressing a value goes one step further back. */
export function WhyTab({
  table,
  column,
  row,
  calls,
}: {
  table: TableFacts
  column: ColumnFacts | undefined
  row: number | null
  calls: SlipCalls
}) {
  const { session } = useDeskBook()
  const { revision } = useBookState()
  const key = column === undefined || row === null ? null : JSON.stringify([table.name, column.name, row, revision])
  const { answer, fault } = useAnswer(key, () =>
    session.why(`${printName(table.name)}.${printName(column?.name ?? '')}`, row ?? undefined),
  )
  const [path, setPath] = useState<readonly Derivation[]>([])
  // biome-ignore lint/correctness/useExhaustiveDependencies: another cell begins a walk of its own.
  useEffect(() => setPath([]), [table.name, column?.name, row])
  if (key === null) return <p className="soft">Go to a cell, and see here where its value comes from, step by step.</p>
  if (fault !== null) return <p className="card error">{fault}</p>
  if (answer === null) return null
  const derivation = path.at(-1) ?? answer
  return (
    <>
      <nav className="row" aria-label="The way back">
        {[answer, ...path].map((one, at, all) => (
          <button
            type="button"
            key={`${one.column} ${one.row}`}
            className="chip"
            disabled={at === all.length - 1}
            onClick={() => setPath(path.slice(0, at))}
          >
            {placeText(one)}
          </button>
        ))}
      </nav>
      <DerivationPart derivation={derivation} onWalk={(next) => setPath([...path, next])} calls={calls} />
      <Changes table={table} column={column as ColumnFacts} row={row as number} />
    </>
  )
}

const placeText = ({ column, rowNumber }: Derivation): string => (rowNumber === null ? column : `${column}, row ${rowNumber}`)
const valueText = (value: SessionValue): string => (value === null ? 'blank' : fullText(value))

function DerivationPart({
  derivation,
  onWalk,
  calls,
}: {
  derivation: Derivation
  onWalk: (next: Derivation) => void
  calls: SlipCalls
}) {
  const { value, formula, withValues, isStale, isWithheld, steps, branches, reads } = derivation
  const { kind } = cellText(value, { type: null })
  // What a formula names twice it reads once.
  const read = [...new Map(reads.map((one) => [one.text, one])).values()]
  return (
    <>
      <p className={`why-value ${kind}`}>
        {valueText(value)}
        {isStale && <small> stale: not calculated again yet</small>}
      </p>
      {formula === null ? (
        <p className="soft">
          {isWithheld ? 'Its formula is not for you to see.' : 'It was typed or read: nothing lies behind it.'}
        </p>
      ) : (
        <>
          <pre className="code">{formula}</pre>
          {withValues !== null && withValues !== formula && (
            <p>
              <small className="soft">with its values</small>
              <code className="with-values">{withValues}</code>
            </p>
          )}
        </>
      )}
      {branches.length > 0 && <p className="soft">Taken because of {branches.map(({ text }) => text).join(', then ')}.</p>}
      {(steps.length > 0 || reads.length > 0) && (
        <dl className="reads">
          {steps.map((step) => (
            <div key={`${step.name} ${step.text}`}>
              <dt>
                {step.name}
                <small className="soft"> = {step.text}</small>
              </dt>
              <dd>{valueText(step.value)}</dd>
            </div>
          ))}
          {read.map((one) => (
            <ReadLine key={one.text} read={one} of={placeText(derivation)} onWalk={onWalk} calls={calls} />
          ))}
        </dl>
      )}
    </>
  )
}

function ReadLine({
  read,
  of,
  onWalk,
  calls,
}: {
  read: Read
  /** The cell that read it, in words. */
  of: string
  onWalk: (next: Derivation) => void
  calls: SlipCalls
}) {
  const { text, value, cell, rows } = read
  return (
    <div>
      <dt>{text}</dt>
      <dd>
        {cell === undefined || cell === null ? (
          valueText(value)
        ) : (
          <button type="button" className="chip" onClick={() => onWalk(cell)}>
            {valueText(value)}
          </button>
        )}
        {rows !== undefined && (
          <small className="soft">
            {' '}
            from {countedOf(rows.count, 'row')} of {rows.table}
            {rows.first.map((used) => (
              <button
                type="button"
                key={used.row}
                className="chip"
                onClick={() => {
                  const [column] = Object.keys(used.values)
                  calls.travel({ table: rows.table, ...{ column: column ?? '' }, to: { row: used.row } })
                }}
              >
                {used.rowNumber}: {Object.values(used.values).map(valueText).join(', ')}
              </button>
            ))}
            {rows.count > 1 && rows.numbers.length === rows.count && (
              <button
                type="button"
                className="chip"
                onClick={() =>
                  calls.showBeside({
                    table: rows.table,
                    where: `row_number() in (${rows.numbers.join(', ')})`,
                    title: `${countedOf(rows.count, 'row')} of ${rows.table} in ${of}`,
                  })
                }
              >
                all {countedOf(rows.count, 'row')}
              </button>
            )}
          </small>
        )}
      </dd>
    </div>
  )
}

/** What changed the cell, with what it held before and after; of a calculated one the steps that its column followed. */
function Changes({ table, column, row }: { table: TableFacts; column: ColumnFacts; row: number }) {
  const { steps } = useBookState()
  const isOwn = (one: { readonly table: string; readonly column: string }): boolean =>
    one.table === table.name && one.column === column.name
  const own = steps.flatMap((step) => {
    const cell = step.cells.find((one) => isOwn(one) && one.row === row)
    const isFollowed = column.calculated && step.recalculated.some(isOwn)
    return cell !== undefined || isFollowed ? [{ step, cell }] : []
  })
  if (own.length === 0) return null
  return (
    <details open={!column.calculated}>
      <summary className="soft">{column.calculated ? `steps that ${column.name} followed` : 'what changed it'}</summary>
      <ol className="plain">
        {own
          .toReversed()
          .slice(0, 8)
          .map(({ step: { revision, what, author, at }, cell }) => (
            <li key={revision}>
              {cell === undefined ? what : <Difference cell={cell} />}{' '}
              <small className="soft">{[author, at?.replace('T', ' ').slice(0, 16)].filter(Boolean).join(' · ')}</small>
            </li>
          ))}
      </ol>
    </details>
  )
}
