import { isFullBlock, type NumberVector, type Selection, scratch } from '../../../columns/index.js'
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
 * Ors the statuses of two operands over the first `count` rows, four rows at a time: byte by byte it takes longer than the
 * arithmetic (bench: row formula). The arrays begin at a multiple of four bytes and may end anywhere.
 *
 * @returns all of them or-ed
 */
export function orStatuses(left: Uint8Array, right: Uint8Array, out: Uint8Array, count: number): number {
  const words = count >> 2
  const p = new Uint32Array(left.buffer, left.byteOffset, words)
  const q = new Uint32Array(right.buffer, right.byteOffset, words)
  const to = new Uint32Array(out.buffer, out.byteOffset, words)
  let statuses = 0
  for (let word = 0; word < words; word++) {
    const of = (p[word] as number) | (q[word] as number)
    to[word] = of
    statuses |= of
  }
  for (let row = words << 2; row < count; row++) {
    const of = (left[row] as number) | (right[row] as number)
    out[row] = of
    statuses |= of
  }
  return (statuses | (statuses >>> 8) | (statuses >>> 16) | (statuses >>> 24)) & 0xff
}

// The four commonest operators have loops of their own, without branches: they compute a value for every selected row,
// whatever its status, and or the statuses, which is right for values and blanks. What that leaves wrong is rare, and shows in
// two sums over the loop (a closure and a branch a row take four times as long; bench: row formula).

/**
 * Ends such a loop.
 *
 * @param statuses - all statuses or-ed: above `blank`, some operand may be an error, whose precedence or-ing loses
 * @param check - the sum of value − value: 0 when all values are finite, NaN otherwise
 */
function finish(
  left: NumberVector,
  right: NumberVector,
  out: NumberVector,
  selection: Selection,
  statuses: number,
  check: number,
): void {
  out.clean = statuses === 0 && check === 0
  if (statuses <= Status.blank && check === 0) return
  const { rows, count } = selection
  for (let k = 0; k < count; k++) {
    const row = rows === null ? k : (rows[k] as number)
    const status = combineStatus(left.status[row] as number, right.status[row] as number)
    out.status[row] = status === Status.value && !Number.isFinite(out.values[row]) ? OUT_OF_RANGE : status
  }
}

const addRows: NumberKernel = (left, right, out, selection) => {
  const { rows, count } = selection
  const { values: a, status: p } = left
  const { values: b, status: q } = right
  const { values, status } = out
  let statuses = 0
  let check = 0
  if (rows === null) {
    for (let row = 0; row < count; row++) {
      const value = (a[row] as number) + (b[row] as number)
      values[row] = value
      check += value - value
    }
    statuses = orStatuses(p, q, status, count)
  } else {
    for (let k = 0; k < count; k++) {
      const row = rows[k] as number
      const value = (a[row] as number) + (b[row] as number)
      const of = (p[row] as number) | (q[row] as number)
      values[row] = value
      status[row] = of
      statuses |= of
      check += value - value
    }
  }
  finish(left, right, out, selection, statuses, check)
}

const subtractRows: NumberKernel = (left, right, out, selection) => {
  const { rows, count } = selection
  const { values: a, status: p } = left
  const { values: b, status: q } = right
  const { values, status } = out
  let statuses = 0
  let check = 0
  if (rows === null) {
    for (let row = 0; row < count; row++) {
      const value = (a[row] as number) - (b[row] as number)
      values[row] = value
      check += value - value
    }
    statuses = orStatuses(p, q, status, count)
  } else {
    for (let k = 0; k < count; k++) {
      const row = rows[k] as number
      const value = (a[row] as number) - (b[row] as number)
      const of = (p[row] as number) | (q[row] as number)
      values[row] = value
      status[row] = of
      statuses |= of
      check += value - value
    }
  }
  finish(left, right, out, selection, statuses, check)
}

