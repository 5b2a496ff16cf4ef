import { printName } from 'mellow-abacus/display'
import { useState } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { counted, countedOf } from '../look/cell-text'
import { MovedPart } from '../slip/moved-part'
import type { SlipCalls } from '../slip/slip-calls'
import { type ReportFigure, ReportTable } from './report-table'

/** A report that is kept, line by line. It follows the workbook, and says what moved a figure that is pressed. */
export function ReportView({ name, onEdit, calls }: { name: string; onEdit: () => void; calls: Pick<SlipCalls, 'travel'> }) {
  const book = useDeskBook()
  const [asked, setAsked] = useState<ReportFigure | null>(null)
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
        <ReportTable answer={answer} definition={definition} onFigure={setAsked} />
      </div>
      {asked !== null && (
        <section className="asked" aria-label="About a figure">
          <div className="row">
            <strong>
              {asked.column} of {asked.keys.length === 0 ? 'all' : asked.keys.map((key) => key || '(blank)').join(', ')}
            </strong>
            <button type="button" className="icon-button" aria-label="Close" onClick={() => setAsked(null)}>
              ×
            </button>
          </div>
          <MovedPart
            key={JSON.stringify(asked)}
            address={`report:${printName(name)}.${printName(asked.column)}`}
            keys={asked.keys}
            calls={calls}
            isFirst
          />
        </section>
      )}
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
