import { symbolCode } from './spellings.js'

/** A symbol of a unit and its power: `s²` is the symbol `s` with power 2. */
export interface UnitFactor {
  readonly symbol: string
  readonly power: number
}

/** A unit as a product of powers; without factors that of a plain number, such as the ratio of two masses. */
export interface Unit {
  readonly factors: readonly UnitFactor[]
  /** As someone wrote it; without it the unit is made by a formula. */
  readonly written?: string
  /** True for what a difference gives: 5 °C between two temperatures are 9 °F, not 41. */
  readonly isDifference?: true
  /** True for a unit that follows from a column which is hidden from some: nobody else's formula is told of it. */
  readonly isPrivate?: true
  /** What the value was multiplied by in numbers written out: `kg * 1000` may well be meant as grams. Without it 1. */
  readonly times?: number
}

/** The unit of a plain number. */
export const PLAIN: Unit = { factors: [] }

/** Symbols that say how a plain number is written, and go when it is part of a product. */
const SHARES: ReadonlySet<string> = new Set(['%', '10*-3', '[ppth]', '[ppm]', '[ppb]', 'rad', 'sr'])

/** True for a symbol that stands for no quantity of its own: a share, an angle in radians or a named count. */
export function isPlainSymbol(symbol: string): boolean {
  return SHARES.has(symbolCode(symbol)) || symbol.startsWith('{')
}

/** The unit of a product. */
export function productOf(left: Unit, right: Unit): Unit {
  return combined(left, right, 1)
}

/** The unit of a quotient. */
export function quotientOf(left: Unit, right: Unit): Unit {
  return combined(left, right, -1)
}

/** The unit of a power; null where that is no unit, as for a power that is no simple fraction. */
export function powerOf(unit: Unit, exponent: number): Unit | null {
  const factors = unit.factors.map(({ symbol, power }) => ({ symbol, power: power * exponent }))
  // Sixths take in square and cube roots of squares and cubes.
  if (factors.some(({ power }) => Math.abs(power * 6 - Math.round(power * 6)) > 1e-9)) return null
  const sixths = factors.map(({ symbol, power }) => ({ symbol, power: Math.round(power * 6) / 6 }))
  return made(
    sixths.filter(({ power }) => power !== 0),
    (unit.times ?? 1) ** exponent,
  )
}

/** The unit of a value multiplied by a number that is written out. */
export function timesNumber(unit: Unit, number: number): Unit {
  if (unit.factors.length === 0) return unit
  const { factors, isDifference } = unit
  const times = (unit.times ?? 1) * number
  return { factors, ...(isDifference === true && { isDifference }), ...(times !== 1 && { times }), ...writtenOf(unit) }
}

/** The unit of a difference. */
export function differenceOf(unit: Unit): Unit {
  return { ...unit, isDifference: true }
}

/** True when two units are the same symbols to the same powers. */
export function isSameUnit(left: Unit, right: Unit): boolean {
  return combined(left, right, -1, true).factors.length === 0
}

function writtenOf({ written }: Unit): { written?: string } {
  return written === undefined ? {} : { written }
}

function combined(left: Unit, right: Unit, sign: 1 | -1, keepsShares = false): Unit {
  const factors = new Map<string, { symbol: string; power: number }>()
  const add = (unit: Unit, by: number): void => {
    for (const { symbol, power } of unit.factors) {
      const code = symbolCode(symbol)
      const known = factors.get(code)
      if (known === undefined) factors.set(code, { symbol, power: power * by })
      else known.power += power * by
    }
  }
  add(left, 1)
  add(right, sign)
  const all = [...factors.values()].filter(({ power }) => Math.abs(power) > 1e-9)
  const times = (left.times ?? 1) * (right.times ?? 1) ** sign
  const others = all.filter(({ symbol }) => !SHARES.has(symbolCode(symbol)))
  return made(keepsShares || others.length === 0 ? all : others, times)
}

function made(factors: readonly UnitFactor[], times: number): Unit {
  return { factors, ...(times !== 1 && factors.length > 0 && { times }) }
}

/** True when two columns are in the same unit, and written the same. */
export function isSameReading(left: Unit | null, right: Unit | null): boolean {
  if (left === null || right === null) return left === right
  return (
    isSameUnit(left, right) &&
    left.isDifference === right.isDifference &&
    left.isPrivate === right.isPrivate &&
    left.written === right.written
  )
}
