import type { Selection, Vector } from '../columns/index.js'
import type { FaultCode, Scalar, Surroundings, ValueType } from '../values/index.js'
import { type Parameter, parseSignature } from './signature.js'

/** Families in the order the reference lists them. */
export const FUNCTION_FAMILIES = ['number', 'text', 'logic', 'date'] as const

/** A family of functions. */
export type FunctionFamily = (typeof FUNCTION_FAMILIES)[number]

/** One call of a kernel: argument vectors of one block in, values and status of the selected rows out. */
export interface KernelCall {
  readonly args: readonly Vector[]
  /** Type of each argument, which tells a number from a date. */
  readonly types: readonly ValueType[]
  readonly out: Vector
  readonly selection: Selection
  readonly surroundings: Surroundings
}

/** An example that the tests run: what a formula gives, as ISO text for dates; null is blank. */
export interface FunctionExample {
  readonly formula: string
  readonly gives?: Scalar | null
  readonly fails?: FaultCode
}

/**
 * What the evaluator does itself because it must not look at every operand: `if`, and the two that look at the next
 * operand only when needed.
 */
export type LazyForm = 'if' | 'coalesce' | 'if_error'

interface FunctionText {
  readonly name: string
  readonly family: FunctionFamily
  /**
   * `(value: number, digits?: number, ...more: any) -> number`. The type `T` stands for one type shared by all its uses; the
   * result `same` is the type of the first argument.
   */
  readonly signature: string
  readonly doc: string
  /** What a blank argument does. */
  readonly blanks: string
  readonly errors: readonly FaultCode[]
  readonly examples: readonly [FunctionExample, FunctionExample, ...FunctionExample[]]
  /** Purposes in other words, for the search by purpose. */
  readonly purposes?: readonly string[]
  /** True when the result depends on the surroundings and so is not folded. */
  readonly movesWithClock?: boolean
}

interface Computed {
  /** Pure; reads its arguments, writes only `out`, allocates nothing per row but texts. */
  readonly kernel: (call: KernelCall) => void
  readonly form?: never
}

interface Lazy {
  readonly form: LazyForm
  readonly kernel?: never
}

/** All that is known about one function: checker, completion, reference page and tests read it. */
export type FunctionRecord = FunctionText & { readonly parameters: readonly Parameter[]; readonly result: string } & (
    | Computed
    | Lazy
  )

/** Makes the record of a function. */
export function defineFunction(text: FunctionText & (Computed | Lazy)): FunctionRecord {
  return { ...text, ...parseSignature(text.signature) }
}
