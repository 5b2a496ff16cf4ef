import type { Workbook } from 'mellow-abacus'
import { useEffect, useState } from 'react'
import { useBook } from './book/use-book'
import { DefinitionPanel } from './definition/definition-panel'
import { Grid } from './grid/grid'
import { BeadFacts } from './rod/bead-facts'
import { Rod } from './rod/rod'

/** True for the editor of formulas, whose events come from its shadow root. */
function isEditor(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && target.classList.contains('formula-editor')
}

/** The page: a table to pick, the rod of its beads, a definition to type, and the rows. */
export function Desk({ book }: { book: Workbook }) {
  const handle = useBook(book)
  const [tableName, setTableName] = useState('inspections')
  const [picked, setPicked] = useState<string | null>('infestation')
  const table = book.table(tableName)
  const names = table.columns.map((column) => column.name)
  const pickedColumn = picked !== null && names.includes(picked) ? picked : null

  const { turn } = handle
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return
      // In a text field the field's own undo is meant.
      if (event.target instanceof HTMLInputElement || isEditor(event.target)) return
      event.preventDefault()
      turn(event.shiftKey ? 'redo' : 'undo')
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [turn])

  return (
    <main className="desk">
      <header className="desk-head">
        <h1>Mellow Abacus</h1>
        <label>
          table{' '}
          <select
            value={tableName}
            onChange={(event) => {
              setTableName(event.target.value)
              setPicked(null)
            }}
          >
            {book.tables.map((name) => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </label>
        <span className="quiet">{table.rowCount.toLocaleString('en')} rows</span>
        <span className="spring" />
        <button type="button" onClick={() => turn('undo')} title="Ctrl+Z">
          undo
        </button>
        <button type="button" onClick={() => turn('redo')} title="Ctrl+Shift+Z">
          redo
        </button>
        <span className="quiet">revision {handle.revision}</span>
      </header>
      <Rod table={table} picked={pickedColumn} onPick={setPicked} />
      <section className="workbench">
        <DefinitionPanel key={tableName} handle={handle} tableName={tableName} onAdded={setPicked} />
        <BeadFacts table={table} picked={pickedColumn} handle={handle} onPick={setPicked} />
      </section>
      <Grid key={`rows of ${tableName}`} handle={handle} tableName={tableName} picked={pickedColumn} onPick={setPicked} />
      <output className={`notice ${handle.notice?.kind ?? ''}`} aria-live="polite">
        {handle.notice === null ? 'Arrow keys move, Enter edits a source cell, Escape gives up.' : handle.notice.text}
        {handle.notice?.fixes.map((fix) => (
          <button type="button" key={fix.title} onClick={() => handle.applyFix(fix)}>
            {fix.title}
          </button>
        ))}
      </output>
    </main>
  )
}
