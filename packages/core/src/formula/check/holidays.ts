import type { FunctionRecord } from '../../functions/index.js'
import type { Syntax } from '../syntax/index.js'
import type { CheckedRows } from './checked.js'
import { clauseOf } from './clauses.js'
import type { CheckContext } from './context.js'
import { rowsReadBy } from './rows-read.js'

type CallNode = Syntax & { kind: 'call' }

/**
 * Takes the argument that stands for rows out of a call, so that the others can be checked by place whether it is there or
 * not: `workdays_between(a, b, every calendar.day where holiday, 'sat sun')`.
 *
 * @returns null for functions that take no rows
 */
export function checkHolidays(
  context: CheckContext,
  record: FunctionRecord,
  node: CallNode,
): { record: FunctionRecord; args: readonly Syntax[]; holidays?: CheckedRows } | null {
  const at = record.parameters.findIndex((parameter) => parameter.types.includes('rows'))
  if (at < 0) return null
  const parameters = record.parameters.filter((_, index) => index !== at)
  const textRule = record.textRule === undefined ? undefined : { ...record.textRule, argument: record.textRule.argument - 1 }
  const plain = { ...record, parameters, ...(textRule !== undefined && { textRule }) } as FunctionRecord
  const rows = node.args[at]
  if (rows?.kind !== 'name' || !rows.every) return { record: plain, args: node.args }
  const place = rowsReadBy(context, [rows], undefined, node)
  const where = clauseOf(node, 'where')
  const args = node.args.filter((arg) => arg !== rows)
  if (place === null) return { record: plain, args }
  const holidays = context.inRows(place.scope, place.rows, () => {
    const read = context.check(rows)
    context.expect(read, 'date', `${record.name}, argument ${at + 1} (holidays),`)
    const condition = where === undefined ? null : context.check(where.condition)
    if (condition !== null) context.expect(condition, 'boolean', 'The condition behind where')
    return { rows: place.rows, read, where: condition }
  })
  return { record: plain, args, holidays }
}