const multiplyRows: NumberKernel = (left, right, out, selection) => {
  const { rows, count } = selection
  const { values: a, status: p } = left
  const { values: b, status: q } = right
  const { values, status } = out
  let statuses = 0
  let check = 0
  // + 0 turns a negative zero into zero.
  if (rows === null) {
    for (let row = 0; row < count; row++) {
      const value = (a[row] as number) * (b[row] as number) + 0
      values[row] = value
      check += value - value
    }
    statuses = orStatuses(p, q, status, count)
  } else {
    for (let k = 0; k < count; k++) {
      const row = rows[k] as number
      const value = (a[row] as number) * (b[row] as number) + 0
      const of = (p[row] as number) | (q[row] as number)
      values[row] = value
      status[row] = of
      statuses |= of
      check += value - value
    }
  }
  finish(left, right, out, selection, statuses, check)
}

/** An operator by the block loop of its name where all vectors lie in the memory of the loops, else by a kernel. */
function byLoop(name: 'add' | 'subtract' | 'multiply', kernel: NumberKernel): NumberKernel {
  return (left, right, out, selection) => {
    const loops = isFullBlock(selection) ? scratch.loopsFor(left.values, right.values, out.values) : null
    if (loops === null) kernel(left, right, out, selection)
    else out.clean = loops[name](left.values.byteOffset, right.values.byteOffset, out.values.byteOffset) === 0
  }
}

/** Division; `zeroStatus` is what a zero divisor gives. */
function division(zeroStatus: number): NumberKernel {
  return (left, right, out, selection) => {
    const { rows, count } = selection
    const loops = isFullBlock(selection) ? scratch.loopsFor(left.values, right.values, out.values) : null
    if (loops !== null) {
      out.clean = loops.divide(left.values.byteOffset, right.values.byteOffset, out.values.byteOffset, zeroStatus) === 0
      return
    }
    if (rows === null) return divideBlock(left, right, out, count, zeroStatus)
    const { values: a, status: p } = left
    const { values: b, status: q } = right
    const { values, status } = out
    let statuses = 0
    let check = 0
    for (let k = 0; k < count; k++) {
      const row = rows[k] as number
      const divisor = b[row] as number
      const of = (p[row] as number) | (q[row] as number)
      const isZero = divisor === 0
      const value = isZero ? 0 : (a[row] as number) / divisor + 0
      values[row] = value
      status[row] = isZero && of === Status.value ? zeroStatus : of
      statuses |= of
      check += value - value
    }
    endDivision(left, right, out, selection, statuses, check, zeroStatus)
  }
}

/** Divides a whole block without a look at the divisors; where something is not finite in the end, rows are looked at. */
function divideBlock(left: NumberVector, right: NumberVector, out: NumberVector, count: number, zeroStatus: number): void {
  const { values: a } = left
  const { values: b } = right
  const { values, status } = out
  let check = 0
  for (let row = 0; row < count; row++) {
    const value = (a[row] as number) / (b[row] as number) + 0
    values[row] = value
    check += value - value
  }
  const statuses = orStatuses(left.status, right.status, status, count)
  out.clean = statuses === 0 && check === 0
  if (statuses > Status.blank)
    for (let row = 0; row < count; row++) status[row] = combineStatus(left.status[row] as number, right.status[row] as number)
  if (check === 0) return
  for (let row = 0; row < count; row++) {
    const value = values[row] as number
    if (value - value === 0) continue
    values[row] = 0
    if (status[row] === Status.value) status[row] = b[row] === 0 ? zeroStatus : OUT_OF_RANGE
  }
}

/** Ends a division as `finish` ends the other loops, with zero divisors told again where rows have to be looked at. */
function endDivision(
  left: NumberVector,
  right: NumberVector,
  out: NumberVector,
  selection: Selection,
  statuses: number,
  check: number,
  zeroStatus: number,
): void {
  out.clean = false
  if (statuses <= Status.blank && check === 0) return
  finish(left, right, out, selection, statuses, check)
  out.clean = false
  const { rows, count } = selection
  for (let k = 0; k < count; k++) {
    const row = rows === null ? k : (rows[k] as number)
    const hasValues = ((left.status[row] as number) | (right.status[row] as number)) === Status.value
    if (hasValues && right.values[row] === 0) out.status[row] = zeroStatus
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
  add: byLoop('add', addRows),
  subtract: byLoop('subtract', subtractRows),
  multiply: byLoop('multiply', multiplyRows),
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
