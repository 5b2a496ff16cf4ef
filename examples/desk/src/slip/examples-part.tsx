import type { ColumnFacts, SessionValue, TableFacts } from '@mellow-abacus/session'
import type { Operation } from 'mellow-abacus'
import { printName } from 'mellow-abacus/display'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { cellText, countedOf, lookOf } from '../look/cell-text'
import type { SlipCalls } from './slip-calls'

/** Filled cells of a column from which formulas are sought; with more it is a column of its own. */
const MOST_EXAMPLES = 5

/**
 * Formulas that give what was typed into a few cells of a column that is empty otherwise: each is tried beside the column, and a
 * row in which the best two differ is asked about.
 */
export function ExamplesPart({ table, column, calls }: { table: TableFacts; column: ColumnFacts; calls: SlipCalls }) {
  const { session } = useDeskBook()
  const { revision } = useBookState()
  const of = `${table.name} ${column.name} ${revision}`
  const { answer: typed } = useAnswer(`typed ${of}`, () =>
    session.query({
      ...{ table: table.name, columns: [column.name], limit: MOST_EXAMPLES + 1 },
      where: `${printName(column.name)} is not blank`,
    }),
  )
  const examples = (typed?.rows ?? []).flatMap(({ id, cells }) => {
    const value = cells[column.name] ?? null
    return typeof value === 'object' ? [] : [{ row: id, values: { [column.name]: value } }]
  })
  const isAsked = examples.length > 0 && typed !== null && typed.matched <= MOST_EXAMPLES && typed.matched < table.rows
  const { answer: found, fault } = useAnswer(isAsked ? `suggest ${of} ${JSON.stringify(examples)}` : null, () =>
    session.suggest({ table: table.name, columns: [column.name], examples }),
  )
  if (typed === null) return null
  if (typed.matched === 0 && table.rows > 0)
    return (
      <p className="soft">
        Type what should come out into one or two cells of {column.name}, and formulas that give it are offered here.
      </p>
    )
  if (!isAsked) return null
  if (fault !== null) return <p className="soft">{fault}</p>
  if (found === null) return <p role="status">Formulas are sought…</p>
  const question = found[0]?.question
  return (
    <section aria-label="Formulas that give these values">
      <small className="soft">
        {countedOf(found.length, 'formula')} that {found.length === 1 ? 'gives' : 'give'} what stands in{' '}
        {countedOf(examples.length, 'row')}
      </small>
      {question !== undefined && (
        <Question
          table={table}
          column={column}
          rowNumber={question.rowNumber}
          row={question.row}
          calls={calls}
          answers={[question.values[column.name] ?? null, question.others[column.name] ?? null]}
        />
      )}
      <ol className="plain">
        {found.map(({ formulas, explanation, blanks, errors, rows }) => (
          <li key={formulas[column.name]} className="card">
            <code>{formulas[column.name]}</code>
            <p className="soft">{explanation}</p>
            {blanks + errors > 0 && (
              <p className="soft">
                {[...(blanks > 0 ? [countedOf(blanks, 'blank')] : []), ...(errors > 0 ? [countedOf(errors, 'error')] : [])].join(
                  ' and ',
                )}{' '}
                in {countedOf(rows, 'row')}
              </p>
            )}
            <Try table={table} column={column} formula={formulas[column.name] ?? ''} examples={examples.map(({ row }) => row)} />
          </li>
        ))}
      </ol>
    </section>
  )
}

/** Puts a formula to the test as a draft of the column. */
function Try({
  table,
  column,
  formula,
  examples,
}: {
  table: TableFacts
  column: ColumnFacts
  formula: string
  examples: readonly number[]
}) {
  const { drafts, may } = useDeskBook()
  if (!may.define) return null
  const draft = { table: table.name, column: column.name, after: null, text: formula, base: null, examples }
  return (
    <button type="button" aria-label={`Try it: ${formula}`} onClick={() => drafts.set(table.name, draft)}>
      Try it
    </button>
  )
}

/** Asks which of two values is wanted in a row; the answer is typed there, as one more example. */
function Question({
  table,
  column,
  row,
  rowNumber,
  answers,
  calls,
}: {
  table: TableFacts
  column: ColumnFacts
  row: number
  rowNumber: number
  answers: readonly SessionValue[]
  calls: SlipCalls
}) {
  const book = useDeskBook()
  const look = lookOf(
    column,
    answers.map((value) => ({ [column.name]: value })),
  )
  const answer = (value: SessionValue): void => {
    const operation = { op: 'set-cells', table: table.name, cells: [{ row, column: column.name, value }] } as Operation
    void book.apply(operation, `row ${rowNumber}: ${cellText(value, look).text}`)
  }
  // An error or a blank is not typed: it is no example.
  const known = answers.filter((value) => value !== null && typeof value !== 'object')
  return (
    <div className="card hint">
      <p>
        The first two differ in{' '}
        <button
          type="button"
          className="link"
          onClick={() => calls.travel({ table: table.name, column: column.name, to: { row } })}
        >
          row {rowNumber}
        </button>
        . What is it there?
      </p>
      <div className="row">
        {known.map((value) => (
          <button type="button" key={String(value)} onClick={() => answer(value)}>
            {cellText(value, look).text}
          </button>
        ))}
      </div>
    </div>
  )
}
