import { nearestName, refusal } from '../../findings/index.js'
import { printName } from '../../values/index.js'
import type { ColumnModel } from './column-model.js'
import type { Model } from './model.js'
import type { TableModel } from './table-model.js'

/** A column, tally or named value with what it belongs to. */
export interface Addressed {
  readonly table: TableModel
  readonly column: ColumnModel
}

/** What an address names, by its names. */
export interface AddressedName {
  readonly kind: 'column' | 'value' | 'tally' | 'rule'
  readonly table: string
  readonly name: string
}

/** What a column of a table of each role is. */
export const KIND_OF_ROLE: Readonly<Record<TableModel['role'], AddressedName['kind']>> = {
  rows: 'column',
  tallies: 'tally',
  rules: 'rule',
  values: 'value',
}

/**
 * What an address names: `table.column`, `value:name`, `tally:table.name` or `rule:name`, with names in backticks where they need it.
 *
 * @throws Refusal with the nearest name.
 */
export function findColumn(model: Model, address: string): Addressed {
  const kind = /^(value|tally|rule):/.exec(address)?.[1]
  const rest = kind === undefined ? address : address.slice(kind.length + 1)
  if (kind === 'value') return { table: model.values, column: model.values.column(nameOf(rest)) }
  if (kind === 'rule') return ruleOf(model, nameOf(rest))
  const [first, ...others] = partsOf(rest)
  if (first === undefined || others.length === 0) throw badAddress(address)
  // A name may hold points of its own: the longest name of a table that there is wins.
  for (let count = others.length; count > 0; count--) {
    const table = model.find(nameOf([first, ...others.slice(0, count - 1)].join('.')))
    if (table === undefined) continue
    const owner = kind === 'tally' ? table.tallies : table
    return { table: owner, column: owner.column(nameOf(others.slice(count - 1).join('.'))) }
  }
  model.table(nameOf(first))
  throw badAddress(address)
}

/** The rule of a name, in whichever table. */
function ruleOf(model: Model, name: string): Addressed {
  const found = model.rule(name)
  if (found !== undefined) return found
  const near = nearestName(
    name,
    model.tables.flatMap(({ rules }) => rules.columns.map((rule) => rule.name)),
  )
  throw refusal('unknown-rule', { name: printName(name), hint: near === undefined ? '' : ` Nearest name: ${printName(near)}.` })
}

/** The address of a column, tally or named value. */
export function addressOf({ table, column }: Addressed): string {
  if (table.role === 'values') return `value:${printName(column.name)}`
  if (table.role === 'rules') return `rule:${printName(column.name)}`
  return `${table.role === 'tallies' ? 'tally:' : ''}${printName(table.name)}.${printName(column.name)}`
}

function badAddress(address: string): Error {
  const reason = 'expected table.column, value:name, tally:table.name or rule:name.'
  return refusal('bad-operation', { place: `The address "${address}"`, reason })
}

/** The parts between points; a part in backticks is one part. */
function partsOf(text: string): string[] {
  return text.match(/`(?:[^`]|``)*`|[^.`]+/g) ?? []
}

function nameOf(text: string): string {
  return /^`(?:[^`]|``)*`$/.test(text) ? text.slice(1, -1).replaceAll('``', '`') : text
}
