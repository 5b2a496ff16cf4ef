import { BLOCK_SHIFT, type Cell, Column } from '../../columns/index.js'
import { cellAt, type Engine, rowsByBlock } from '../../engine/index.js'
import { type Finding, nearestName, Refusal, refusal } from '../../findings/index.js'
import { type Checked, checkFormula, mapParts, parseFormula } from '../../formula/index.js'
import { CellFault, foldName, printName, type ValueType } from '../../values/index.js'
import type { ColumnModel, ColumnProperties, Model, RowsTable } from '../model/index.js'
import { orderKeyOf, scopeOf, showCell } from '../model/index.js'
import { readGroupQuery } from './given-queries.js'
import { sortable } from './order-keys.js'
import { conditionOf, parseOrder, sortSlots, stateOf } from './query.js'
import type { GroupQuery, QueryColumn, QueryResult } from './query-types.js'

/** A column of the result while it is made. */
interface ResultColumn {
  readonly name: string
  readonly type: ValueType
  readonly unit: string | null
  readonly properties: ColumnProperties
  readonly calculated: boolean
  readonly state: QueryColumn['state']
  readonly storage: Column
  /** What it is sorted by, where that is something else. */
  readonly sortBy?: Column
}

/** Runs a group query: a row for each group that occurs, with its keys and its tallies. */
export function runGroupQuery(model: Model, engine: Engine, given: GroupQuery): QueryResult {
  const query = readGroupQuery(given)
  const table = model.table(query.table)
  const by = query.by.map((name) => table.column(name))
  const filter = query.where === undefined ? null : conditionOf(model, table, query.where)
  const slots = filter === null ? table.store.rows.inOrder() : engine.select(table.store, engine.compile(filter))
  const first = by.length === 0 ? Int32Array.of(0) : firstOfGroups(table, by, slots)
  const columns: ResultColumn[] = [
    ...by.map((column) => ({
      name: column.name,
      type: column.type ?? 'text',
      unit: column.properties.unit ?? null,
      properties: column.properties,
      calculated: column.formula !== null,
      state: stateOf(engine, column),
      ...sortedBy(engine, table, column, first),
      storage: columnOf(
        column.type ?? 'text',
        first,
        (slot) => engine.recalculation.storage(table.store, column.id)?.read(slot) ?? null,
      ),
    })),
    ...query.tallies.map((tally) => tallyColumn(model, engine, table, tally, by, filter?.expression ?? null, first)),
  ]
  return result(columns, query, by.length)
}

/** The places of the groups by the order key of a column, where it has one. */
function sortedBy(engine: Engine, table: RowsTable, column: ColumnModel, first: Int32Array): { sortBy?: Column } {
  if (orderKeyOf(table, column) === undefined) return {}
  const places = sortable(engine, table, column)
  return { sortBy: columnOf('number', first, (slot) => places?.read(slot) ?? null) }
}

/** The first row of each group, in the order in which they come. */
function firstOfGroups(table: RowsTable, by: readonly ColumnModel[], slots: Int32Array): Int32Array {
  const seen = new Map<string, number>()
  for (const slot of slots) {
    const key = JSON.stringify(by.map((column) => keyOf(table.store.column(column.id)?.read(slot) ?? null)))
    if (!seen.has(key)) seen.set(key, slot)
  }
  return Int32Array.from(seen.values())
}

const keyOf = (cell: Cell): unknown => (cell instanceof CellFault ? { error: cell.code } : cell)

