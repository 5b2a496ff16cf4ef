import type { ColumnFacts, TableFacts } from '@mellow-abacus/session'
import { applyEdits, type Finding, type Fix, printName } from 'mellow-abacus'
import { lazy, Suspense, useMemo } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { type Draft, draftParts, setDraft, useDraft } from '../formula/draft'
import { useDraftPreview } from '../formula/use-draft-preview'
import { counted, countedOf } from '../look/cell-text'
import { FindingCard } from './finding-card'
import { Reads } from './reads'
import type { SlipCalls } from './slip-calls'
import { Words } from './words'

const FormulaEditor = lazy(() => import('../formula/formula-editor'))

/** The formula of the column, or the definition that is being written: findings, words, and what it would give, before anything is added. */
export function FormulaTab({ table, column, calls }: { table: TableFacts; column: ColumnFacts | undefined; calls: SlipCalls }) {
  const draft = useDraft(table.name)
  const { session } = useDeskBook()
  const mayDefine = ['define', 'own'].includes(session.reader.role)
  if (draft !== null && mayDefine) return <DraftPart table={table} draft={draft} calls={calls} />
  const begin = (of: string | null, text: string): void =>
    setDraft(table.name, { table: table.name, column: of, after: column?.name ?? null, text })
  return (
    <>
      {column === undefined ? (
        <p className="soft">Pick a column to see its formula.</p>
      ) : (
        <StandingFormula table={table} column={column} calls={calls} />
      )}
      {mayDefine && (
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
        <StandingFinding key={`${finding.code} ${finding.message}`} finding={finding} formula={formula} />
      ))}
    </>
  )
}

function StandingFinding({ finding, formula }: { finding: Finding; formula: string | null }) {
  const book = useDeskBook()
  const use = ({ title, edits, operations }: Fix): void => {
    const { table, column } = finding
    if (operations !== undefined) void book.apply(operations as never, title)
    else if (edits !== undefined && formula !== null)
      void book.apply({ op: 'change-column', table, column, set: { formula: applyEdits(formula, edits) } } as never, title)
  }
  return <FindingCard finding={finding} onFix={use} />
}

/** A definition that is being written. */
function DraftPart({ table, draft, calls }: { table: TableFacts; draft: Draft; calls: SlipCalls }) {
  const book = useDeskBook()
  const parts = draftParts(draft)
  const { preview, findings, isOld } = useDraftPreview(table, draft)
  const words = useAnswer(parts === null ? null : JSON.stringify([table.name, parts.formula]), () =>
    book.session.explain(table.name, parts?.formula ?? ''),
  )
  const isTaken =
    draft.column === null && parts !== null && table.columns.some(({ name }) => name.toLowerCase() === parts.name.toLowerCase())
  const isReady =
    parts !== null && preview !== null && preview.type !== null && !isTaken && !findings.some((one) => one.severity === 'error')
  const write = (text: string): void => setDraft(table.name, { ...draft, text })
  const giveUp = (): void => setDraft(table.name, null)
  const keep = async (): Promise<void> => {
    if (!isReady || parts === null || isOld) return
    const after = draft.after === null ? -1 : table.columns.findIndex(({ name }) => name === draft.after)
    const before = after < 0 ? undefined : table.columns[after + 1]?.name
    const column = { name: parts.name, formula: parts.formula }
    const operation =
      draft.column === null
        ? { op: 'add-column', table: table.name, column, ...(before !== undefined && { before }) }
        : { op: 'change-column', table: table.name, column: draft.column, set: { formula: parts.formula } }
    if (
      !(await book.apply(operation as never, draft.column === null ? `${parts.name} added` : `${parts.name} = ${parts.formula}`))
    )
      return
    giveUp()
    calls.travel({ table: table.name, column: parts.name })
  }
  const use = (fix: Fix): void => {
    if (fix.edits !== undefined && parts !== null) write(draft.text.slice(0, parts.from) + applyEdits(parts.formula, fix.edits))
    else if (fix.operations !== undefined) void book.apply(fix.operations as never, fix.title)
  }
  const tidy = async (): Promise<void> => {
    if (parts === null) return
    write(draft.text.slice(0, parts.from) + (await book.session.language.format(table.name, parts.formula)))
  }
  const spans = useMemo(() => findings.map((one) => shifted(one, parts?.from ?? 0)), [findings, parts?.from])
  const edited = useMemo(
    () => ({
      language: book.session.language,
      table: table.name,
      parts: (text: string) => draftParts({ column: draft.column, text }),
    }),
    [book, table.name, draft.column],
  )
  const label = draft.column === null ? `new column of ${table.name}` : `formula of ${draft.column}`
  return (
    <>
      <small className="soft">
        {label}
        {draft.column === null && draft.after !== null && `, after ${draft.after}`}
      </small>
      <Suspense fallback={<div className="code editor-coming">{draft.text}</div>}>
        <FormulaEditor
          key={label}
          label={label}
          hint={draft.column === null ? 'name = formula, for example\ndouble = 2 * honey_kg' : 'a formula'}
          value={draft.text}
          findings={spans}
          edited={edited}
          onChange={write}
          onSubmit={() => void keep()}
          onGiveUp={giveUp}
        />
      </Suspense>
      {isTaken && <p className="card error">There is a column called {parts?.name} already; choose another name.</p>}
      {findings.map((finding) => (
        <FindingCard key={`${finding.code} ${finding.from} ${finding.message}`} finding={finding} onFix={use} />
      ))}
      {words.answer !== null && <Words explanation={words.answer} />}
      {preview !== null && preview.type !== null && (
        <dl>
          <dt>type</dt>
          <dd>{preview.type}</dd>
          <dt>gives</dt>
          <dd>
            {countedOf(preview.rowCount - preview.blanks - preview.errors, 'value')}
            {preview.blanks > 0 && ` · ${counted(preview.blanks)} blank`}
            {preview.errors > 0 && ` · ${countedOf(preview.errors, 'error')}`}
          </dd>
          <dt>costs</dt>
          <dd>{sizeText(preview.bytes)}, calculated at once</dd>
        </dl>
      )}
      {parts === null && draft.text.trim() === '' && (
        <p className="soft">
          Write a name, an equals sign and a formula. Names of columns are offered as you type, and what it would give is shown on
          real rows before anything is added.
        </p>
      )}
      <div className="row draft-buttons">
        <button type="button" className="go" disabled={!isReady || isOld} onClick={() => void keep()}>
          {draft.column === null ? 'Add column' : 'Change formula'}
        </button>
        <small>Ctrl Enter</small>
        <button type="button" disabled={parts === null} onClick={() => void tidy()}>
          Tidy
        </button>
        <button type="button" className="un" onClick={giveUp}>
          Give up
        </button>
      </div>
    </>
  )
}

function shifted(finding: Finding, by: number): Finding {
  const { from, to } = finding
  return { ...finding, ...(from !== undefined && { from: from + by }), ...(to !== undefined && { to: to + by }) }
}

function sizeText(bytes: number): string {
  return bytes < 10_000 ? `${counted(bytes)} bytes` : `${counted(Math.round(bytes / 1_000))} kB`
}
