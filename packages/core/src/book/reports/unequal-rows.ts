import { counted, type Finding, finding } from '../../findings/index.js'
import { type Checked, partsOf } from '../../formula/index.js'
import { cellsOfPlan } from '../queries/index.js'
import type { PlacedFormula } from './placed-formula.js'
import { slotsOfView } from './slots-of-view.js'
import type { ViewParts } from './view-parts.js'

/** Functions that add up, or spread what is added up. */
const ADDING: ReadonlySet<string> = new Set(['sum', 'mean'])

/** A total in a formula. */
interface Total {
  readonly text: string
  readonly of: Checked
  readonly from: number
  readonly to: number
}

/**
 * Totals of one formula that are over different rows: what one has where the other is blank counts on one side alone. Two that
 * share no row are of different things, as takings and costs in one column each, and are let be.
 */
export function unequalRows(parts: ViewParts, { text, kind, checked }: PlacedFormula): Finding[] {
  if (kind !== 'tallies') return []
  const { names } = parts
  const totals = totalsIn(names.parameters.filled(checked).expression, text)
  if (totals.length < 2) return []
  const slots = slotsOfView(parts)
  const cells = totals.map(({ of }) =>
    cellsOfPlan(names.engine, names.table, names.engine.compile({ expression: of, watches: [] }), [...slots]),
  )
  const found: Finding[] = []
  for (const [at, one] of totals.entries())
    for (const [place, other] of totals.entries()) {
      if (at === place || text.slice(one.of.from, one.of.to) === text.slice(other.of.from, other.of.to)) continue
      let [both, alone] = [0, 0]
      for (const slot of slots) {
        if ((cells[at]?.[slot] ?? null) === null) continue
        if ((cells[place]?.[slot] ?? null) === null) alone++
        else both++
      }
      if (alone === 0 || both === 0) continue
      const value = text.slice(other.of.from, other.of.to)
      const where = ` where ${other.of.kind === 'column' || other.of.kind === 'follow' ? value : `(${value})`} is not blank`
      const edits = [{ from: one.to - 1, to: one.to - 1, insert: where }]
      const fixes = [{ title: `Write ${one.text.slice(0, -1)}${where})`, edits }]
      const parameters = { one: one.text, other: other.text, count: counted(alone, 'row') }
      found.push(finding('unequal-rows', parameters, { from: one.from, to: one.to, rows: alone, fixes }))
    }
  return found
}

/** The plain totals in a formula: of one value, over all rows. */
function totalsIn(node: Checked, text: string): Total[] {
  const inner = partsOf(node).flatMap((part) => totalsIn(part, text))
  if (node.kind !== 'over-rows' || !ADDING.has(node.record.name)) return inner
  const [of] = node.args
  if (of === undefined || node.rows.which !== 'own' || node.where !== null || node.by.length + node.order.length > 0) return inner
  return [{ text: text.slice(node.from, node.to), of, from: node.from, to: node.to }]
}
