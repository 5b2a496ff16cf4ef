import { powerOf } from './power.js'

/** How far the engine's logarithm of an exact power can lie from the whole number. */
const NEAR = 1e-12

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
  // Among the smallest numbers powers round together, so a power alone does not show that the logarithm is whole.
  const isNear = Math.abs(near - whole) <= NEAR * Math.max(1, Math.abs(near))
  return isNear && powerOf(base, whole) === value ? whole + 0 : near
}
