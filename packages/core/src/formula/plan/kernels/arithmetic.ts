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

/**
 * Ends a kernel that has computed a value for every selected row, whatever the statuses: rows that are no values get theirs
 * from the operands, results beyond binary64 are marked. Two passes without branches cost half of one with them, and a
 * quarter of a closure a row (bench: row formula).
 */
function settle(left: NumberVector, right: NumberVector, out: NumberVector, selection: Selection): void {
  const { rows, count } = selection
  const { values, status } = out
  let clean = true
  for (let k = 0; k < count; k++) {
    const row = rows === null ? k : (rows[k] as number)
    const ofLeft = left.status[row] as number
    const ofRight = right.status[row] as number
    let of: number = Status.value
    if ((ofLeft | ofRight) !== 0) of = combineStatus(ofLeft, ofRight)
    else {
      const value = values[row] as number
      // x − x is 0 for every finite number and NaN for the others.
      if (value - value !== 0) of = OUT_OF_RANGE
    }
    status[row] = of
    if (of !== 0) clean = false
  }
  out.clean = clean
}

const add: NumberKernel = (left, right, out, selection) => {
  const { rows, count } = selection
  const { values: a } = left
  const { values: b } = right
  const { values } = out
  if (rows === null) for (let row = 0; row < count; row++) values[row] = (a[row] as number) + (b[row] as number)
  else {
    for (let k = 0; k < count; k++) {
      const row = rows[k] as number
      values[row] = (a[row] as number) + (b[row] as number)
    }
  }
  settle(left, right, out, selection)
}

const subtract: NumberKernel = (left, right, out, selection) => {
  const { rows, count } = selection
  const { values: a } = left
  const { values: b } = right
  const { values } = out
  if (rows === null) for (let row = 0; row < count; row++) values[row] = (a[row] as number) - (b[row] as number)
  else {
    for (let k = 0; k < count; k++) {
      const row = rows[k] as number
      values[row] = (a[row] as number) - (b[row] as number)
    }
  }
  settle(left, right, out, selection)
}

const multiply: NumberKernel = (left, right, out, selection) => {
  const { rows, count } = selection
  const { values: a } = left
  const { values: b } = right
  const { values } = out
  // + 0 turns a negative zero into zero.
  if (rows === null) for (let row = 0; row < count; row++) values[row] = (a[row] as number) * (b[row] as number) + 0
  else {
    for (let k = 0; k < count; k++) {
      const row = rows[k] as number
      values[row] = (a[row] as number) * (b[row] as number) + 0
    }
  }
  settle(left, right, out, selection)
}

/** Division; `zeroStatus` is what a zero divisor gives. */
function division(zeroStatus: number): NumberKernel {
  return (left, right, out, selection) => {
    const { rows, count } = selection
    const { values: a } = left
    const { values: b } = right
    const { values } = out
    if (rows === null) for (let row = 0; row < count; row++) values[row] = (a[row] as number) / (b[row] as number) + 0
    else {
      for (let k = 0; k < count; k++) {
        const row = rows[k] as number
        values[row] = (a[row] as number) / (b[row] as number) + 0
      }
    }
    settle(left, right, out, selection)
    if (!out.clean) markZeroDivisors(left, right, out, selection, zeroStatus)
  }
}

/** A value over zero came out infinite, or as no number, so only rows that did not settle are looked at. */
function markZeroDivisors(
  left: NumberVector,
  right: NumberVector,
  out: NumberVector,
  selection: Selection,
  zeroStatus: number,
): void {
  const { rows, count } = selection
  for (let k = 0; k < count; k++) {
    const row = rows === null ? k : (rows[k] as number)
    if (
      out.status[row] === OUT_OF_RANGE &&
      right.values[row] === 0 &&
      ((left.status[row] as number) | (right.status[row] as number)) === 0
    )
      out.status[row] = zeroStatus
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
