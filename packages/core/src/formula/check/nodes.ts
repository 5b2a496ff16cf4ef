import type { FunctionRecord } from '../../functions/index.js'
import type { Scalar } from '../../values/index.js'
import type { Syntax } from '../syntax/index.js'
import type { Checked, CheckedLink, Operator } from './checked.js'
import type { ScopeColumn, ScopeValue } from './scope.js'
import { type ExpressionType, expressionType } from './types.js'

/** What is known of a value, without what it is. */
export function factsOf(value: { type: ExpressionType; mayBeBlank: boolean; mayFail: boolean }): {
  type: ExpressionType
  mayBeBlank: boolean
  mayFail: boolean
} {
  return { type: value.type, mayBeBlank: value.mayBeBlank, mayFail: value.mayFail }
}

/** A value written out. */
export function constant(value: Scalar | null, type: ExpressionType, at: { from: number; to: number }): Checked {
  return { kind: 'constant', value, type, mayBeBlank: value === null, mayFail: false, from: at.from, to: at.to }
}

/** Reading a column. */
export function columnRead(column: ScopeColumn, at: Syntax): Checked {
  const { id, mayBeBlank, mayFail } = column
  const type = column.isOpen === true ? 'unknown' : expressionType(column.type)
  return { kind: 'column', column: id, type, mayBeBlank, mayFail, from: at.from, to: at.to }
}

/** Reading a named value or a tally. */
export function singleRead(single: ScopeValue, at: Syntax): Checked {
  const { id, of, type, mayBeBlank, mayFail } = single
  return { kind: 'single', column: id, of, type: expressionType(type), mayBeBlank, mayFail, from: at.from, to: at.to }
}

/** An operator on values; what it may give follows from them where it is not said. */
export function apply(
  operator: Operator,
  args: readonly Checked[],
  type: ExpressionType,
  at: { from: number; to: number },
  facts: { mayBeBlank?: boolean; mayFail?: boolean } = {},
): Checked {
  const mayBeBlank = facts.mayBeBlank ?? args.some((arg) => arg.mayBeBlank)
  const mayFail = facts.mayFail ?? args.some((arg) => arg.mayFail)
  return { kind: 'apply', operator, args, type, mayBeBlank, mayFail, from: at.from, to: at.to }
}

/** A call of a kernel. */
export function call(record: FunctionRecord, args: readonly Checked[], type: ExpressionType, at: Syntax): Checked {
  const facts = { type, mayBeBlank: args.length > 0, mayFail: true, from: at.from, to: at.to }
  return { kind: 'call', record, args, blanksAsZero: false, amounts: [], ...facts }
}

/** Joins tests by `and` or `or`. */
export function both(operator: 'and' | 'or', tests: readonly [Checked, ...Checked[]], at: Syntax): Checked {
  const [first, ...others] = tests
  const facts = {
    type: 'boolean' as const,
    mayBeBlank: tests.some((one) => one.mayBeBlank),
    mayFail: tests.some((one) => one.mayFail),
    from: at.from,
    to: at.to,
  }
  const { type, mayBeBlank, mayFail, from, to } = facts
  // Written out: spreading the facts into each of thousands of members takes ten times as long.
  const rest = others.map((operand): CheckedLink => ({ operator, operand, type, mayBeBlank, mayFail, from, to }))
  return { kind: 'chain', first, rest, type, mayBeBlank, mayFail, from, to }
}

/** A date as the date-time of its midnight; anything else as it is. */
export function toTime(value: Checked): Checked {
  return value.type === 'date' ? apply('day-to-time', [value], 'datetime', value) : value
}
