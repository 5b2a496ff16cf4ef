import { type Checked, type DefinedKey, type DefinedReport, type DefinedView, mapParts } from 'mellow-abacus/model'
import { NoForm } from '../dialects/index.js'
import { blankOf, inExpressions, NEVER, type OverRows, overRows, readColumn, unlessError } from '../formulas/index.js'
import type { PartialTotals, TwoSteps } from './partial-totals.js'
import type { Placement } from './placement.js'

/** What a report is taken apart with. */
export interface ReportSteps {
  readonly steps: TwoSteps
  readonly placement: Placement
  /** True for a table whose rows the coordinator does not read. */
  readonly isApart: (table: string) => boolean
  /** An expression over rows of a table, or of none, as the coordinator has it. */
  readonly inSteps: (node: Checked, table: string | null) => Checked
}

/**
 * A report as the coordinator makes it: of rows that are spread each shard gathers the groups that it has, and the report is one of
 * those.
 *
 * @throws NoForm where that would need the rows themselves
 */
export function reportInSteps(report: DefinedReport, view: DefinedView, given: ReportSteps): DefinedReport {
  const keys = view.keys.map((key) => ({ ...key, sorted: sortedInSteps(key.sorted, given) }))
  if (given.isApart(report.table)) return overTotals(report, { ...view, keys }, given)
  const ofRow = (node: Checked): Checked => given.inSteps(node, report.table)
  const tally = (node: Checked): Checked => {
    if (node.kind !== 'over-rows') return mapParts(node, tally)
    return isOfOwn(node, report) ? mapParts(node, ofRow) : given.inSteps(node, null)
  }
  return {
    ...report,
    view: {
      ...view,
      where: view.where && ofRow(view.where),
      keys: keys.map((key) => ({ ...key, expression: ofRow(key.expression as Checked) })),
      tallies: view.tallies.map((one) => ({ ...one, expression: tally(one.expression as Checked) })),
    },
  }
}

/** A report of rows as one of the totals that shards make of them. */
function overTotals(report: DefinedReport, view: DefinedView, { steps, placement, inSteps }: ReportSteps): DefinedReport {
  const onShards = (node: Checked, what: string): Checked => {
    if (placement.reach(node, report.table).place !== 'coordinator') return node
    throw new NoForm(`${what} reads more rows of ${report.table} than a server has. ${ways(report.table)}`)
  }
  const filter = view.where && unlessError(onShards(view.where, 'its condition'), NEVER)
  const expressions = view.keys.map(({ name, expression }) => onShards(expression as Checked, `the key ${name}`))
  const totals = steps.totals(report.table, expressions, filter, true)
  const tally = (node: Checked): Checked => {
    if (node.kind !== 'over-rows') return mapParts(node, tally)
    if (!isOfOwn(node, report)) return inSteps(node, null)
    for (const part of [...node.args, ...(node.where === null ? [] : [node.where])]) onShards(part, `${node.record.name}()`)
    const made = steps.ofGroups(totals, node)
    if (made !== null) return made
    throw new NoForm(`${node.record.name}() is not to be had from what each server gathers of its rows. ${ways(report.table)}`)
  }
  return {
    ...report,
    table: totals.name,
    view: {
      ...view,
      where: null,
      rowCount: tally(view.rowCount),
      keys: view.keys.map((key, index) => ({ ...key, expression: keyOf(totals, index) })),
      tallies: view.tallies.map((one) => ({ ...one, expression: tally(one.expression as Checked) })),
    },
  }
}

function isOfOwn({ rows }: OverRows, { table }: DefinedReport): boolean {
  return rows.which === 'own' && rows.table === table
}

function keyOf({ keys }: PartialTotals, index: number): Checked {
  const { id, expression } = keys[index] as PartialTotals['keys'][number]
  return readColumn(id, expression.type)
}

/** What can be done. */
function ways(table: string): string {
  return `Leave the report out, or let the rows be brought to one place: --gather ${table}`
}

/** What a key is put in order by: of rows that are spread, what each shard has lowest for a value. */
function sortedInSteps(sorted: DefinedKey['sorted'], { steps, placement, isApart }: ReportSteps): DefinedKey['sorted'] {
  if (sorted === null || !isApart(sorted.table)) return sorted
  const key = readColumn(sorted.column, inExpressions(placement.typeOf(sorted.column)))
  const value = readColumn(sorted.by, inExpressions(sorted.type))
  for (const part of [key, value])
    if (placement.reach(part, sorted.table).place === 'coordinator')
      throw new NoForm(`the order of a key reads more rows of ${sorted.table} than a server has. ${ways(sorted.table)}`)
  const totals = steps.totals(sorted.table, [key], null)
  const rows = { table: sorted.table, which: 'own', links: [] } as const
  const lowest = steps.part(totals, overRows('min', { rows, args: [unlessError(value, blankOf(value.type))], type: value.type }))
  const [{ id: column }] = totals.keys as [PartialTotals['keys'][number]]
  return { ...sorted, table: totals.name, column, by: (lowest as Checked & { kind: 'column' }).column }
}
