import type { NumberValues, Vector } from '../columns/index.js'
import { type FaultCode, MS_PER_DAY, Status, statusOfFault } from '../values/index.js'
import type { KernelCall } from './define.js'

/** Where a kernel writes the result of one row. */
export type RowFunction = (row: number) => void

/**
 * Runs `compute` for the selected rows whose arguments are all values; elsewhere the leftmost error, else blank, goes
 * through. `compute` writes `out.values[row]`; a row that fails sets its status with `failRow`.
 */
export function perRow(call: KernelCall, compute: RowFunction): void {
  const { args, out, selection } = call
  const { rows, count } = selection
  out.clean = false
  if (rows === null && args.every((arg) => arg.clean)) {
    out.status.fill(Status.value, 0, count)
    for (let row = 0; row < count; row++) compute(row)
    return
  }
  for (let k = 0; k < count; k++) {
    const row = rows === null ? k : (rows[k] as number)
    let status: number = Status.value
    for (let index = 0; index < args.length; index++) {
      const of = (args[index] as Vector).status[row] as number
      if (of > status) status = of
      if (status > Status.blank) break
    }
    out.status[row] = status
    if (status === Status.value) compute(row)
  }
}

/** Marks one row of a result as failed. */
export function failRow(call: KernelCall, row: number, code: FaultCode): void {
  call.out.status[row] = statusOfFault(code)
}

/** The numbers of an argument. */
export function numbersOf(call: KernelCall, index: number): NumberValues {
  const vector = call.args[index] as Vector
  if (vector.kind !== 'number') throw new TypeError(`argument ${index + 1} is not stored as numbers`)
  return vector.values
}

/** The texts of an argument. */
export function textsOf(call: KernelCall, index: number): readonly string[] {
  const vector = call.args[index] as Vector
  if (vector.kind !== 'text') throw new TypeError(`argument ${index + 1} is not text`)
  return vector.values
}

/** Where number results go. */
export function numberResults(call: KernelCall): Float64Array {
  const { out } = call
  // Only blocks of columns are ever narrower.
  if (out.kind === 'number' && out.values instanceof Float64Array) return out.values
  throw new TypeError('the result is not stored as numbers')
}

/** Where text results go. */
export function textResults(call: KernelCall): string[] {
  if (call.out.kind !== 'text') throw new TypeError('the result is not text')
  return call.out.values
}

/** Where boolean results go. */
export function booleanResults(call: KernelCall): Uint8Array {
  if (call.out.kind !== 'boolean') throw new TypeError('the result is not boolean')
  return call.out.values
}

/** Writes a number result; one that is not finite is `out-of-range`, and −0 becomes 0. */
export function putNumber(call: KernelCall, results: Float64Array, row: number, value: number): void {
  if (Number.isFinite(value)) results[row] = value + 0
  else failRow(call, row, 'out-of-range')
}

/** A kernel of one number: NaN and infinities come out as `out-of-range`. */
export function numberKernel(compute: (value: number) => number): (call: KernelCall) => void {
  return (call) => {
    const values = numbersOf(call, 0)
    const results = numberResults(call)
    perRow(call, (row) => putNumber(call, results, row, compute(values[row] as number)))
  }
}

/** A kernel of two numbers: NaN and infinities come out as `out-of-range`. */
export function pairKernel(compute: (left: number, right: number) => number): (call: KernelCall) => void {
  return (call) => {
    const lefts = numbersOf(call, 0)
    const rights = numbersOf(call, 1)
    const results = numberResults(call)
    perRow(call, (row) => putNumber(call, results, row, compute(lefts[row] as number, rights[row] as number)))
  }
}

/** A kernel of two numbers where a zero in the second is `division-by-zero`. */
export function divisionKernel(compute: (value: number, divisor: number) => number): (call: KernelCall) => void {
  return (call) => {
    const values = numbersOf(call, 0)
    const divisors = numbersOf(call, 1)
    const results = numberResults(call)
    perRow(call, (row) => {
      const divisor = divisors[row] as number
      if (divisor === 0) failRow(call, row, 'division-by-zero')
      else putNumber(call, results, row, compute(values[row] as number, divisor))
    })
  }
}

/** A kernel of one text that gives a text. */
export function textKernel(compute: (text: string, call: KernelCall) => string): (call: KernelCall) => void {
  return (call) => {
    const texts = textsOf(call, 0)
    const results = textResults(call)
    perRow(call, (row) => putText(call, results, row, compute(texts[row] as string, call)))
  }
}

/** Longest text a formula may make, in UTF-16 units. */
export const LONGEST_TEXT = 1_000_000

/** Writes a text result; a longer one than the language allows is `too-long`. */
export function putText(call: KernelCall, results: string[], row: number, text: string): void {
  if (text.length <= LONGEST_TEXT) results[row] = text
  else failRow(call, row, 'too-long')
}

/** A kernel of one date or date-time that gives a number from its epoch day. */
export function dayKernel(compute: (epochDay: number) => number): (call: KernelCall) => void {
  return (call) => {
    const values = numbersOf(call, 0)
    const results = numberResults(call)
    const hasTime = call.types[0] === 'datetime'
    perRow(call, (row) => {
      const value = values[row] as number
      results[row] = compute(hasTime ? Math.floor(value / MS_PER_DAY) : value)
    })
  }
}

/** Reads an argument that is a date or a date-time as epoch days. */
export function epochDays(call: KernelCall, index: number): (row: number) => number {
  const values = numbersOf(call, index)
  if (call.types[index] === 'datetime') return (row) => Math.floor((values[row] as number) / MS_PER_DAY)
  return (row) => values[row] as number
}

/** Reads an argument that is a date or a date-time as epoch milliseconds, a date as its midnight. */
export function momentsOf(call: KernelCall, index: number): (row: number) => number {
  const values = numbersOf(call, index)
  if (call.types[index] === 'datetime') return (row) => values[row] as number
  return (row) => (values[row] as number) * MS_PER_DAY
}
