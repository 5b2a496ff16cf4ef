import type { FunctionRecord } from '../../functions/index.js'
import { printName } from '../../values/index.js'
import type { Clause, Syntax } from '../syntax/index.js'
import { countsMatch, typeArguments } from './arguments.js'
import type { Checked, CheckedOrderKey } from './checked.js'
import { clauseOf } from './clauses.js'
import type { CheckContext } from './context.js'
import { hintTotalOfRatio } from './hints.js'
import { type ReadingPlace, rowsReadBy } from './rows-read.js'

type CallNode = Syntax & { kind: 'call' }

/** A call that reads several rows: an aggregate, a lookup, or a function that looks at neighbours in an order. */
export function checkOverRows(context: CheckContext, record: FunctionRecord, node: CallNode): Checked {
  const way = clauseOf(node, 'via') ?? clauseOf(node, 'below')
  const place = record.form === 'ordered' ? rowsReadBy(context, [], undefined, node) : rowsReadBy(context, node.args, way, node)
  if (place === null) return context.unknown(node)
  if (record.form === 'ordered') refuseOtherTables(context, node)
  else refuseKeysElsewhere(context, node, place)
  // A table that stands alone says which rows are read; it is no value.
  const written = place.alone ? node.args.slice(1) : node.args
  if (!countsMatch(context, record, node, written.length)) return context.unknown(node)
  return context.inRows(place.scope, place.rows, () => {
    const args = written.map((arg) => context.check(arg))
    const where = clauseOf(node, 'where')
    const condition = where === undefined ? null : checkRowCondition(context, where.condition)
    const by = clauseOf(node, 'by')?.keys.map((key) => context.check(key)) ?? []
    const order: CheckedOrderKey[] =
      clauseOf(node, 'order by')?.keys.map(({ key, descending }) => ({ key: context.check(key), descending })) ?? []
    const typed = typeArguments(context, record, args)
    if (typed === null) return context.unknown(node)
    if (record.form === 'ordered' && record.orderArgument !== undefined)
      warnOfIdleOrder(context, node, written, record.orderArgument)
    if (record.name === 'sum') hintTotalOfRatio(context, place.scope, written[0], node, place.rows.which === 'own')
    const counts = typed.type === 'number' && record.name.includes('count')
    return {
      kind: 'over-rows',
      record,
      rows: place.rows,
      args: typed.args,
      where: condition,
      by,
      order,
      descending: clauseOf(node, 'desc') !== undefined,
      type: typed.type,
      mayBeBlank: !counts && record.name !== 'row_number',
      mayFail: true,
      from: node.from,
      to: node.to,
    }
  })
}

/** What goes in the order of a value of its own counts the same whatever order is given besides. */
function warnOfIdleOrder(context: CheckContext, node: CallNode, written: readonly Syntax[], place: number): void {
  const order = clauseOf(node, 'order by')
  const value = written[place]
  if (order === undefined || value === undefined) return
  const canDescend = clauseOf(node, 'desc') === undefined
  const isMeant = canDescend && order.keys[0]?.descending === true
  const edits = [
    ...(isMeant ? [{ from: value.to, to: value.to, insert: ' desc' }] : []),
    { from: order.from, to: order.to, insert: '' },
  ]
  const hint = canDescend ? ` ${node.name.name}(${context.source(value)} desc) counts from the largest.` : ''
  const title = isMeant ? 'Count from the largest' : 'Leave the order out'
  context.report('order-without-effect', { name: node.name.name, value: context.source(value), hint }, order, [{ title, edits }])
}

function checkRowCondition(context: CheckContext, node: Syntax): Checked {
  const checked = context.check(node)
  return context.expect(checked, 'boolean', 'The condition behind where') ? checked : context.unknown(node)
}

/** An ordered function looks at the rows of its own table only. */
function refuseOtherTables(context: CheckContext, node: CallNode): void {
  for (const arg of node.args) {
    if (arg.kind !== 'name' || !arg.every) continue
    const reason = `${node.name.name} looks at the rows of its own table, in their order.`
    const edits = [{ from: arg.from, to: arg.to, insert: printName((arg.parts.at(-1) as { name: string }).name) }]
    context.report('not-here', { found: context.source(arg), reason }, arg, [{ title: 'Use the own column', edits }])
  }
}

/** Groups by key are for the own table; of another one a condition says which rows belong to this row. */
function refuseKeysElsewhere(context: CheckContext, node: CallNode, place: ReadingPlace): void {
  const by: (Clause & { kind: 'by' }) | undefined = clauseOf(node, 'by')
  if (by === undefined || place.rows.which === 'own') return
  const tests = by.keys.map((key) => `${context.source(key)} = this.${context.source(key)}`).join(' and ')
  const where = clauseOf(node, 'where')
  const insert = where === undefined ? `where ${tests}` : ''
  const edits =
    where === undefined
      ? [{ from: by.from, to: by.to, insert }]
      : [
          { from: by.from, to: by.to, insert: '' },
          { from: where.condition.from, to: where.condition.from, insert: `${tests} and (` },
          { from: where.condition.to, to: where.condition.to, insert: ')' },
        ]
  context.report('keys-elsewhere', { table: printName(place.rows.table), tests }, by, [{ title: `Write where ${tests}`, edits }])
}
