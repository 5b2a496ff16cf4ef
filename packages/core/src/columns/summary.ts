import { compareText, ExactSum, type FaultCode, faultOfStatus, isFaultStatus, type Scalar, Status } from '../values/index.js'
import type { Column } from './column.js'

/** What a totals line shows of one column. */
export interface Summary {
  readonly rows: number
  readonly values: number
  readonly blanks: number
  readonly errors: number
  /** The error that totals of this column are: of those it holds, the one named first in FAULT_CODES. */
  readonly fault: FaultCode | null
  /** Exact sum rounded once; for number columns with values and without errors, null beyond binary64. */
  readonly sum: number | null
  readonly mean: number | null
  readonly min: Scalar | null
  readonly max: Scalar | null
}

/** Counts, exact total and extremes of a column over the slots given. */
export function summarise(column: Column, slots: Int32Array): Summary {
  const isNumber = column.type === 'number' || column.type === 'integer'
  const total = new ExactSum()
  let values = 0
  let errors = 0
  let fault = Number.POSITIVE_INFINITY
  let min: Scalar | null = null
  let max: Scalar | null = null
  for (let k = 0; k < slots.length; k++) {
    const slot = slots[k] as number
    const status = column.statusAt(slot)
    if (isFaultStatus(status)) {
      errors++
      fault = Math.min(fault, status)
    }
    if (status !== Status.value) continue
    const value = column.valueAt(slot) as number | string
    values++
    if (isNumber) total.add(value as number)
    if (min === null || isBefore(value, min)) min = value
    if (max === null || isBefore(max, value)) max = value
  }
  const sum = isNumber && values > 0 && errors === 0 ? finiteOrNull(total.result()) : null
  const isBoolean = column.type === 'boolean'
  return {
    rows: slots.length,
    values,
    blanks: slots.length - values - errors,
    errors,
    fault: errors === 0 ? null : faultOfStatus(fault),
    sum,
    mean: sum === null ? null : sum / values,
    min: isBoolean || errors > 0 ? null : min,
    max: isBoolean || errors > 0 ? null : max,
  }
}

function isBefore(left: Scalar, right: Scalar): boolean {
  return typeof left === 'string' ? compareText(left, right as string) < 0 : left < right
}

function finiteOrNull(value: number): number | null {
  return Number.isFinite(value) ? value : null
}
