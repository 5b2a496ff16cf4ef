import type { Engine } from '../../engine/index.js'
import { hasErrors, nearestName, refusal } from '../../findings/index.js'
import { checkFormula, isSameName, parseFormula, withoutSteps } from '../../formula/index.js'
import { printName } from '../../values/index.js'
import { type KeptView, keptView, type Model, type ReportModel, type ShownValue, scopeOf, showCell } from '../model/index.js'
import { cellsOfPlan } from '../queries/index.js'
import { type Figure, type RowShares, sharesOf, type TakenRows } from '../tracing/index.js'
import { knownView } from './check-view.js'
import { laidOut, rowsOf } from './make-view.js'
import { withParameters } from './report-parameters.js'
import type { Line } from './view-lines.js'

/** A figure of a report by its name and that of its column; null for an address of anything else. */
export function reportAddress(model: Model, address: string): { readonly report: ReportModel; readonly column: string } | null {
  if (!address.startsWith('report:')) return null
  const rest = address.slice('report:'.length)
  const plain = (name: string): string => (/^`.*`$/s.test(name) ? name.slice(1, -1).replaceAll('``', '`') : name)
  // A name may hold points of its own: the longest name of a report that there is wins.
  for (let at = rest.lastIndexOf('.'); at > 0; at = rest.lastIndexOf('.', at - 1)) {
    const report = [...model.reports.values()].find((one: KeptView) => isSameName(one.name, plain(rest.slice(0, at))))
    if (report !== undefined) return { report, column: plain(rest.slice(at + 1)) }
  }
  keptView(model.reports, 'report', plain(rest.split('.')[0] ?? rest))
  throw refusal('bad-operation', { place: `The address "${address}"`, reason: 'expected report:name.column.' })
}

/**
 * A figure of a report as it is now.
 *
 * @param keys - of the group, the outermost first, as values are written; of all rows for none
 * @throws Refusal for a column or a group that there is not
 */
export function reportFigure(
  model: Model,
  engine: Engine,
  { report, column }: { readonly report: ReportModel; readonly column: string },
  keys: readonly string[],
): Figure {
  const view = { ...withParameters(report, {}), flat: false }
  const known = knownView(model, engine, view)
  const rows = rowsOf(known)
  try {
    const parts = { ...known, rows }
    const { lines, sheet } = laidOut(parts)
    const shown = parts.columns.shown.find(({ name }) => isSameName(name, column))
    if (shown === undefined) {
      const names = parts.columns.shown.map(({ name }) => name)
      const near = nearestName(column, names)
      const hint = near === undefined ? '' : ` Nearest name: ${printName(near)}.`
      throw refusal('bad-operation', { place: `report ${report.name}`, reason: `it has no column ${printName(column)}.${hint}` })
    }
    const keyTypes = parts.columns.keyColumns.map(({ type }) => type)
    const at = lines.findIndex((line) => isGroup(line, keys, keyTypes))
    if (at < 0) {
      const reason = `it has no group ${keys.join(', ')}.`
      throw refusal('bad-operation', { place: `report ${report.name}`, reason })
    }
    const storage = sheet.column(shown.id)
    const value = storage === undefined ? null : showCell(storage.read(at), storage.type)
    const { node } = lines[at] as Line
    const slots = rows.rowsOf(node.level, node.group)
    const formula = view.tallies?.find(({ name }) => isSameName(name, column))?.formula ?? null
    const shares =
      formula === null || typeof value !== 'number' ? null : sharesOfTally(model, engine, report, formula, [...slots])
    return { value, formula, rows: shares }
  } finally {
    rows.end()
  }
}

/** What rows of a group add to a tally; null where it is none that rows add up to. */
function sharesOfTally(
  model: Model,
  engine: Engine,
  { table }: ReportModel,
  formula: string,
  slots: readonly number[],
): RowShares | null {
  const checked = checkFormula(parseFormula(formula), scopeOf(model, table.tallies))
  if (hasErrors(checked.findings)) return null
  const taken: TakenRows = ({ rows, where, by }) => {
    if (rows.which !== 'own' || by.length > 0) return null
    if (where === null) return slots
    const holds = cellsOfPlan(engine, table, engine.compile({ expression: where, watches: [] }), slots)
    return slots.filter((slot) => holds[slot] === true)
  }
  return sharesOf(model, engine, withoutSteps(checked.expression), taken, null)
}

/** True for the line of the group with some keys; of no keys, for that of the whole. */
function isGroup({ kind, node }: Line, keys: readonly string[], types: readonly Parameters<typeof showCell>[1][]): boolean {
  if (keys.length === 0) return kind === 'whole'
  if (kind !== 'group' || node.level !== keys.length) return false
  for (let one: typeof node | null = node; one !== null && one.level > 0; one = one.outer) {
    const key = showCell(one.key, types[one.level - 1] ?? 'text')
    if (keyText(key) !== keys[one.level - 1]) return false
  }
  return true
}

const keyText = (key: ShownValue): string => (key === null ? '' : String(key))
