import { counted, type Finding, finding } from '../../findings/index.js'
import type { Checked } from '../../formula/index.js'
import { printName } from '../../values/index.js'
import type { PlacedFormula } from './placed-formula.js'
import { slotsOfView } from './slots-of-view.js'
import type { ViewParts } from './view-parts.js'

/** A share of all rows in a view whose condition leaves some out: the parts that are shown do not make the whole. */
export function partialShares(parts: ViewParts, { name, kind, checked }: PlacedFormula): Finding[] {
  const { names, view } = parts
  if (view.where === undefined || kind === 'lines') return []
  const shared = sharedIn(checked.expression, parts)
  if (shared === null) return []
  const rows = names.table.store.rows.rowCount
  const left = rows - slotsOfView(parts).length
  if (left === 0) return []
  const { from, to } = checked.expression
  const near = `total per whole.total, with total = sum(${shared}),`
  return [finding('partial-shares', { name: printName(name), count: counted(left, 'row'), near }, { from, to, rows: left })]
}

/** What a formula gives the share of, over all rows, or adds up shares of; null for any other. */
function sharedIn(node: Checked, parts: ViewParts): string | null {
  const { table } = parts.names
  if (node.kind === 'column') {
    const column = table.withId(node.column)
    const { text, checked } = column?.formula ?? { text: '', checked: null }
    return checked === null ? null : shareOf(checked.expression, text)
  }
  if (node.kind !== 'over-rows') return null
  const [of] = node.args
  return node.record.name === 'sum' && of?.kind === 'column' ? sharedIn(of, parts) : null
}

function shareOf(node: Checked, text: string): string | null {
  if (node.kind !== 'over-rows' || node.record.name !== 'share' || node.by.length > 0) return null
  const [of] = node.args
  return of === undefined ? null : text.slice(of.from, of.to)
}
