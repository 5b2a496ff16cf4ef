import type { Dialect } from '../dialects/index.js'
import { inputOf, type ModelTerms, needsOrder, type OverRows, type Parts } from '../formulas/index.js'
import { statementOf, type Term, withNames } from '../terms/index.js'
import type { Value } from '../values/index.js'
import type { PartialTotals } from './partial-totals.js'
import { type KnownValue, knownOf } from './remote-tables.js'

/**
 * The view of a shard that gathers totals of the rows it has, and what is known of its columns, by their ids.
 *
 * @throws NoForm where what is gathered has no form
 */
export function totalsView(
  terms: ModelTerms,
  totals: PartialTotals,
  dialect: Dialect,
  named: (name: string) => string,
): { readonly text: string; readonly known: ReadonlyMap<number, KnownValue> } {
  const known = new Map<number, KnownValue>()
  const rows = terms.table(totals.table)
  const ordersOf = (node: OverRows): Parts['order'] =>
    node.order.map(({ key, descending }) => ({ key: rows.hidden(key), descending, isText: key.type === 'text' }))
  const inRows = (term: Term): Term => terms.inRows(term, rows.rows)
  const condition = totals.filter === null ? null : rows.hidden(totals.filter, 'boolean')
  const keys = totals.keys.map(({ expression }) => rows.hidden(expression))
  const inputs = totals.columns.map(({ id, node }) => {
    const values = node.args.map((arg) => rows.hidden(arg))
    const input = inputOf(
      terms.writing,
      node,
      { values, condition, order: ordersOf(node), rowKey: needsOrder(node) ? rows.rowKey : [] },
      inRows,
    )
    known.set(id, {
      size: input.result.size,
      isApproximate: input.result.isApproximate,
      mayFail: input.mayFail,
      isFull: false,
    })
    return input
  })
  for (const [index, { id }] of totals.keys.entries()) {
    const value = knownOf(keys[index] as Value)
    known.set(id, { ...value, mayFail: totals.hasErrors && value.mayFail, isFull: false })
  }
  const where = inputs[0]?.where ?? null
  const errors = keys.map(({ fault }) => (fault === null ? null : inRows(fault)))
  // What rows are grouped by: the keys, and their errors where these are groups too.
  const groups = keys.flatMap(({ value }, index) => {
    const name = totals.keys[index]?.name as string
    const error = errors[index] ?? null
    const key = { name, term: inRows(value) }
    return totals.hasErrors && error !== null ? [key, { name: `${name}!fault`, term: error }] : [key]
  })
  const without = totals.hasErrors ? [] : errors.filter((one) => one !== null)
  const wanted = [
    ...groups.map(({ term }) => term),
    ...without,
    ...(where === null ? [] : [where]),
    ...inputs.flatMap((input) => input.terms),
  ]
  const { text, nameOf } = statementOf(rows.rows, wanted.length === 0 ? [rows.rows.constant('1')] : wanted, dialect)
  const read = (term: Term): string => `v.${nameOf(term)}`
  const list = [
    ...groups.map(({ name, term }) => `${read(term)} as ${dialect.quote(name)}`),
    ...totals.columns.flatMap(({ name }, index) => {
      const input = inputs[index] as ReturnType<typeof inputOf>
      const value = `${input.write('value', read)} as ${dialect.quote(name)}`
      return input.mayFail ? [value, `${input.write('fault', read)} as ${dialect.quote(`${name}!fault`)}`] : [value]
    }),
  ]
  const filters = [...(where === null ? [] : [read(where)]), ...without.map((term) => `${read(term)} is null`)]
  const by = groups.length === 0 ? '' : `\ngroup by ${groups.map(({ term }) => read(term)).join(', ')}`
  const create = withNames(
    `create view ${named(totals.name)} as\nselect ${list.join(', ')}\nfrom (\n${text}\n) as v${filters.length === 0 ? '' : `\nwhere ${filters.join(' and ')}`}${by}`,
  )
  return { text: create, known }
}
