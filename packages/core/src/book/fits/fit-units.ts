import { PLAIN, parseUnit, powerOf, printUnit, quotientOf, raisedDigits } from '../../units/index.js'

/** A power as it is written: `x²`; nothing for 0, x alone for 1. */
export function raised(base: string, power: number): string {
  if (power === 0) return ''
  return power === 1 ? base : base + raisedDigits(power)
}

/** The unit of the coefficient of a power of x; null where there is none. */
export function unitOfPower(y: string | null, x: string | null, power: number): string | null {
  const below = x === null || power === 0 ? null : powerOf(parseUnit(x) ?? PLAIN, power)
  if (below === null) return y
  return printUnit(quotientOf(y === null ? PLAIN : (parseUnit(y) ?? PLAIN), below)) || null
}
