import { counted } from '../../findings/index.js'
import { CellFault, displayNumber } from '../../values/index.js'
import type { ShownValue } from '../model/index.js'
import type { Derivation } from './why.js'

/** A derivation as text, set in by how far back it goes. */
export function derivationText(derivation: Derivation): string {
  const told = new Set<string>()
  const lines: string[] = []
  const shown = (value: ShownValue): string =>
    value === null
      ? '(blank)'
      : value instanceof CellFault
        ? `!${value.code}`
        : typeof value === 'number'
          ? displayNumber(value)
          : String(value)
  const visit = (one: Derivation, depth: number): void => {
    const pad = '  '.repeat(depth)
    const row = one.rowNumber === null ? '' : `, row ${one.rowNumber}`
    const stale = one.isStale ? ' (not up to date)' : ''
    const key = `${one.column} ${one.row}`
    const head = `${pad}${one.column}${row}: ${shown(one.value)}${stale}`
    if (one.formula === null && !one.isWithheld) return void lines.push(head)
    lines.push(one.formula === null ? `${head}, by a formula that is withheld` : `${head} = ${one.formula}`)
    if (told.has(key)) return void lines.push(`${pad}  as told above`)
    told.add(key)
    if (one.withValues !== null && one.withValues !== one.formula) lines.push(`${pad}  = ${one.withValues}`)
    for (const step of one.steps) lines.push(`${pad}  step ${step.name} = ${step.text}: ${shown(step.value)}`)
    for (const branch of one.branches)
      lines.push(`${pad}  taken: ${branch.text}${branch.value === true ? '' : `, which is ${shown(branch.value)}`}`)
    const sources = new Set<string>()
    for (const read of one.reads) {
      const source = read.cell?.formula === null && !read.cell.isWithheld ? `${read.cell.column} ${read.cell.row}` : null
      // A source read twice says the same twice.
      if (source !== null && sources.has(source)) continue
      if (source !== null) sources.add(source)
      if (read.cell !== undefined && read.cell !== null) visit(read.cell, depth + 1)
      else if (read.cell === null) lines.push(`${pad}  ${read.text}: ${shown(read.value)} (not followed further)`)
      else lines.push(`${pad}  ${read.text}: ${shown(read.value)}`)
      const { rows } = read
      if (rows === undefined) continue
      lines.push(`${pad}    over ${counted(rows.count, 'row')} of ${rows.table}`)
      for (const { rowNumber, values } of rows.first)
        lines.push(`${pad}    row ${rowNumber}: ${[...values].map(([name, value]) => `${name} ${shown(value)}`).join(', ')}`)
      if (rows.count > rows.first.length) lines.push(`${pad}    … ${rows.count - rows.first.length} more`)
    }
    if (one.isWithheld) lines.push(`${pad}  and from columns you do not see`)
  }
  visit(derivation, 0)
  return lines.join('\n')
}
