import { type Finding, finding, hasErrors, Refusal } from '../findings/index.js'
import {
  type CheckedFormula,
  type ColumnId,
  checkFormula,
  type Parsed,
  parseFormula,
  typeWords,
  visitNames,
} from '../formula/index.js'
import { foldName, printName, type ValueType } from '../values/index.js'
import type { ColumnModel, TableModel } from './model.js'
import type { Transaction } from './transaction.js'

/**
 * Checks every formula that the operations left unbound, and those that read a column whose type changed, sources first; so
 * inside one call definitions may come in any order. Refuses with everything found.
 */
export function bindFormulas(transaction: Transaction): void {
  const { engine, model, unbound } = transaction
  if (unbound.size === 0 && transaction.retyped.size === 0) return
  const parsed = new Map<ColumnId, Parsed>()
  const owners = new Map<ColumnId, { table: TableModel; column: ColumnModel }>()
  for (const [column, table] of unbound) {
    const own = parseFormula((column.formula as { text: string }).text)
    parsed.set(column.id, own)
    owners.set(column.id, { table, column })
    engine.graph.setSources(column.id, namedSources(own, table, column))
  }
  const walked = engine.graph.downstream([...owners.keys(), ...[...transaction.retyped].map((column) => column.id)])
  if ('cycle' in walked) throw cycleRefusal(walked.cycle, transaction)
  const findings: Finding[] = []
  const retyped = new Set([...transaction.retyped].map((column) => column.id))
  for (const id of walked.order) {
    if (!parsed.has(id) && !engine.graph.sourcesOf(id).some((source) => retyped.has(source))) continue
    const { table, column } = owners.get(id) ?? model.columnOf(id)
    if (column.formula === null) continue
    const own = parsed.get(id) ?? parseFormula(column.formula.text)
    const before = column.formula.checked?.expression
    const { choices } = column.properties
    const target = { name: column.name, ...(choices !== undefined && { choices }) }
    const checked = checkFormula(own, model.scopeOf(table, column), target)
    const withPlace = (one: Finding): Finding => ({ ...one, table: table.name, column: column.name })
    findings.push(...[...checked.findings, ...notYet(checked), ...declaredTypeFindings(column, checked)].map(withPlace))
    column.formula.checked = checked
    const type = column.declared ? column.type : checkedType(checked)
    const expression = checked.expression
    if (
      before === undefined ||
      type !== column.type ||
      before.mayBeBlank !== expression.mayBeBlank ||
      before.mayFail !== expression.mayFail
    )
      retyped.add(id)
    column.type = type
    if (!hasErrors(checked.findings) && checked.beyondRow.length === 0) define(transaction, table, column, checked)
  }
  const errors = findings.filter((one) => one.severity === 'error')
  const [first, ...others] = errors
  if (first !== undefined) throw new Refusal([first, ...others])
}

/** Places of a formula that are understood but not calculated: the engine computes row by row so far. */
export function notYet(checked: CheckedFormula): Finding[] {
  const [first] = hasErrors(checked.findings) ? [] : checked.beyondRow
  if (first === undefined) return []
  const reason = 'it is checked and explained, but links, named values and functions of several rows are not calculated yet.'
  return [finding('not-here', { found: first.what, reason }, { from: first.from, to: first.to })]
}

function namedSources(parsed: Parsed, table: TableModel, own: ColumnModel): Set<ColumnId> {
  const sources = new Set<ColumnId>()
  visitNames(
    parsed.tree,
    (mention) => {
      if (mention.kind === 'tag') {
        for (const tagged of table.tagged(mention.name)) if (tagged !== own) sources.add(tagged.id)
        return
      }
      const found = mention.parts.length === 1 ? table.find(mention.parts[0].name) : undefined
      if (found === own && own.original !== null) sources.add(own.original)
      else if (found !== undefined) sources.add(found.id)
    },
    foldName,
  )
  return sources
}

function cycleRefusal(cycle: readonly ColumnId[], transaction: Transaction): Refusal {
  const columns = cycle.map((id) => transaction.model.columnOf(id))
  const path = columns.map(({ column }) => printName(column.name)).join(' → ')
  const { table, column } = columns[0] as (typeof columns)[number]
  return new Refusal([finding('cycle', { name: printName(column.name), path }, { table: table.name, column: column.name })])
}

function checkedType(checked: CheckedFormula): ValueType {
  const { type } = checked.expression
  return type === 'blank' || type === 'unknown' ? 'text' : type
}

function declaredTypeFindings(column: ColumnModel, checked: CheckedFormula): Finding[] {
  const received = checked.expression.type
  if (!column.declared || column.type === null || received === 'blank' || received === 'unknown') return []
  const expected = column.type === 'integer' ? 'number' : column.type
  if (expected === received) return []
  const { from, to } = checked.expression
  return [
    finding(
      'type-mismatch',
      { place: `The declared type of ${printName(column.name)}`, expected: typeWords(expected), received: typeWords(received) },
      { from, to },
    ),
  ]
}

function define(transaction: Transaction, table: TableModel, column: ColumnModel, checked: CheckedFormula): void {
  const { engine } = transaction
  const plan = engine.compile(checked)
  engine.define(column.id, checked, plan, column.type === 'integer')
  const type = column.type as ValueType
  if (table.store.column(column.id)?.type !== type) table.store.makeColumn(column.id, type)
  transaction.dirtyIn(table).columns.add(column.id)
}
