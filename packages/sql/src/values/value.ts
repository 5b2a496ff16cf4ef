import type { FaultCode, ValueType } from 'mellow-abacus'
import { type Dialect, numberOfFault } from '../dialects/index.js'
import { joined, literal, sql, type Term } from '../terms/index.js'
import { type Magnitude, UNBOUNDED } from './magnitude.js'

/** What a formula, or a part of one, is in each row. */
export interface Value {
  /** Null for blank, and where there is an error. */
  readonly value: Term
  /** The number of the error, or null; null itself where there can be none. */
  readonly fault: Term | null
  /** What is known of a number's size. */
  readonly size: Magnitude
  /** True where the engine may give other last bits than we do. */
  readonly isApproximate: boolean
  /** True where a zero may be a negative one. */
  readonly mayBeNegativeZero: boolean
}

/** A value made of a term. */
export function valueFrom(value: Term, more: Partial<Value> = {}): Value {
  return { value, fault: null, size: UNBOUNDED, isApproximate: false, mayBeNegativeZero: false, ...more }
}

/** The first error of several, from the left. */
export function firstFault(faults: readonly (Term | null)[]): Term | null {
  const some = [...new Set(faults.filter((one) => one !== null))]
  if (some.length < 2) return some[0] ?? null
  return sql`coalesce(${joinedPieces(some)})`
}

/** Terms with commas between them. */
function joinedPieces(terms: readonly Term[]): Term {
  return joined(terms, ', ')
}

/** An error where a condition holds. */
export function faultWhen(condition: Term, code: FaultCode): Term {
  return sql`case when ${condition} then ${numberOfFault(code)} end`
}

/** The error of results that are missing although nothing they are made of is; null where something they are made of always is. */
export function faultOfMissing(result: Term, of: readonly Value[], code: FaultCode): Term | null {
  return faultOfKnown(sql`${result} is null`, of, code)
}

/** An error where a condition holds and no value is blank; null where one always is. */
export function faultOfKnown(condition: Term, of: readonly Value[], code: FaultCode): Term | null {
  if (of.some(({ value }) => isBlank(value))) return null
  const known = of.filter(({ value }) => !isWritten(value)).map(({ value }) => sql`${value} is not null`)
  return faultWhen(joined([condition, ...known], ' and '), code)
}

/** A value that is written out, in each type. */
const WRITTEN = /^(?:(?:date |timestamp )?'(?:[^']|'')*'(?:::\w+)?|true|false)$/

/** True for a value that is written out, and so is not blank. */
export function isWritten(term: Term): boolean {
  return term.isConstant && WRITTEN.test(term.text)
}

/** True for a blank that is written out. */
function isBlank(term: Term): boolean {
  return term.isConstant && term.text.startsWith('cast(null')
}

/** What a function of values gives, whose errors pass from the left and hide its own. */
export function strict(of: readonly Value[], value: Term, more: Partial<Value> & { readonly own?: Term | null } = {}): Value {
  const { own = null, ...rest } = more
  return valueFrom(value, {
    isApproximate: of.some((one) => one.isApproximate),
    ...rest,
    fault: firstFault([...of.map(({ fault }) => fault), own]),
  })
}

/** A number without the sign of a zero, for what tells them apart. */
export function withoutNegativeZero(of: Value): Value {
  return of.mayBeNegativeZero ? { ...of, value: sql`(${of.value} + '0'::float8)`, mayBeNegativeZero: false } : of
}

/** A number as it is written in a statement: a cast text, which all engines read to the nearest binary64 number. */
export function numberLiteral(value: number): Term {
  return literal(`'${value}'::float8`)
}

/** A text as it is written in a statement. */
export function textLiteral(text: string): string {
  return `'${text.replaceAll("'", "''")}'`
}

/** The first error of some values. */
export function faultOf(values: readonly Value[]): Term | null {
  return firstFault(values.map(({ fault }) => fault))
}

/** A value that is null where there is an error. */
export function unlessFault(fault: Term | null, value: Term): Term {
  return fault === null ? value : sql`case when ${fault} is null then ${value} end`
}

/** Nothing, of a type. */
export function nothing({ dialect }: { readonly dialect: Dialect }, type: ValueType): Term {
  return literal(`cast(null as ${dialect.types[type]})`)
}
