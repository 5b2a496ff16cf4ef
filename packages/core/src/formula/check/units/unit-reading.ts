import { mayBeConverted, PLAIN, powerOf, productOf, quotientOf, timesNumber, type Unit } from '../../../units/index.js'

/** The unit of a part: a number that is written out has none of its own, and takes any; null where nothing is known. */
export type UnitReading = Unit | number | null

/** The unit of a product. */
export function multipliedUnits(left: UnitReading, right: UnitReading): UnitReading {
  if (left === null || right === null) return null
  if (typeof left === 'number') return typeof right === 'number' ? left * right : timesNumber(right, left)
  return typeof right === 'number' ? timesNumber(left, right) : productOf(left, right)
}

/** The unit of a quotient. */
export function dividedUnits(left: UnitReading, right: UnitReading): UnitReading {
  if (left === null || right === null) return null
  if (typeof right === 'number') return typeof left === 'number' ? left / right : timesNumber(left, 1 / right)
  if (typeof left !== 'number') return quotientOf(left, right)
  const turned = quotientOf(PLAIN, right)
  return timesNumber(turned, left)
}

/** The unit of a power. */
export function raisedUnit(base: UnitReading, exponent: UnitReading): UnitReading {
  if (typeof base === 'number') return typeof exponent === 'number' ? base ** exponent : null
  if (base === null || base.factors.length === 0) return base
  return typeof exponent === 'number' ? powerOf(base, exponent) : null
}

/** The unit that is certain: where a number written out may have made another one of it, only the column can say which. */
export function certainUnit(reading: UnitReading): Unit | null {
  return reading === null || typeof reading === 'number' || mayBeConverted(reading) ? null : reading
}
