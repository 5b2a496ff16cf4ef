import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { counted, countedOf } from '../look/cell-text'
import { ReportTable } from './report-table'

/** A report that is kept, line by line. It follows the workbook. */
export function ReportView({ name, onEdit }: { name: string; onEdit: () => void }) {
  const book = useDeskBook()
  const { revision, facts } = useBookState()
  const { answer, fault } = useAnswer(JSON.stringify([name, revision]), () => book.session.report(name))
  const definition = facts.reports.find((one) => one.name === name)?.definition
  if (fault !== null) return <p className="card error">{fault}</p>
  if (answer === null) return <p role="status">Calculating…</p>
  const { rowCount, keptCount } = answer
  const rows = keptCount === rowCount ? countedOf(rowCount, 'row') : `${counted(keptCount)} of ${countedOf(rowCount, 'row')}`
  return (
    <div className="view">
      <ViewHead name={name} kind="report" onEdit={onEdit} />
      <p className="soft">
        {definition?.table} · {rows}
        {definition?.where !== undefined && ` where ${definition.where}`}
      </p>
      <div className="view-scroll">
        <ReportTable answer={answer} definition={definition} />
      </div>
    </div>
  )
}

/** The name of a report or chart, and what can be done with it. */
export function ViewHead({ name, kind, onEdit }: { name: string; kind: 'report' | 'chart'; onEdit: () => void }) {
  const book = useDeskBook()
  return (
    <div className="row view-head">
      <h2>{name}</h2>
      {book.may.define && (
        <>
          <button type="button" onClick={onEdit}>
            Edit
          </button>
          <button
            type="button"
            className="un"
            onClick={() => void book.apply({ op: `remove-${kind}`, name }, `${kind} ${name} removed`)}
          >
            Remove {kind}
          </button>
        </>
      )}
    </div>
  )
}
