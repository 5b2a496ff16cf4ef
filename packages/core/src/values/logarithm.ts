import { powerOf } from './power.js'

/**
 * The logarithm of a number to a base, exact where the number is a whole power of the base that binary64 holds: the
 * logarithms of JavaScript engines miss some of those by a bit.
 *
 * @returns NaN where either is not positive or the base is 1
 */
export function logarithm(value: number, base: number): number {
  if (!(value > 0) || !(base > 0) || base === 1) return Number.NaN
  const near = base === 10 ? Math.log10(value) : base === 2 ? Math.log2(value) : Math.log(value) / Math.log(base)
  const whole = Math.round(near)
  return powerOf(base, whole) === value ? whole : near
}
