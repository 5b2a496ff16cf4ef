import type { Engine } from '../engine/index.js'
import type { Checked, ColumnId } from '../formula/index.js'
import { type FunctionRecord, functionNamed } from '../functions/index.js'
import type { ValueType } from '../values/index.js'
import type { DefinedColumn } from './defined-column.js'
import { type Model, orderKeyOf, type ReportModel } from './model/index.js'
import { columnGiven } from './queries/index.js'
import { knownView, type ViewColumn } from './reports/index.js'

/** A key that rows are grouped by: an expression over one of them. */
export interface DefinedKey extends DefinedColumn {
  /** The column whose values it has where that is put in order by another, and the other one. */
  readonly sorted: {
    readonly table: string
    readonly column: ColumnId
    readonly by: ColumnId
    readonly type: ValueType | null
  } | null
}

/** A column that is calculated from others of its line, and of lines around it (`NEIGHBOURS`). */
export interface DefinedLine extends DefinedColumn {
  /** True where it reads itself on the line before. */
  readonly isRunning: boolean
}

/** What a report groups its rows by, and what it has for each group. */
export interface DefinedView {
  /** The rows that it is of are those where this is true; null for all. */
  readonly where: Checked | null
  /** The outermost first. */
  readonly keys: readonly DefinedKey[]
  /** How many rows a line has. */
  readonly rowCount: Checked
  /** Aggregates over the rows of a line. */
  readonly tallies: readonly DefinedColumn[]
  /** Each after those that it reads. */
  readonly lines: readonly DefinedLine[]
  /** The order of the groups of a level, which is from 1. */
  readonly orders: readonly { readonly level: number; readonly by: ColumnId; readonly descending: boolean }[]
  /** The columns of its lines, in their order. */
  readonly shown: readonly ColumnId[]
  /** How many outermost groups it has at most; null for all. */
  readonly limit: number | null
  /** True where it has the innermost groups alone. */
  readonly isFlat: boolean
  /** True where some groups may stand together in one line. */
  readonly hasOthers: boolean
  /** True where a key becomes columns. */
  readonly isSpread: boolean
}

/** A report as it is defined. */
export interface DefinedReport {
  readonly name: string
  readonly table: string
  /** The parameters that have no value. */
  readonly asks: readonly string[]
  /** Null as long as it asks for something. */
  readonly view: DefinedView | null
}

/** A report with its formulas typed and the values of its parameters put in. */
export function definedReport(model: Model, engine: Engine, { name, table, view }: ReportModel): DefinedReport {
  const { parameters = [], levels = [], tallies = [], lines = [], limit = null, flat = false } = view
  const asks = parameters.flatMap((one) => (one.value === undefined ? [one.name] : []))
  if (asks.length > 0) return { name, table: table.name, asks, view: null }
  const { where, columns, arrangement } = knownView(model, engine, view)
  const formulas = new Map([...tallies, ...lines].map((one) => [one.name, one.formula]))
  const column = ({ id, name: called, type }: ViewColumn, expression: Checked): DefinedColumn => {
    return { id, name: called, type, expression, formula: formulas.get(called) ?? null }
  }
  const keys = columns.keys.map((expression, index): DefinedKey => {
    const given = columnGiven(model, expression)
    const by = given === undefined ? undefined : orderKeyOf(given.table, given.column)
    return {
      ...column(columns.keyColumns[index] as ViewColumn, expression),
      formula: levels[index]?.key ?? null,
      sorted:
        given === undefined || by === undefined
          ? null
          : { table: given.table.name, column: given.column.id, by: by.id, type: by.type },
    }
  })
  const rows = { table: table.name, which: 'own', links: [] } as const
  return {
    name,
    table: table.name,
    asks,
    view: {
      where,
      rowCount: {
        kind: 'over-rows',
        record: functionNamed('count') as FunctionRecord,
        rows,
        args: [],
        where: null,
        by: [],
        order: [],
        descending: false,
        type: 'number',
        mayBeBlank: false,
        mayFail: false,
        from: 0,
        to: 0,
      },
      keys,
      tallies: columns.all.flatMap((one) => (one.tally === undefined ? [] : [column(one, one.tally)])),
      lines: columns.all.flatMap((one) =>
        one.line === undefined ? [] : [{ ...column(one, one.line.expression), isRunning: one.line.isRunning }],
      ),
      orders: arrangement.orders.map(({ level, by, descending }) => ({ level, by: by.id, descending })),
      shown: columns.shown.map(({ id }) => id),
      limit,
      isFlat: flat,
      hasOthers: arrangement.tops.length > 0 || arrangement.having !== null,
      isSpread: columns.across !== null,
    },
  }
}
