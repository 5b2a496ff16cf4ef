import type { Operator } from './checked.js'
import { commonType, type ExpressionType, isOpen, isTemporal } from './types.js'

/** How an arithmetic operator works on two types: the kernel, what it gives, and which side is brought to a date-time. */
export interface Typing {
  readonly operator: Operator
  readonly type: ExpressionType
  /** True when an operand that is a date counts as its midnight. */
  readonly toTime?: boolean
}

const numberOperators: Record<string, Operator> = { '+': 'add', '-': 'subtract', '*': 'multiply', '/': 'divide', per: 'per' }

/** The typing of `left operator right`, or null when the types do not go together. */
export function arithmeticTyping(operator: string, left: ExpressionType, right: ExpressionType): Typing | null {
  if (left === 'unknown' || right === 'unknown') return { operator: 'add', type: 'unknown' }
  const plain = numberOperators[operator] as Operator
  if ((left === 'number' || left === 'blank') && (right === 'number' || right === 'blank'))
    return { operator: plain, type: 'number' }
  if (operator === '+') {
    if (left === 'date' && (right === 'number' || right === 'blank')) return { operator: 'add-days', type: 'date' }
    if (left === 'datetime' && (right === 'number' || right === 'blank')) return { operator: 'add-time', type: 'datetime' }
    if ((left === 'number' || left === 'blank') && isTemporal(right))
      return { operator: right === 'date' ? 'add-days' : 'add-to-time', type: right }
  }
  if (operator === '-' && isTemporal(left)) {
    if (right === 'number' || right === 'blank')
      return { operator: left === 'date' ? 'subtract-days' : 'subtract-time', type: left }
    if (left === 'date' && right === 'date') return { operator: 'subtract', type: 'number' }
    if (isTemporal(right)) return { operator: 'time-difference', type: 'number', toTime: true }
  }
  if (operator === '-' && left === 'blank' && isTemporal(right)) {
    return right === 'date' ? { operator: 'subtract', type: 'number' } : { operator: 'time-difference', type: 'number' }
  }
  return null
}

const comparisonOperators: Record<string, Operator> = {
  '=': 'equal',
  '<>': 'unequal',
  '<': 'less',
  '<=': 'less-equal',
  '>': 'greater',
  '>=': 'greater-equal',
}

/** The kernel of a comparison sign. */
export function comparisonOperator(sign: string): Operator {
  return comparisonOperators[sign] as Operator
}

/** The type in which two sides are compared, or null when they cannot be; booleans have no order. */
export function comparedType(operator: Operator, left: ExpressionType, right: ExpressionType): ExpressionType | null {
  const type = commonType(left, right)
  const ordered = operator !== 'equal' && operator !== 'unequal' && operator !== 'member'
  return type === 'boolean' && ordered && !isOpen(left) && !isOpen(right) ? null : type
}
