import { applyEdits, type Fix, hasErrors } from 'mellow-abacus'
import { useState } from 'react'
import { useAtRevision } from '../book/use-at-revision'
import type { BookHandle } from '../book/use-book'
import { readDraft } from './draft'
import { Explanation } from './explanation'
import { FindingList } from './finding-list'
import { FormulaEditor, type Replacement } from './formula-editor'
import { PreviewTable } from './preview-table'

const NO_FINDINGS: readonly never[] = []

/** The place where a definition is typed: findings while typing, and real rows before anything is added. */
export function DefinitionPanel({
  handle,
  tableName,
  onAdded,
}: {
  handle: BookHandle
  tableName: string
  onAdded: (column: string) => void
}) {
  const [text, setText] = useState('')
  const [replacement, setReplacement] = useState<Replacement>({ text: '' })
  // What is typed goes from the editor to the page only: sent back late, it would take letters away that came after it.
  const replaceText = (next: string): void => {
    setText(next)
    setReplacement({ text: next })
  }
  const table = handle.book.table(tableName)
  const language = handle.book.language(tableName)
  const draft = useAtRevision(handle.revision, text, () => readDraft(handle, tableName, text))
  const shifted = useAtRevision(handle.revision, `spans of ${text}`, () =>
    draft === null
      ? NO_FINDINGS
      : draft.findings.map((one) => ({
          ...one,
          ...(one.from !== undefined && { from: one.from + draft.formulaFrom }),
          ...(one.to !== undefined && { to: one.to + draft.formulaFrom }),
        })),
  )
  const isTaken = draft !== null && table.columns.some((column) => column.name.toLowerCase() === draft.name.toLowerCase())
  const canAdd = draft?.preview != null && !hasErrors(draft.findings) && !isTaken

  const add = (): void => {
    if (draft === null || !canAdd) return
    if (handle.apply({ op: 'add-column', table: tableName, column: { name: draft.name, formula: draft.formula } })) {
      onAdded(draft.name)
      replaceText('')
    }
  }
  const setFormula = (formula: string): void => {
    if (draft !== null) replaceText(text.slice(0, draft.formulaFrom) + formula)
  }
  const useFix = (fix: Fix): void => {
    if (fix.edits !== undefined) setFormula(applyEdits(draft?.formula ?? '', fix.edits))
    else handle.applyFix(fix)
  }
  const tidy = draft === null || draft.name === '' ? null : language.format(draft.formula)
  return (
    <section className="definition">
      <div className="definition-line">
        <span>add a column to {tableName}</span>
        <FormulaEditor
          label={`add a column to ${tableName}`}
          hint="name = formula, for example  frames_left = 10 - brood_frames"
          value={text}
          replacement={replacement}
          findings={shifted}
          language={() => handle.book.language(tableName)}
          onChange={setText}
          onSubmit={add}
        />
        <div className="definition-buttons">
          <button type="button" disabled={!canAdd} onClick={add} title="Ctrl+Enter">
            add column
          </button>
          <button
            type="button"
            disabled={tidy === null || tidy === draft?.formula}
            onClick={() => setFormula(tidy ?? '')}
            title="Even spacing and line breaks"
          >
            tidy
          </button>
        </div>
      </div>
      {draft !== null && (
        <>
          {isTaken && <p className="error">There is a column called {draft.name} already; choose another name.</p>}
          <FindingList findings={draft.findings} formula={draft.formula} onFix={useFix} />
          {draft.preview !== null && draft.preview.type !== null && (
            <>
              <p className="quiet">
                {draft.preview.type} on {draft.preview.rowCount.toLocaleString('en')} rows:{' '}
                {draft.preview.blanks.toLocaleString('en')} blank, {draft.preview.errors.toLocaleString('en')}{' '}
                {draft.preview.errors === 1 ? 'error' : 'errors'}, about {draft.preview.bytes.toLocaleString('en')} bytes. Nothing
                is added yet.
              </p>
              <Explanation explanation={language.explain(draft.formula)} />
              <PreviewTable preview={draft.preview} name={draft.name} table={table} />
            </>
          )}
        </>
      )}
    </section>
  )
}
