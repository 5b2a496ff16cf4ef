import type { GroupedView, Operation } from 'mellow-abacus'
import { useState } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { FormDialog } from './form-dialog'
import { ReportTable } from './report-table'
import { namedKeys, namedLines, writtenNamed } from './written'

/** A report being made or changed, with what it gives beside it. */
export function ReportBuilder({
  table: first,
  kept,
  onKept,
  onClose,
}: {
  /** The table that a new one is of. */
  table: string
  /** The report that is changed; null for a new one. */
  kept: { readonly name: string; readonly definition: GroupedView } | null
  onKept: (name: string) => void
  onClose: () => void
}) {
  const book = useDeskBook()
  const { facts, revision } = useBookState()
  const of = kept?.definition
  const [name, setName] = useState(kept?.name ?? '')
  const [table, setTable] = useState(of?.table ?? first)
  const [levels, setLevels] = useState(
    (of?.levels ?? []).map((one) => writtenNamed({ name: one.name ?? one.key, formula: one.key })).join(', '),
  )
  const [tallies, setTallies] = useState(of === undefined ? 'rows = count()' : (of.tallies ?? []).map(writtenNamed).join('\n'))
  const [lines, setLines] = useState((of?.lines ?? []).map(writtenNamed).join('\n'))
  const [where, setWhere] = useState(of?.where ?? '')
  const definition = viewOf({ table, levels, tallies, lines, where }, of)
  const { answer, fault } = useAnswer(JSON.stringify([definition, revision]), () => book.session.report(definition))
  const isReady = name.trim() !== '' && answer !== null && fault === null
  const keep = async (): Promise<void> => {
    if (!isReady) return
    const operation: Operation = { op: 'set-report', name: name.trim(), report: definition }
    if (await book.apply(operation, `report ${name.trim()} kept`)) onKept(name.trim())
  }
  return (
    <FormDialog
      title={kept === null ? 'New report' : `Report ${kept.name}`}
      keep="Keep the report"
      isReady={isReady}
      isWide
      onKeep={() => void keep()}
      onClose={onClose}
    >
      <div className="builder">
        <div className="builder-fields">
          <label className="field">
            <span>name</span>
            <input
              value={name}
              disabled={kept !== null}
              onChange={(event) => setName(event.target.value)}
              placeholder="by_site"
            />
          </label>
          <label className="field">
            <span>of table</span>
            <select value={table} onChange={(event) => setTable(event.target.value)}>
              {facts.tables.map((one) => (
                <option key={one.name}>{one.name}</option>
              ))}
            </select>
          </label>
          <label className="field">
            <span>groups</span>
            <input
              value={levels}
              onChange={(event) => setLevels(event.target.value)}
              placeholder="site = hive.yard.name, forage"
            />
          </label>
          <label className="field tall">
            <span>tallies</span>
            <textarea
              rows={3}
              value={tallies}
              onChange={(event) => setTallies(event.target.value)}
              placeholder="total = sum(honey_kg)"
            />
          </label>
          <label className="field tall">
            <span>lines</span>
            <textarea
              rows={2}
              value={lines}
              onChange={(event) => setLines(event.target.value)}
              placeholder="part = total per parent.total"
            />
          </label>
          <label className="field">
            <span>rows where</span>
            <input value={where} onChange={(event) => setWhere(event.target.value)} placeholder="all rows" />
          </label>
          <p className="soft">
            Groups have commas between them; tallies and lines stand one under the other, each as name = formula. A tally is
            computed over the rows of a group, a line from other columns of the report.
          </p>
        </div>
        <div className="builder-result">
          {fault !== null && <p className="card error">{fault}</p>}
          {fault === null && answer !== null && <ReportTable answer={answer} definition={definition} />}
        </div>
      </div>
    </FormDialog>
  )
}

/** The view as it is written; what the fields do not say of it stays as it was. */
export function viewOf(
  { table, levels, tallies, lines, where }: Readonly<Record<'table' | 'levels' | 'tallies' | 'lines' | 'where', string>>,
  former: GroupedView | undefined,
): GroupedView {
  const { levels: _, tallies: oldTallies = [], lines: oldLines = [], where: __, ...rest } = former ?? { table }
  const known = (list: typeof oldTallies, one: { readonly name: string; readonly formula: string }): object => ({
    ...list.find((old) => old.name === one.name),
    ...one,
  })
  return {
    ...rest,
    table,
    levels: namedKeys(levels).map(({ name, formula }) => (name === formula ? { key: formula } : { name, key: formula })),
    tallies: namedLines(tallies).map((one) => known(oldTallies, one)) as GroupedView['tallies'] & object,
    ...(lines.trim() !== '' && { lines: namedLines(lines).map((one) => known(oldLines, one)) as GroupedView['lines'] & object }),
    ...(where.trim() !== '' && { where: where.trim() }),
  }
}