function tallyColumn(
  model: Model,
  engine: Engine,
  table: RowsTable,
  tally: GroupQuery['tallies'][number],
  by: readonly ColumnModel[],
  filter: Checked | null,
  first: Int32Array,
): ResultColumn {
  const checked = checkFormula(parseFormula(tally.formula), scopeOf(model, table.tallies))
  const findings = checked.findings.map((one): Finding => ({ ...one, table: table.name, column: tally.name }))
  const [error, ...others] = findings.filter((one) => one.severity === 'error')
  if (error !== undefined) throw new Refusal([error, ...others])
  const expression = inGroups(checked.expression, model, table, by, filter)
  const plan = engine.compile({ ...checked, expression, watches: [] })
  const cells = new Map<number, Cell>()
  const isWhole = by.length === 0
  engine.evaluate(
    isWhole ? engine.singles : table.store,
    plan,
    (block, vector, { rows, count }) => {
      for (let k = 0; k < count; k++) {
        const row = rows === null ? k : (rows[k] as number)
        cells.set((block << BLOCK_SHIFT) + row, cellAt(vector, row))
      }
    },
    { rows: isWhole ? rowsByBlock([0]) : rowsByBlock(first) },
  )
  const storage = columnOf(plan.type, first, (slot) => cells.get(slot) ?? null)
  return { name: tally.name, type: plan.type, unit: null, properties: {}, calculated: true, state: null, storage }
}

/** A tally for the group of a row: its aggregates keep the rows with equal keys, and those of the filter. */
function inGroups(node: Checked, model: Model, table: RowsTable, by: readonly ColumnModel[], filter: Checked | null): Checked {
  const again = (part: Checked): Checked => inGroups(part, model, table, by, filter)
  if (node.kind === 'single' && node.of === 'tally') {
    const owner = model.columnOf(node.column)
    const expression = owner.table === table.tallies ? owner.column.formula?.checked?.expression : undefined
    return expression === undefined ? node : again(expression)
  }
  if (node.kind !== 'over-rows') return mapParts(node, again)
  if (node.rows.which !== 'own') return node
  const place = { from: node.from, to: node.to }
  const keys = by.map((column): Checked => {
    const facts = { type: column.type === 'integer' ? ('number' as const) : (column.type ?? ('blank' as const)) }
    return { kind: 'column', column: column.id, ...facts, mayBeBlank: true, mayFail: true, ...place }
  })
  const facts = { type: 'boolean' as const, mayBeBlank: true, mayFail: true, ...place }
  const where: Checked | null =
    filter === null || node.where === null
      ? (filter ?? node.where)
      : { kind: 'chain', first: filter, rest: [{ operator: 'and', operand: node.where, ...facts }], ...facts }
  return { ...node, by: [...node.by, ...keys], where }
}

function columnOf(type: ValueType, slots: Int32Array, cellOf: (slot: number) => Cell): Column {
  const column = new Column(type)
  for (const [row, slot] of slots.entries()) {
    column.occupy(row)
    column.write(row, cellOf(slot))
  }
  return column
}

function result(columns: readonly ResultColumn[], query: GroupQuery, keyCount: number): QueryResult {
  const count = columns[0] === undefined ? 0 : lengthOf(columns[0].storage)
  const keys = typeof query.order === 'string' ? parseOrder(query.order) : (query.order ?? [])
  const ordering = keys.map(({ column: name, descending }) => {
    const column = columns.find((one) => foldName(one.name) === foldName(name))
    if (column === undefined) throw unknownKey(name, columns, query.table)
    return { storage: column.sortBy ?? column.storage, descending: descending === true }
  })
  const natural = columns.slice(0, keyCount).map(({ storage, sortBy = storage }) => ({ storage: sortBy, descending: false }))
  const all = Int32Array.from({ length: count }, (_, row) => row)
  const slots = sortSlots(all, ordering.length > 0 ? ordering : natural)
  const shown = query.limit === undefined ? slots : slots.slice(0, query.limit)
  return {
    columns: columns satisfies readonly QueryColumn[],
    matched: count,
    slots: shown,
    ids: () => Array.from(shown, (row) => row + 1),
    rows: () => Array.from(shown, (row) => columns.map(({ storage }) => showCell(storage.read(row), storage.type))),
  }
}

function lengthOf(column: Column): number {
  return column.valueCount + column.blankCount + column.faultCount()
}

function unknownKey(name: string, columns: readonly ResultColumn[], table: string): Refusal {
  const near = nearestName(
    name,
    columns.map((column) => column.name),
  )
  const hint = near === undefined ? '' : ` Nearest name: ${printName(near)}.`
  return refusal('unknown-column', { table: `${table}, grouped,`, name: printName(name), hint }, { table, column: name })
}
