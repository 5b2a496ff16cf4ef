import type { ReadonlyColumn } from '../../columns/index.js'
import type { Engine } from '../../engine/index.js'
import { type Finding, finding, Refusal, refusal, refuseErrors } from '../../findings/index.js'
import { type CheckedFormula, checkFormula, parseFormula, type Scope, tokenize, typeWords } from '../../formula/index.js'
import { compareText, isFaultStatus, Status } from '../../values/index.js'
import type { ColumnModel, Model, TableModel } from '../model/index.js'
import { scopeOf, showCell } from '../model/index.js'
import { readQuery } from './given-queries.js'
import { sortable } from './order-keys.js'
import { withParameters } from './parameters.js'
import type { OrderKey, Query, QueryColumn, QueryResult } from './query-types.js'

/**
 * Runs a query.
 *
 * @throws Refusal for unknown names and fields, limits that are none, and conditions that are not true or false
 */
export function runQuery(model: Model, engine: Engine, given: Query): QueryResult {
  const query = readQuery(given)
  if (query.where === undefined && (query.parameters?.length ?? 0) > 0)
    throw refusal('bad-operation', { place: 'the query, field parameters', reason: 'there is no condition to fill in.' })
  const table = model.table(query.table)
  const columns =
    query.columns === undefined
      ? table.columns.filter((column) => column.properties.hidden !== true)
      : query.columns.map((name) => table.column(name))
  const keys = typeof query.order === 'string' ? parseOrder(query.order) : (query.order ?? [])
  const ordering = keys.map((key) => ({ column: table.column(key.column), descending: key.descending === true }))
  let slots =
    query.where === undefined
      ? table.store.rows.inOrder()
      : selectWhere(model, engine, table, withParameters(query.where, query.parameters ?? []))
  if (ordering.length > 0)
    slots = sortSlots(
      slots,
      ordering.map(({ column, descending }) => ({ storage: sortable(engine, table, column), descending })),
    )
  const { offset = 0, limit = slots.length } = query
  const shown = offset === 0 && limit >= slots.length ? slots : slots.slice(offset, offset + limit)
  const result = columns.map((column) => ({
    name: column.name,
    type: column.type,
    calculated: column.isCalculated,
    state: stateOf(engine, column),
    unit: column.shownUnit,
    properties: column.properties,
    storage: engine.recalculation.storage(table.store, column.id, shown)?.fork(),
  }))
  const ids = table.store.rows.idsOf(shown)
  return {
    columns: result,
    matched: slots.length,
    slots: shown,
    ids: () => ids.slice(),
    rows: () =>
      Array.from(shown, (slot) =>
        result.map(({ storage }) => (storage === undefined ? null : showCell(storage.read(slot), storage.type))),
      ),
  }
}

/** What a reader has to know of the cells of a column besides their values. */
export function stateOf(engine: Engine, column: ColumnModel): QueryColumn['state'] {
  if (column.paused !== null) return 'paused'
  if (column.properties.stamp !== undefined) return 'stamp'
  const { recalculation } = engine
  return recalculation.mode === 'on-demand' && recalculation.staleRowsOf(column.id).size > 0 ? 'stale' : null
}

function selectWhere(model: Model, engine: Engine, table: TableModel, where: string): Int32Array {
  const checked = conditionOf(table, where, scopeOf(model, table))
  return checked.expression.type === 'blank' ? new Int32Array(0) : engine.select(table.store, engine.compile(checked))
}

/** A condition on the rows of a table; refuses one that is not true or false. */
export function conditionOf(table: TableModel, where: string, scope: Scope): CheckedFormula {
  const checked = checkFormula(parseFormula(where), scope)
  const findings: Finding[] = checked.findings.map((one) => ({ ...one, table: table.name }))
  refuseErrors([...findings, ...otherThanCondition(checked, { table: table.name })])
  return checked
}

/** What there is to say where a condition is not true or false. */
export function otherThanCondition({ expression }: CheckedFormula, place: Pick<Finding, 'table' | 'column'>): Finding[] {
  const { type, from, to } = expression
  if (type === 'boolean' || type === 'blank' || type === 'unknown') return []
  const parameters = { place: 'A condition', expected: typeWords('boolean'), received: typeWords(type) }
  return [finding('type-mismatch', parameters, { ...place, from, to })]
}

/** Reads an order written as text: names, each with `asc` or `desc` if wanted, separated by commas. */
export function parseOrder(text: string): OrderKey[] {
  const { tokens, findings } = tokenize(text)
  const keys: { column: string; descending?: boolean }[] = []
  const fail = (found: string): Refusal =>
    refusal('bad-operation', { place: 'The order', reason: `expected names like "infestation desc, hive", found ${found}.` })
  if (findings[0] !== undefined) throw new Refusal([findings[0]])
  let at = 0
  for (;;) {
    const name = tokens[at++]
    if (name === undefined || name.kind !== 'name')
      throw fail(name === undefined || name.kind === 'end' ? 'the end' : `"${text.slice(name.from, name.to)}"`)
    const key: { column: string; descending?: boolean } = { column: name.name }
    keys.push(key)
    let next = tokens[at++]
    if (next?.kind === 'name' && !next.quoted && (next.word === 'desc' || next.word === 'asc')) {
      key.descending = next.word === 'desc'
      next = tokens[at++]
    }
    if (next === undefined || next.kind === 'end') return keys
    if (next.kind !== 'sign' || next.sign !== ',') throw fail(`"${text.slice(next.from, next.to)}"`)
  }
}

/** Puts slots in the order of some columns; ties stay as they are. */
export function sortSlots(
  slots: Int32Array,
  ordering: readonly { readonly storage: ReadonlyColumn | undefined; readonly descending: boolean }[],
): Int32Array {
  const keys = ordering.map(({ storage, descending }) => sortKey(storage, slots, descending))
  const places = Uint32Array.from(slots, (_, place) => place)
  // Ties fall back to the place, so rows that compare equal stay in row order.
  places.sort((a, b) => {
    for (const compare of keys) {
      const order = compare(a, b)
      if (order !== 0) return order
    }
    return a - b
  })
  return Int32Array.from(places, (place) => slots[place] as number)
}

/** Compares two places of the list by one column; values before blanks before errors, whichever the direction. */
function sortKey(storage: ReadonlyColumn | undefined, slots: Int32Array, descending: boolean): (a: number, b: number) => number {
  if (storage === undefined) return () => 0
  const ranks = Uint8Array.from(slots, (slot) => {
    const status = storage.statusAt(slot)
    return status === Status.value ? 0 : isFaultStatus(status) ? 2 : 1
  })
  const values = Array.from(slots, (slot) => storage.valueAt(slot))
  const sign = descending ? -1 : 1
  const isText = storage.type === 'text'
  return (a, b) => {
    const byRank = (ranks[a] as number) - (ranks[b] as number)
    if (byRank !== 0 || ranks[a] !== 0) return byRank
    return sign * (isText ? compareText(values[a] as string, values[b] as string) : (values[a] as number) - (values[b] as number))
  }
}
