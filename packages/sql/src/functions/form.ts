import type { Scalar, ValueType } from 'mellow-abacus'
import type { ExactDecimal } from 'mellow-abacus/model'
import type { Term } from '../terms/index.js'
import type { Value, Writing } from '../values/index.js'

/** A call of a function of one row. */
export interface FunctionCall {
  readonly name: string
  readonly args: readonly Value[]
  readonly types: readonly ValueType[]
  /** The value of each argument that is written out; undefined for the others. */
  readonly constants: readonly (Scalar | null | undefined)[]
  readonly blanksAsZero: boolean
  readonly amounts: readonly ExactDecimal[]
  /** The days of the holidays given, as a list; null where none were. */
  readonly holidays: Term | null
  /** The type of what it gives. */
  readonly type: ValueType
  readonly writing: Writing
}

/**
 * What a function is in SQL.
 *
 * @throws NoForm where the engine has no form for the call
 */
export type FunctionForm = (call: FunctionCall) => Value
