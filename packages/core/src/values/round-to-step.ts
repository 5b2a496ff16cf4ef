import { overCommonScale, roundRatio, shortestDecimal } from './exact-ratio.js'

/**
 * The multiple of a step nearest to a number, half away from zero, both taken as the decimals they print as.
 *
 * @param step - not zero; its sign does not matter
 */
export function roundToStep(value: number, step: number): number {
  if (Number.isInteger(value) && Number.isInteger(step) && Math.abs(value) < 2 ** 51 && Math.abs(step) < 2 ** 51) {
    const size = Math.abs(step)
    const rest = Math.abs(value) % size
    const rounded = Math.abs(value) - rest + (rest * 2 >= size ? size : 0)
    return value < 0 ? -rounded + 0 : rounded
  }
  const { digits, scale } = overCommonScale([shortestDecimal(value), shortestDecimal(step)])
  const [top, unit] = digits.map((one) => (one < 0n ? -one : one)) as [bigint, bigint]
  const rounded = ((top * 2n + unit) / (unit * 2n)) * unit
  return roundRatio(value < 0 ? -rounded : rounded, 10n ** BigInt(scale))
}
