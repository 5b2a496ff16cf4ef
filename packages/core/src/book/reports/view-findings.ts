import { type Finding, finding } from '../../findings/index.js'
import { foldName, printName } from '../../values/index.js'
import type { GroupedView, ViewFormula } from '../schemas/index.js'
import type { GroupNode } from './group-tree.js'
import { lookAlikeGroups } from './look-alike-groups.js'
import { partialShares } from './partial-shares.js'
import type { PlacedFormula } from './placed-formula.js'
import { unequalRows } from './unequal-rows.js'
import type { ViewColumn } from './view-columns.js'
import type { ViewParts } from './view-parts.js'

/**
 * What there is to say of a view that is no mistake of its formulas alone: hints, what is read where it is not, totals over
 * different rows, groups that look alike, shares that the condition cuts.
 *
 * @param whole - its groups, arranged
 */
export function viewFindings(parts: ViewParts, whole: GroupNode): Finding[] {
  const { table } = parts.names
  const formulas = formulasOf(parts)
  const found = formulas.flatMap((one) =>
    [...one.checked.findings, ...rowsOnGroups(parts, one), ...unequalRows(parts, one), ...partialShares(parts, one)].map(
      (said): Finding => ({ ...said, column: one.name }),
    ),
  )
  return [...found, ...lookAlikeGroups(parts, whole)].map((one) => ({ ...one, table: table.name }))
}

function formulasOf({ view, names }: ViewParts): PlacedFormula[] {
  const of = (kind: PlacedFormula['kind'], list: readonly ViewFormula[] = []): PlacedFormula[] =>
    list.flatMap(({ name, formula: text }, at) => {
      const checked = names.formulas.get(`${kind} ${at}`)
      return checked === undefined ? [] : [{ name, text, kind, checked }]
    })
  return [...of('columns', view.columns), ...of('tallies', view.tallies), ...of('lines', view.lines)]
}

/** A formula of lines that reads a column of rows: it is blank on every group. */
function rowsOnGroups({ columns, view }: ViewParts, { name, kind, checked }: PlacedFormula): Finding[] {
  if (kind !== 'lines') return []
  const isOfRowsAlone = ({ level, ofRows, line }: ViewColumn): boolean =>
    level === undefined && ofRows === undefined && line === undefined
  const read = checked.references.flatMap(({ column, from, to }) => {
    const one = columns.all.find(({ id }) => id === column)
    return one !== undefined && isOfRowsAlone(one) ? [{ one, from, to }] : []
  })
  return read.slice(0, 1).map(({ one, from, to }) => {
    const parameters = { name: printName(name), column: printName(one.name), near: tallyOf(view, one) }
    return finding('rows-on-groups', parameters, { from, to })
  })
}

/** A tally that has on groups what a column has on rows. */
function tallyOf({ columns = [] }: GroupedView, { name, type }: ViewColumn): string {
  const formula = columns.find((one) => foldName(one.name) === foldName(name))?.formula.trim() ?? printName(name)
  return `${type === 'number' || type === 'integer' ? 'sum' : type === 'boolean' ? 'count_true' : 'max'}(${formula})`
}
