import { type ColumnPreview, type Finding, hasErrors, parseDefinition } from 'mellow-abacus'
import { type KeyboardEvent, useId, useState } from 'react'
import { useAtRevision } from '../book/use-at-revision'
import type { BookHandle } from '../book/use-book'
import { FindingList } from './finding-list'
import { PreviewTable } from './preview-table'

/** What the text typed so far comes to. */
interface Draft {
  readonly name: string
  readonly formula: string
  /** Where the formula starts in the text typed. */
  readonly formulaFrom: number
  readonly findings: readonly Finding[]
  readonly preview: ColumnPreview | null
}

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
  const field = useId()
  const table = handle.book.table(tableName)
  const draft = useAtRevision(handle.revision, text, () => readDraft(handle, tableName, text))
  const isTaken = draft !== null && table.columns.some((column) => column.name.toLowerCase() === draft.name.toLowerCase())
  const canAdd = draft?.preview != null && !hasErrors(draft.findings) && !isTaken

  const add = (): void => {
    if (draft === null || !canAdd) return
    if (handle.apply({ op: 'add-column', table: tableName, column: { name: draft.name, formula: draft.formula } })) {
      onAdded(draft.name)
      setText('')
    }
  }
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault()
      add()
    }
  }
  const useFix = (formula: string): void => {
    if (draft !== null) setText(text.slice(0, draft.formulaFrom) + formula)
  }
  return (
    <section className="definition">
      <div className="definition-line">
        <label htmlFor={field}>add a column to {tableName}</label>
        <textarea
          id={field}
          rows={2}
          spellCheck={false}
          placeholder="name = formula, for example  frames_left = 10 - brood_frames"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={onKeyDown}
        />
        <button type="button" disabled={!canAdd} onClick={add} title="Ctrl+Enter">
          add column
        </button>
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
              <PreviewTable preview={draft.preview} name={draft.name} table={table} />
            </>
          )}
        </>
      )}
    </section>
  )
}

function readDraft(handle: BookHandle, tableName: string, text: string): Draft | null {
  if (text.trim() === '') return null
  const definition = parseDefinition(text)
  if ('findings' in definition) return { name: '', formula: text, formulaFrom: 0, findings: definition.findings, preview: null }
  const { name, formula, formulaFrom } = definition
  const preview = handle.book.previewColumn(tableName, { name, formula })
  return { name, formula, formulaFrom, findings: preview.findings, preview }
}
