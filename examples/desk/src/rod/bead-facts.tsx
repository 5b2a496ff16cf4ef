import { applyEdits, type Fix, type TableView } from 'mellow-abacus'
import type { BookHandle } from '../book/use-book'
import { Explanation } from '../definition/explanation'
import { FindingList } from '../definition/finding-list'
import { ColumnLife } from './column-life'

/** What is to be known about the picked column: formula, type, who reads it, findings, and what can become of it. */
export function BeadFacts({
  table,
  picked,
  handle,
  onPick,
}: {
  table: TableView
  picked: string | null
  handle: BookHandle
  onPick: (column: string) => void
}) {
  if (picked === null)
    return <aside className="facts quiet">Pick a bead to see where its values come from and where they go.</aside>
  const column = table.column(picked)
  const summary = column.summary()
  const formula = column.formula
  const place = { table: table.name, column: picked }
  const useFix = (fix: Fix): void => {
    if (fix.edits === undefined) handle.applyFix(fix)
    else if (formula !== null) handle.apply({ op: 'change-column', ...place, set: { formula: applyEdits(formula, fix.edits) } })
  }
  return (
    <aside className="facts" aria-label={`About ${picked}`}>
      <h2>
        {picked}{' '}
        <span className="quiet">
          {[column.type ?? 'no type yet', column.properties.unit, column.properties.hidden === true ? 'hidden' : undefined]
            .filter((part) => part !== undefined)
            .join(', ')}
        </span>
      </h2>
      {formula === null ? <p className="quiet">source column</p> : <pre className="formula">{formula}</pre>}
      {formula !== null && <Explanation explanation={handle.book.language(table.name).explain(formula)} />}
      <p className="quiet">
        {[
          `${summary.values.toLocaleString('en')} values`,
          `${summary.blanks.toLocaleString('en')} blank`,
          `${summary.errors.toLocaleString('en')} ${summary.errors === 1 ? 'error' : 'errors'}`,
          `${column.byteLength().toLocaleString('en')} bytes`,
        ].join(' · ')}
      </p>
      <FindingList findings={column.findings()} formula={formula ?? undefined} onFix={useFix} />
      <ColumnLife key={picked} column={column} place={place} handle={handle} onRenamed={onPick} />
    </aside>
  )
}
