import type { ValueType } from '../../values/index.js'

/**
 * Type of an expression. `integer` columns read as numbers; `blank` fits every type; `unknown` stands where a finding
 * already said what is wrong, and fits everything so that one mistake is reported once.
 */
export type ExpressionType = Exclude<ValueType, 'integer'> | 'blank' | 'unknown'

/** The expression type of a column's type; a column without values and type fits everything. */
export function expressionType(type: ValueType | null): ExpressionType {
  if (type === null) return 'blank'
  return type === 'integer' ? 'number' : type
}

/** The type that both fit (a date meeting a datetime is a datetime), or null when there is none. */
export function commonType(left: ExpressionType, right: ExpressionType): ExpressionType | null {
  if (left === right) return left
  if (left === 'unknown' || right === 'unknown') return 'unknown'
  if (left === 'blank') return right
  if (right === 'blank') return left
  if (isTemporal(left) && isTemporal(right)) return 'datetime'
  return null
}

/** True for dates and date-times. */
export function isTemporal(type: ExpressionType): boolean {
  return type === 'date' || type === 'datetime'
}

/** True for types that fit everything. */
export function isOpen(type: ExpressionType): boolean {
  return type === 'blank' || type === 'unknown'
}

/** A type as a message says it. */
export function typeWords(type: ExpressionType): string {
  return type === 'datetime' ? 'date-time' : type === 'boolean' ? 'true or false' : type
}
