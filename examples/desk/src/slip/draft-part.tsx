import type { TableFacts } from '@mellow-abacus/session'
import { applyEdits, type Finding, type Fix, type Operation } from 'mellow-abacus'
import { printName } from 'mellow-abacus/display'
import { Suspense, useMemo, useRef, useState } from 'react'
import { useAnswer, useDeskBook } from '../book/use-book'
import type { Draft } from '../formula/draft'
import { draftParts } from '../formula/draft-parts'
import type { PreviewedDraft } from '../formula/use-draft-preview'
import { counted, countedOf } from '../look/cell-text'
import { lazily } from '../look/lazily'
import { EffectsPart } from './effects-part'
import { FindingCard } from './finding-card'
import { FunctionsPart } from './functions-part'
import type { SlipCalls } from './slip-calls'
import { Words } from './words'

const FormulaEditor = lazily(async () => (await import('../formula/formula-editor')).FormulaEditor)

/** A definition that is being written. */
export function DraftPart({
  table,
  draft,
  previewed,
  calls,
}: {
  table: TableFacts
  draft: Draft
  previewed: PreviewedDraft | null
  calls: SlipCalls
}) {
  const book = useDeskBook()
  const parts = draftParts(draft)
  const [put, setPut] = useState<{ readonly name: string } | null>(null)
  const { preview, findings, isOld } = previewed ?? { preview: null, findings: NO_FINDINGS, isOld: true }
  // What it says in words waits, as the preview does, until nothing is typed for a moment.
  const calm = previewed === null || isOld ? undefined : previewed.parts?.formula
  const asked = useKept(calm)
  const words = useAnswer(asked === undefined ? null : JSON.stringify([table.name, asked]), () =>
    book.session.explain(table.name, asked ?? ''),
  )
  const isTaken =
    draft.column === null && parts !== null && table.columns.some(({ name }) => name.toLowerCase() === parts.name.toLowerCase())
  const isReady =
    parts !== null && preview !== null && preview.type !== null && !isTaken && !findings.some((one) => one.severity === 'error')
  const standing = table.columns.find(({ name }) => name === draft.column)?.formula ?? ''
  const isOvertaken = draft.base !== null && draft.base !== standing
  const write = (text: string): void => book.drafts.set(table.name, { ...draft, text })
  const giveUp = (): void => book.drafts.set(table.name, null)
  const keep = async (): Promise<void> => {
    if (!isReady || parts === null || isOld) return
    const after = draft.after === null ? -1 : table.columns.findIndex(({ name }) => name === draft.after)
    const before = after < 0 ? undefined : table.columns[after + 1]?.name
    const column = { name: parts.name, formula: parts.formula }
    const operations: Operation[] =
      draft.column === null
        ? [{ op: 'add-column', table: table.name, column, ...(before !== undefined && { before }) }]
        : draft.examples !== undefined
          ? inPlaceOf(table, draft.column, parts.formula)
          : [{ op: 'change-column', table: table.name, column: draft.column, set: { formula: parts.formula } }]
    if (!(await book.apply(operations, draft.column === null ? `${parts.name} added` : `${parts.name} = ${parts.formula}`)))
      return
    giveUp()
    calls.travel({ table: table.name, column: parts.name })
  }
  const use = (fix: Fix): void => {
    if (fix.edits !== undefined && parts !== null) write(draft.text.slice(0, parts.from) + applyEdits(parts.formula, fix.edits))
    else void book.applyFix(fix)
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
          put={put}
          onChange={write}
          onSubmit={() => void keep()}
          onGiveUp={giveUp}
        />
      </Suspense>
      {isOvertaken && (
        <div className="card warning">
          <p>
            The formula of {draft.column} was changed meanwhile, from <code>{draft.base}</code> to <code>{standing}</code>.
          </p>
          <div className="row">
            <button type="button" onClick={() => book.drafts.set(table.name, { ...draft, text: standing, base: standing })}>
              Begin from it
            </button>
            <button type="button" onClick={() => book.drafts.set(table.name, { ...draft, base: standing })}>
              Go on with mine
            </button>
          </div>
        </div>
      )}
      {isTaken && <p className="card error">There is a column called {parts?.name} already; choose another name.</p>}
      {findings.map((finding) => (
        <FindingCard key={`${finding.code} ${finding.from} ${finding.message}`} finding={finding} onFix={use} />
      ))}
      {words.answer !== null && <Words explanation={words.answer} />}
      {preview !== null && preview.type !== null && (
        <dl>
          <dt>type</dt>
          <dd>
            {preview.type}
            {preview.unit !== null && ` in ${preview.unit}`}
          </dd>
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
      {draft.column !== null && draft.examples === undefined && isReady && parts.formula !== standing && (
        <EffectsPart table={table} column={draft.column} formula={parts.formula} />
      )}
      {parts === null && draft.text.trim() === '' && (
        <p className="soft">
          Write a name, an equals sign and a formula. Names of columns are offered as you type, and what it would give is shown on
          real rows before anything is added.
        </p>
      )}
      <div className="row draft-buttons">
        <button type="button" className="go" disabled={!isReady || isOld} onClick={() => void keep()}>
          {draft.column === null ? 'Add column' : draft.examples === undefined ? 'Change formula' : 'Use formula'}
        </button>
        <small>Ctrl Enter</small>
        <button type="button" disabled={parts === null} onClick={() => void tidy()}>
          Tidy
        </button>
        <button type="button" className="un" onClick={giveUp}>
          Give up
        </button>
      </div>
      <FunctionsPart
        table={table.name}
        onUse={(name) => setPut({ name })}
        onTake={(name, formula) => write(draft.column === null ? `${printName(name)} = ${formula}` : formula)}
      />
    </>
  )
}

/** What people say of a column, and keep when it becomes a calculated one. */
const KEPT_PROPERTIES = ['heading', 'unit', 'symbol', 'display', 'decimals', 'tags', 'note']

/** A calculated column in the place of one that holds nothing but examples of it. */
function inPlaceOf(table: TableFacts, name: string, formula: string): Operation[] {
  const at = table.columns.findIndex((column) => column.name === name)
  const next = table.columns[at + 1]?.name
  const said = Object.entries(table.columns[at]?.properties ?? {}).filter(([key]) => KEPT_PROPERTIES.includes(key))
  const column = { name, formula, ...Object.fromEntries(said) }
  return [
    { op: 'remove-column', table: table.name, column: name },
    { op: 'add-column', table: table.name, column, ...(next !== undefined && { before: next }) },
  ]
}

/** The last value that was there. */
function useKept<Value>(value: Value | undefined): Value | undefined {
  const kept = useRef(value)
  if (value !== undefined) kept.current = value
  return kept.current
}

const NO_FINDINGS: readonly Finding[] = []

function shifted(finding: Finding, by: number): Finding {
  const { from, to } = finding
  return { ...finding, ...(from !== undefined && { from: from + by }), ...(to !== undefined && { to: to + by }) }
}

function sizeText(bytes: number): string {
  return bytes < 10_000 ? `${counted(bytes)} bytes` : `${counted(Math.round(bytes / 1_000))} kB`
}
