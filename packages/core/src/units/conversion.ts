import { isSameKind, isSameSize, measureOf } from './measure.js'
import type { Unit } from './unit.js'

/**
 * How a value in one unit becomes one in another: `(value + before) * times / by + after`. Factors are as short as they are known
 * to be: inches to centimetres is 2.54, kilometres an hour to metres a second a division by 3.6.
 */
export interface Conversion {
  readonly before: number
  readonly times: number
  readonly by: number
  readonly after: number
}

/** The conversion between two units; null where they are not of one kind, or nothing is known of them. */
export function conversionBetween(from: Unit, to: Unit): Conversion | null {
  const [own, other] = [measureOf(from), measureOf(to)]
  if (own === null || other === null || !isSameKind(own, other)) return null
  const ratio = own.size / other.size
  const { times, by } = isSameSize(ratio, 1) ? { times: 1, by: 1 } : shortFactor(ratio)
  // A difference has no zero of its own, and needs none of what it is converted to.
  const shift = from.isDifference === true || to.isDifference === true ? 0 : (own.zero - other.zero) / other.size
  if (Math.abs(shift) < 1e-9) return { before: 0, times, by, after: 0 }
  return by === 1 ? { before: 0, times, by, after: short(shift) } : { before: short(shift / ratio), times, by, after: 0 }
}

/** True when a conversion leaves every value as it is. */
export function isIdentity({ before, times, by, after }: Conversion): boolean {
  return before === 0 && times === 1 && by === 1 && after === 0
}

/** The largest denominator of a factor that is a simple fraction. */
const MOST_DENOMINATOR = 1000

function shortFactor(ratio: number): { times: number; by: number } {
  // A thousandth is no binary number, a thousand is: dividing rounds once.
  if (isShort(1 / ratio) && Number.isInteger(short(1 / ratio))) return { times: 1, by: short(1 / ratio) }
  if (isShort(ratio)) return { times: short(ratio), by: 1 }
  if (isShort(1 / ratio)) return { times: 1, by: short(1 / ratio) }
  for (let by = 2; by <= MOST_DENOMINATOR; by++) {
    const times = Math.round(ratio * by)
    if (times > 0 && isExact(times / by, ratio)) return { times, by }
  }
  return { times: ratio, by: 1 }
}

/** Significant digits of a factor that was defined as a decimal. */
const DIGITS = 12

function short(value: number): number {
  return Number(value.toPrecision(DIGITS))
}

function isShort(value: number): boolean {
  return isExact(short(value), value)
}

/** The same but for what products of a few factors are rounded by. */
function isExact(found: number, value: number): boolean {
  return Math.abs(value - found) <= 4e-15 * Math.abs(value)
}
