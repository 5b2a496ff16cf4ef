import type { ColumnFacts, TableFacts } from '@mellow-abacus/session'
import type { Finding } from 'mellow-abacus'
import { printName } from 'mellow-abacus/display'
import { Suspense } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { useDraft } from '../formula/use-draft'
import type { PreviewedDraft } from '../formula/use-draft-preview'
import { lazily } from '../look/lazily'
import { FindingCard } from './finding-card'
import { mend } from './mend'
import { Reads } from './reads'
import { RowsOfFinding } from './rows-of-finding'
import type { SlipCalls } from './slip-calls'
import { Words } from './words'

/** What a definition needs that is being written comes when one is. */
const DraftPart = lazily(async () => (await import('./draft-part')).DraftPart)

/** What formulas are sought by comes when there is a column that has none. */
const ExamplesPart = lazily(async () => (await import('./examples-part')).ExamplesPart)

/** The formula of the column, or the definition that is being written: findings, words, and what it would give, before anything is added. */
export function FormulaTab({
  table,
  column,
  previewed,
  calls,
}: {
  table: TableFacts
  column: ColumnFacts | undefined
  previewed: PreviewedDraft | null
  calls: SlipCalls
}) {
  const draft = useDraft(table.name)
  const { may, drafts } = useDeskBook()
  if (draft !== null && may.define)
    return (
      <Suspense fallback={<p role="status">Coming…</p>}>
        <DraftPart table={table} draft={draft} previewed={previewed} calls={calls} />
      </Suspense>
    )
  const begin = (of: string | null, text: string): void =>
    drafts.set(table.name, { table: table.name, column: of, after: column?.name ?? null, text, base: of === null ? null : text })
  return (
    <>
      {column === undefined ? (
        <p className="soft">Pick a column to see its formula.</p>
      ) : (
        <StandingFormula table={table} column={column} calls={calls} />
      )}
      {column !== undefined && column.formula === null && !column.withheld && !column.calculated && (
        <Suspense fallback={null}>
          <ExamplesPart table={table} column={column} calls={calls} />
        </Suspense>
      )}
      {may.define && (
        <div className="row">
          {column !== undefined && column.formula !== null && (
            <button type="button" className="go" onClick={() => begin(column.name, column.formula ?? '')}>
              Edit formula
            </button>
          )}
          <button type="button" className={column?.formula === null ? 'go' : ''} onClick={() => begin(null, '')}>
            New calculated column
          </button>
        </div>
      )}
    </>
  )
}

function StandingFormula({ table, column, calls }: { table: TableFacts; column: ColumnFacts; calls: SlipCalls }) {
  const { session } = useDeskBook()
  const { facts, findings } = useBookState()
  const { name, formula } = column
  const words = useAnswer(formula === null ? null : JSON.stringify([table.name, formula, facts.revision]), () =>
    session.explain(table.name, formula ?? ''),
  )
  const own = findings.filter((one) => one.table === table.name && one.column === name)
  return (
    <>
      <small className="soft">
        {name} of {table.name},{' '}
        {formula === null ? (column.withheld ? 'its formula is withheld' : 'a source column') : 'calculated'}
      </small>
      {formula !== null && <pre className="code">{`${printName(name)} = ${formula}`}</pre>}
      {words.answer !== null && <Words explanation={words.answer} />}
      <Reads table={table} column={name} calls={calls} />
      {own.map((finding) => (
        <StandingFinding key={`${finding.code} ${finding.message}`} finding={finding} formula={formula} calls={calls} />
      ))}
    </>
  )
}

function StandingFinding({ finding, formula, calls }: { finding: Finding; formula: string | null; calls: SlipCalls }) {
  const book = useDeskBook()
  return (
    <FindingCard finding={finding} onFix={book.may.define ? (fix) => void mend(book, finding, fix, formula) : null}>
      <RowsOfFinding finding={finding} calls={calls} />
    </FindingCard>
  )
}
