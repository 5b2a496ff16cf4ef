import type { TableView } from 'mellow-abacus'
import type { BookHandle } from '../book/use-book'
import { FindingList } from '../definition/finding-list'

/** What is to be known about the picked column: formula, type, who reads it, findings, and the way to remove it. */
export function BeadFacts({ table, picked, handle }: { table: TableView; picked: string | null; handle: BookHandle }) {
  if (picked === null)
    return <aside className="facts quiet">Pick a bead to see where its values come from and where they go.</aside>
  const column = table.column(picked)
  const summary = column.summary()
  const formula = column.formula
  return (
    <aside className="facts" aria-label={`About ${picked}`}>
      <h2>
        {picked}{' '}
        <span className="quiet">
          {[column.type ?? 'no type yet', column.properties.unit].filter((part) => part !== undefined).join(', ')}
        </span>
      </h2>
      {formula === null ? <p className="quiet">source column</p> : <pre className="formula">{formula}</pre>}
      <p className="quiet">
        {[
          `${summary.values.toLocaleString('en')} values`,
          `${summary.blanks.toLocaleString('en')} blank`,
          `${summary.errors.toLocaleString('en')} ${summary.errors === 1 ? 'error' : 'errors'}`,
          `${column.byteLength().toLocaleString('en')} bytes`,
        ].join(' · ')}
      </p>
      <FindingList
        findings={column.findings()}
        formula={formula ?? undefined}
        onFix={
          formula === null
            ? undefined
            : (text) => handle.apply({ op: 'change-column', table: table.name, column: picked, set: { formula: text } })
        }
      />
      <button type="button" onClick={() => handle.apply({ op: 'remove-column', table: table.name, column: picked })}>
        remove {picked}
      </button>
    </aside>
  )
}
