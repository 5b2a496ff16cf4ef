import type { ReportAnswer, SessionValue } from '@mellow-abacus/session'
import type { GroupedView } from 'mellow-abacus'
import { useState } from 'react'
import { cellText, counted, lookOf } from '../look/cell-text'

/** A figure of a report: a column of it, for the group with these keys; for the whole of it without any. */
export interface ReportFigure {
  readonly column: string
  readonly keys: readonly string[]
}

/** The lines of a report; groups fold, and figures are asked about by a press. */
export function ReportTable({
  answer,
  definition,
  onFigure,
}: {
  answer: ReportAnswer
  definition: GroupedView | undefined
  onFigure?: (figure: ReportFigure) => void
}) {
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set())
  const { levels } = answer
  // How deep a line is, is seen.
  const own = answer.columns.flatMap(({ name }, at) => (name === 'level' && !levels.includes(name) ? [] : [at]))
  const columns = own.map((at) => answer.columns[at] as ReportAnswer['columns'][number])
  const lines = answer.lines.map((line) => ({ ...line, values: own.map((at) => line.values[at] as SessionValue) }))
  const sample = lines.map(({ values }) => Object.fromEntries(columns.map(({ name }, at) => [name, values[at] as SessionValue])))
  const said = [...(definition?.tallies ?? []), ...(definition?.lines ?? []), ...(definition?.columns ?? [])]
  const looks = columns.map(({ name, type, unit }) => {
    const { display, decimals } = said.find((one) => one.name === name) ?? {}
    const properties = { ...(display !== undefined && { display }), ...(decimals !== undefined && { decimals }) }
    return lookOf({ name, type, unit, formula: null, withheld: false, calculated: true, state: null, properties }, sample)
  })
  const keys: string[] = []
  const written: string[] = []
  const shown = lines.flatMap((line) => {
    const { level, values } = line
    keys.length = Math.max(0, level - 1)
    const isUnder = keys.some((_, depth) => folded.has(JSON.stringify(keys.slice(0, depth + 1))))
    if (level > 0) keys[level - 1] = JSON.stringify(values[level - 1] ?? null)
    if (level > 0) written[level - 1] = String(values[level - 1] ?? '')
    return isUnder ? [] : [{ ...line, path: JSON.stringify(keys.slice(0, level)), written: written.slice(0, level) }]
  })
  const fold = (path: string): void => {
    const next = new Set(folded)
    if (!next.delete(path)) next.add(path)
    setFolded(next)
  }
  return (
    <table className="report">
      <thead>
        <tr>
          {columns.map(({ name, unit }, at) => (
            <th scope="col" key={name} className={at < levels.length ? '' : 'numeric'}>
              {name}
              {unit !== null && <small> {unit}</small>}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {shown.map(({ kind, level, values, path, written: ofGroup, rows }, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: lines are told apart by their place alone.
          <tr key={at} className={`line ${kind} level-${level}`}>
            {columns.map(({ name }, place) => {
              const { text, kind: of } = cellText(values[place], looks[place] ?? { type: null })
              const isKey = place < levels.length
              const isOwn = isKey && place === level - 1
              const label = keyText({ text, isKey, isOwn, isAll: kind === 'whole' && place === 0, isBlank: of === 'blank' })
              const isFigure = onFigure !== undefined && !isKey && of !== 'blank' && (kind === 'whole' || kind === 'group')
              const isFolding = isOwn && level < levels.length && kind === 'group'
              return (
                <td key={name} className={isKey ? '' : 'numeric'}>
                  {isFolding ? (
                    <button type="button" className="fold" aria-expanded={!folded.has(path)} onClick={() => fold(path)}>
                      {folded.has(path) ? '▸' : '▾'} {label}
                    </button>
                  ) : isFigure ? (
                    <button type="button" className="figure" onClick={() => onFigure({ column: name, keys: ofGroup })}>
                      {label}
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
  )
}

/** What stands in a cell: a key where its group begins, `all` before the whole. */
function keyText({
  text,
  isKey,
  isOwn,
  isAll,
  isBlank,
}: {
  text: string
  isKey: boolean
  isOwn: boolean
  isAll: boolean
  isBlank: boolean
}): string {
  if (isAll) return 'all'
  if (isOwn && isBlank) return '(blank)'
  return isKey && !isOwn ? '' : text
}
