import type { Checked } from './checked.js'
import type { ColumnUse, ColumnUses } from './column-use.js'
import { partsOf } from './parts.js'

/** Functions across the row that make a score of their parts, so that these should be on one scale. */
const SCORES: ReadonlySet<string> = new Set(['weighted', 'mean_of', 'median_of'])
/** Functions across the row that take the sizes of their arguments in. */
const TOTALS: ReadonlySet<string> = new Set([...SCORES, 'sum_of', 'points_of'])

/** Finds the uses of columns by size: not those in conditions, nor as a divisor, whose zeros are told as such. */
export function columnUses(expression: Checked): ColumnUses {
  const measures: ColumnUse[] = []
  const scores: { parts: ColumnUse[]; from: number; to: number }[] = []
  const note = (node: Checked): void => {
    if (node.kind === 'column' && node.type === 'number') measures.push(node)
  }
  const visit = (node: Checked): void => {
    if (node.kind === 'chain' && node.type === 'number') {
      note(node.first)
      for (const { operator, operand } of node.rest) if (operator !== 'divide' && operator !== 'per') note(operand)
    }
    if (node.kind === 'call' && TOTALS.has(node.record.name)) {
      if (!node.blanksAsZero) node.args.forEach(note)
      if (SCORES.has(node.record.name)) {
        const parts = node.args.flatMap((arg) => (arg.kind === 'column' ? [arg] : []))
        scores.push({ parts, from: node.from, to: node.to })
      }
    }
    // What stands inside a function of several rows or behind a link belongs to other rows.
    if (node.kind === 'over-rows' || node.kind === 'follow') return
    for (const part of partsOf(node)) visit(part)
  }
  visit(expression)
  return { measures, scores }
}
