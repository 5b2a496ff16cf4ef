import type { BookSession, ColumnFacts, HistoryStep, SessionValue, TableFacts } from '@mellow-abacus/session'
import { printName } from 'mellow-abacus/display'
import { useEffect, useState } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { cellText, countedOf, fullText } from '../look/cell-text'
import { Difference } from '../steps/step-facts'
import { MovedPart } from './moved-part'
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
  const { revision, steps } = useBookState()
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
      {path.length === 0 && column?.calculated === false ? (
        <Changes table={table} column={column} row={row as number} />
      ) : (
        derivation.formula !== null && (
          <MovedPart
            key={`${derivation.column} ${derivation.row}`}
            address={derivation.column}
            row={derivation.row}
            begin={lastFollowed(steps, derivation.column)}
            calls={calls}
          />
        )
      )}
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

/** The last step that a column followed, by its address. */
function lastFollowed(steps: readonly HistoryStep[], address: string): number | undefined {
  const isOwn = (one: { readonly table: string; readonly column: string }): boolean =>
    `${printName(one.table)}.${printName(one.column)}` === address.replace(/^tally:/, '')
  return steps.findLast((step) => step.recalculated.some(isOwn))?.revision
}

/** What changed a cell that was typed or read, with what it held before and after. */
function Changes({ table, column, row }: { table: TableFacts; column: ColumnFacts; row: number }) {
  const { steps } = useBookState()
  const isOwn = (one: { readonly table: string; readonly column: string }): boolean =>
    one.table === table.name && one.column === column.name
  const own = steps.flatMap((step) => {
    const cell = step.cells.find((one) => isOwn(one) && one.row === row)
    return cell === undefined ? [] : [{ step, cell }]
  })
  if (own.length === 0) return null
  return (
    <details open>
      <summary className="soft">what changed it</summary>
      <ol className="plain">
        {own
          .toReversed()
          .slice(0, 8)
          .map(({ step: { revision, author, at }, cell }) => (
            <li key={revision}>
              <Difference cell={cell} />{' '}
              <small className="soft">{[author, at?.replace('T', ' ').slice(0, 16)].filter(Boolean).join(' · ')}</small>
            </li>
          ))}
      </ol>
    </details>
  )
}
