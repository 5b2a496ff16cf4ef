import type { SessionValue } from '@mellow-abacus/session'
import { useState } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { cellText, counted, lookOf } from '../look/cell-text'

/** A report that is kept, line by line; groups fold. It follows the workbook. */
export function ReportView({ name }: { name: string }) {
  const { session } = useDeskBook()
  const { revision, facts } = useBookState()
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set())
  const { answer, fault } = useAnswer(JSON.stringify([name, revision]), () => session.report(name))
  const definition = facts.reports.find((one) => one.name === name)?.definition
  if (fault !== null) return <p className="card error">{fault}</p>
  if (answer === null) return <p role="status">Calculating…</p>
  const { rowCount, keptCount, levels } = answer
  // How deep a line is, is seen.
  const own = answer.columns.flatMap(({ name: of }, at) => (of === 'level' && !levels.includes(of) ? [] : [at]))
  const columns = own.map((at) => answer.columns[at] as (typeof answer.columns)[number])
  const lines = answer.lines.map((line) => ({ ...line, values: own.map((at) => line.values[at] as SessionValue) }))
  const sample = lines.map(({ values }) =>
    Object.fromEntries(columns.map((column, at) => [column.name, values[at] as SessionValue])),
  )
  const looks = columns.map(({ name: of, type }) => {
    const said = [...(definition?.tallies ?? []), ...(definition?.lines ?? []), ...(definition?.columns ?? [])].find(
      (one) => one.name === of,
    )
    const { display, decimals } = said ?? {}
    const properties = { ...(display !== undefined && { display }), ...(decimals !== undefined && { decimals }) }
    return lookOf({ name: of, type, formula: null, withheld: false, calculated: true, state: null, properties }, sample)
  })
  const keys: string[] = []
  const shown = lines.flatMap((line) => {
    const { level, values } = line
    keys.length = Math.max(0, level - 1)
    const isUnder = keys.some((_, depth) => folded.has(JSON.stringify(keys.slice(0, depth + 1))))
    if (level > 0) keys[level - 1] = JSON.stringify(values[level - 1] ?? null)
    return isUnder ? [] : [{ ...line, path: JSON.stringify(keys.slice(0, level)) }]
  })
  return (
    <div className="view">
      <h2>{name}</h2>
      <p className="soft">
        {definition?.table} ·{' '}
        {keptCount === rowCount ? `${counted(rowCount)} rows` : `${counted(keptCount)} of ${counted(rowCount)} rows`}
        {definition?.where !== undefined && ` where ${definition.where}`}
      </p>
      <div className="view-scroll">
        <table className="report">
          <thead>
            <tr>
              {columns.map(({ name: of, unit }, at) => (
                <th scope="col" key={of} className={at < levels.length ? '' : 'numeric'}>
                  {of}
                  {unit !== null && <small> {unit}</small>}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {shown.map(({ kind, level, values, path, rows }, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: lines are told apart by their place alone.
              <tr key={at} className={`line ${kind} level-${level}`}>
                {columns.map(({ name: of }, place) => {
                  const { text, kind: of_ } = cellText(values[place], looks[place] ?? { type: null })
                  const isKey = place < levels.length
                  const isOwn = isKey && place === level - 1
                  const label =
                    kind === 'whole' && place === 0 ? 'all' : isOwn && of_ === 'blank' ? '(blank)' : isKey && !isOwn ? '' : text
                  return (
                    <td key={of} className={isKey ? '' : 'numeric'}>
                      {isOwn && level < levels.length && kind === 'group' ? (
                        <button
                          type="button"
                          className="fold"
                          aria-expanded={!folded.has(path)}
                          onClick={() => {
                            const next = new Set(folded)
                            if (!next.delete(path)) next.add(path)
                            setFolded(next)
                          }}
                        >
                          {folded.has(path) ? '▸' : '▾'} {label}
                        </button>
                      ) : (
                        label
                      )}
                      {isOwn && folded.has(path) && <small> {counted(rows)}</small>}
                    </td>
                  )
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  )
}
