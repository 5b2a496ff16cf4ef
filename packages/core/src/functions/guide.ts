import type { FaultCode, Scalar } from '../values/index.js'

/** An example that the tests run: what a formula gives, as ISO text for dates; null is blank. */
export interface FunctionExample {
  readonly formula: string
  readonly gives?: Scalar | null
  readonly fails?: FaultCode
  /** Columns of the table it runs over, for functions of several rows; dates as ISO text. */
  readonly over?: Readonly<Record<string, readonly (Scalar | null)[]>>
  /** What it gives on each of those rows, where that differs from row to row. */
  readonly givesRows?: readonly (Scalar | null)[]
}

/**
 * What people read of a function: in an editor, on the command line, in the reference. It stands beside the record in the
 * function's file and is not part of it, so that what only calculates loads no text.
 */
export interface FunctionGuide {
  /** What it gives, in sentences. */
  readonly doc: string
  /** What a blank argument does. */
  readonly blanks: string
  /** Calls and what they give; the tests run them. */
  readonly examples: readonly [FunctionExample, FunctionExample, ...FunctionExample[]]
}
