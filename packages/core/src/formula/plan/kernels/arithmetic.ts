import type { NumberVector, Selection } from '../../../columns/index.js'
import { FIRST_DAY, LAST_DAY, MS_PER_DAY, powerOf, Status, statusOfFault } from '../../../values/index.js'

/** A kernel of two number vectors. */
export type NumberKernel = (left: NumberVector, right: NumberVector, out: NumberVector, selection: Selection) => void

const DIVISION_BY_ZERO: number = statusOfFault('division-by-zero')
const OUT_OF_RANGE: number = statusOfFault('out-of-range')

/**
 * Status that two operands give together: the leftmost error, else blank, else value.
 * Statuses are ordered value < blank < errors, so only two errors need a look at who stands left.
 */
export function combineStatus(left: number, right: number): number {
  if (left > Status.blank) return left
  return right > left ? right : left
}

/** The general loop: any selection, any blanks. `compute` gives NaN or an infinity for out-of-range. */
function eachPair(
  left: NumberVector,
  right: NumberVector,
  out: NumberVector,
  selection: Selection,
  compute: (a: number, b: number) => number,
): void {
  const { rows, count } = selection
  out.clean = false
  for (let k = 0; k < count; k++) {
    const row = rows === null ? k : (rows[k] as number)
    const status = combineStatus(left.status[row] as number, right.status[row] as number)
    out.status[row] = status
    if (status !== Status.value) continue
    const value = compute(left.values[row] as number, right.values[row] as number)
    // x − x is 0 for every finite number and NaN for the others.
    if (value - value === 0) out.values[row] = value + 0
    else out.status[row] = OUT_OF_RANGE
  }
}

/** True when the tight loops below may run: a whole block without blanks and errors on either side. */
function isTight(left: NumberVector, right: NumberVector, selection: Selection): boolean {
  return selection.rows === null && left.clean && right.clean
}

/**
 * Ends a tight loop. `check` is the sum of value − value over the block: 0 when all are finite, NaN otherwise; then the
 * rows beyond binary64 are marked one by one.
 */
function endTight(out: NumberVector, count: number, check: number): void {
  out.status.fill(Status.value, 0, count)
  out.clean = check === 0
  if (check === 0) return
  for (let row = 0; row < count; row++) {
    if (!Number.isFinite(out.values[row])) out.status[row] = OUT_OF_RANGE
  }
}

// The three commonest operators have loops of their own: a closure a row costs twice as much (bench: row formulas).

const add: NumberKernel = (left, right, out, selection) => {
  if (!isTight(left, right, selection)) return eachPair(left, right, out, selection, (a, b) => a + b)
  const { values: a } = left
  const { values: b } = right
  const { values } = out
  let check = 0
  for (let row = 0; row < selection.count; row++) {
    const value = (a[row] as number) + (b[row] as number)
    values[row] = value
    check += value - value
  }
  endTight(out, selection.count, check)
}

const subtract: NumberKernel = (left, right, out, selection) => {
  if (!isTight(left, right, selection)) return eachPair(left, right, out, selection, (a, b) => a - b)
  const { values: a } = left
  const { values: b } = right
  const { values } = out
  let check = 0
  for (let row = 0; row < selection.count; row++) {
    const value = (a[row] as number) - (b[row] as number)
    values[row] = value
    check += value - value
  }
  endTight(out, selection.count, check)
}

const multiply: NumberKernel = (left, right, out, selection) => {
  if (!isTight(left, right, selection)) return eachPair(left, right, out, selection, (a, b) => a * b)
  const { values: a } = left
  const { values: b } = right
  const { values } = out
  let check = 0
  for (let row = 0; row < selection.count; row++) {
    // + 0 turns a negative zero into zero.
    const value = (a[row] as number) * (b[row] as number) + 0
    values[row] = value
    check += value - value
  }
  endTight(out, selection.count, check)
}

/** Division; `zeroStatus` is what a zero divisor gives. */
function division(zeroStatus: number): NumberKernel {
  return (left, right, out, selection) => {
    const { rows, count } = selection
    let clean = true
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      let status = combineStatus(left.status[row] as number, right.status[row] as number)
      if (status === Status.value) {
        const divisor = right.values[row] as number
        const value = (left.values[row] as number) / divisor
        if (divisor === 0) status = zeroStatus
        else if (value - value === 0) out.values[row] = value + 0
        else status = OUT_OF_RANGE
      }
      out.status[row] = status
      if (status !== Status.value) clean = false
    }
    out.clean = clean
  }
}

const power: NumberKernel = (left, right, out, selection) => {
  eachPair(left, right, out, selection, powerOf)
  for (let k = 0; k < selection.count; k++) {
    const row = selection.rows === null ? k : (selection.rows[k] as number)
    const isZeroBelow = left.status[row] === Status.value && left.values[row] === 0 && (right.values[row] as number) < 0
    if (isZeroBelow && right.status[row] === Status.value) out.status[row] = DIVISION_BY_ZERO
  }
}

const FIRST_MS = FIRST_DAY * MS_PER_DAY
const LAST_MS = (LAST_DAY + 1) * MS_PER_DAY - 1

/** A date moved by whole days; a fraction, or leaving the years 1 to 9999, is out-of-range. Either side may be the date. */
function movedDate(date: number, days: number): number {
  const moved = date + days
  return Number.isInteger(moved) && moved >= FIRST_DAY && moved <= LAST_DAY ? moved : Number.NaN
}

/** A date-time moved by days and fractions of days, to the whole millisecond. */
function movedTime(time: number, days: number): number {
  const moved = time + Math.round(days * MS_PER_DAY)
  return moved >= FIRST_MS && moved <= LAST_MS ? moved : Number.NaN
}

const each =
  (compute: (a: number, b: number) => number): NumberKernel =>
  (left, right, out, selection) =>
    eachPair(left, right, out, selection, compute)

/** The arithmetic operators. */
export const ARITHMETIC_KERNELS = {
  add,
  subtract,
  multiply,
  divide: division(DIVISION_BY_ZERO),
  per: division(Status.blank),
  power,
  'add-days': each(movedDate),
  'subtract-days': each((date, days) => movedDate(date, -days)),
  'add-time': each(movedTime),
  'add-to-time': each((days, time) => movedTime(time, days)),
  'subtract-time': each((time, days) => movedTime(time, -days)),
  'time-difference': each((end, start) => (end - start) / MS_PER_DAY),
} satisfies Record<string, NumberKernel>

/** Operators of one number. */
export const SIGN_KERNELS = {
  negate: (value: number): number => -value + 0,
  'day-to-time': (epochDay: number): number => epochDay * MS_PER_DAY,
}

/** Runs an operator of one number. */
export function eachNumber(
  compute: (value: number) => number,
  value: NumberVector,
  out: NumberVector,
  selection: Selection,
): void {
  for (let k = 0; k < selection.count; k++) {
    const row = selection.rows === null ? k : (selection.rows[k] as number)
    out.status[row] = value.status[row] as number
    out.values[row] = compute(value.values[row] as number)
  }
  out.clean = value.clean
}
