import type { Cell } from '../columns/index.js'
import type { Checked, CheckedOrderKey, ColumnId, LinkId } from '../formula/index.js'
import type { Surroundings } from '../values/index.js'
import type { DefinedColumn } from './defined-column.js'
import { type DefinedReport, definedReport } from './defined-report.js'
import type { ColumnModel, DatabaseSource, Model, RowsTable } from './model/index.js'
import { cellsOfPlan } from './queries/index.js'
import { SlimView, stateOf } from './slim-view.js'
import { ringLayout } from './transaction/index.js'

export type { DefinedColumn } from './defined-column.js'
export type { DefinedKey, DefinedLine, DefinedReport, DefinedView } from './defined-report.js'
export { NEIGHBOURS } from './reports/index.js'

/** A rule: its expression is the condition that its rows have to meet. */
export interface DefinedRule extends DefinedColumn {
  /** True where a blank condition breaks it. */
  readonly blankIsWrong: boolean
}

/** A link of a table: each row leads to the row of another whose keys are equal. */
export interface DefinedLink {
  readonly id: LinkId
  readonly name: string
  readonly columns: readonly ColumnId[]
  readonly to: string
  readonly keys: readonly ColumnId[]
}

/** Columns that read each other's earlier rows, in the order in which they are calculated for a row. */
export interface DefinedRing {
  readonly order: readonly ColumnId[]
  /** The groups and the order that all of them look along. */
  readonly by: readonly Checked[]
  readonly orderBy: readonly CheckedOrderKey[]
}

/** A table with all that is defined in it. */
export interface DefinedTable {
  readonly name: string
  readonly columns: readonly DefinedColumn[]
  readonly links: readonly DefinedLink[]
  readonly tallies: readonly DefinedColumn[]
  readonly rules: readonly DefinedRule[]
  /** Columns that read each other's earlier rows. */
  readonly rings: readonly DefinedRing[]
  /** The columns by which its rows are found again; null where it has none. */
  readonly key: readonly ColumnId[] | null
  /** The table of a database of whose rows it has a sample; null where its rows are its own. */
  readonly source: DatabaseSource<ColumnId> | null
}

/** All that a workbook defines. */
export interface Definitions {
  readonly tables: readonly DefinedTable[]
  readonly values: readonly DefinedColumn[]
  readonly reports: readonly DefinedReport[]
  readonly surroundings: Surroundings
  /** What an expression gives that reads no row and no name. */
  constant(expression: Checked): Cell
}

/**
 * What a workbook defines at this moment, for those who carry its formulas elsewhere.
 *
 * @param book - a workbook, or a view of one
 * @throws TypeError for anything else
 */
export function definitionsOf(book: { readonly revision: number }): Definitions {
  if (!(book instanceof SlimView)) throw new TypeError('definitions are those of a workbook')
  const { model, engine } = stateOf(book)
  return {
    tables: model.tables.map((table) => tableOf(model, table)),
    values: model.values.columns.map(columnOf),
    reports: [...model.reports.values()].map((report) => definedReport(model, engine, report)),
    surroundings: engine.surroundings,
    constant: (expression) => cellsOfPlan(engine, model.values, engine.compile({ expression, watches: [] }), [0])[0] ?? null,
  }
}

function tableOf(model: Model, table: RowsTable): DefinedTable {
  return {
    name: table.name,
    columns: table.columns.map(columnOf),
    links: table.links.map(({ id, name, columns, to, keys }) => ({
      id,
      name,
      columns: columns.map((one) => one.id),
      to: to.name,
      keys: keys.map((one) => one.id),
    })),
    tallies: table.tallies.columns.map(columnOf),
    rules: table.rules.columns.map((rule) => ({ ...columnOf(rule), blankIsWrong: rule.properties.blankIsWrong === true })),
    rings: ringsOf(model, table),
    key: table.properties.key,
    source: table.properties.source !== null && 'database' in table.properties.source ? table.properties.source : null,
  }
}

function ringsOf(model: Model, table: RowsTable): DefinedRing[] {
  const sets = new Set(table.columns.flatMap(({ id }) => model.rings.get(id) ?? []))
  const seen = new Set<ColumnId>()
  return [...sets].flatMap((ids) => {
    if ([...ids].some((id) => seen.has(id))) return []
    for (const id of ids) seen.add(id)
    const expressions = [...ids].map((id) => [id, model.columnOf(id).column.formula?.checked?.expression as Checked] as const)
    return ringLayout(new Map(expressions)) ?? []
  })
}

function columnOf({ id, name, type, formula }: ColumnModel): DefinedColumn {
  return { id, name, type, expression: formula?.checked?.expression ?? null, formula: formula?.text ?? null }
}
