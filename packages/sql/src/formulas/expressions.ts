import { FUNCTIONS, type ValueType } from 'mellow-abacus'
import type { Checked, ColumnId, ExpressionType } from 'mellow-abacus/model'
import type { OverRows } from './aggregate-input.js'

/** What is said of an expression that nobody has typed: all may be. */
export const FACTS = { mayBeBlank: true, mayFail: true, from: 0, to: 0 } as const

/** A condition that never holds. */
export const NEVER: Checked = { ...FACTS, kind: 'constant', type: 'boolean', value: false }

/** A type as expressions have it: whole numbers are numbers there. */
export function inExpressions(type: ValueType | null): ExpressionType {
  return type === 'integer' ? 'number' : (type ?? 'text')
}

/** Reads a column. */
export function readColumn(column: ColumnId, type: ExpressionType): Checked {
  return { ...FACTS, kind: 'column', type, column }
}

/** Nothing, of a type. */
export function blankOf(type: ExpressionType): Checked {
  return { ...FACTS, kind: 'constant', type, value: null }
}

/** What an expression gives, or something else where that is an error. */
export function unlessError(value: Checked, otherwise: Checked): Checked {
  return { ...FACTS, kind: 'if-error', type: value.type, value, otherwise }
}

/** A function of several rows by its name. */
export function rowsFunction(name: string): OverRows['record'] {
  return FUNCTIONS.find((one) => one.name === name) as OverRows['record']
}

/** A call of a function of several rows. */
export function overRows(name: string, given: Pick<OverRows, 'rows' | 'type'> & Partial<OverRows>): OverRows {
  const record = rowsFunction(name)
  return { ...FACTS, args: [], where: null, by: [], order: [], descending: false, ...given, kind: 'over-rows', record }
}
