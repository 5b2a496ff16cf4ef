import type { Unit, UnitFactor } from './unit.js'

/** Digits of a power, by what they count. */
export const RAISED = '⁰¹²³⁴⁵⁶⁷⁸⁹'

/** A unit as it is shown: as it was written, else `kg·m/s²`; empty for a plain number. */
export function printUnit({ factors, written }: Unit): string {
  if (written !== undefined) return written
  const top = factors.filter(({ power }) => power > 0).map((one) => printFactor(one, 1))
  const bottom = factors.filter(({ power }) => power < 0).map((one) => printFactor(one, -1))
  if (bottom.length === 0) return top.join('·')
  const below = bottom.length === 1 ? bottom[0] : `(${bottom.join('·')})`
  return `${top.length === 0 ? '1' : top.join('·')}/${below}`
}

function printFactor({ symbol, power }: UnitFactor, sign: 1 | -1): string {
  const size = power * sign
  // A unit that could not be taken apart is taken as a whole.
  const base = size !== 1 && /[\s/·]/.test(symbol) ? `(${symbol})` : symbol
  if (size === 1) return base
  if (Number.isInteger(size)) return base + raisedDigits(size)
  const bottom = Number.isInteger(size * 2) ? 2 : Number.isInteger(Math.round(size * 3e9) / 1e9) ? 3 : 6
  return `${base}^(${Math.round(size * bottom)}/${bottom})`
}

/** A whole number that is not negative, as a power is written. */
export function raisedDigits(power: number): string {
  return [...String(power)].map((digit) => RAISED[Number(digit)]).join('')
}
