/** A finite binary64 number as `mantissa × 2 ^ exponent`, exactly. */
export interface ExactParts {
  readonly mantissa: bigint
  readonly exponent: number
}

/** A decimal as written, exactly: `digits / 10 ^ scale`, scale not negative. */
export interface ExactDecimal {
  readonly digits: bigint
  readonly scale: number
}

const view = new DataView(new ArrayBuffer(8))
const SMALLEST_EXPONENT = -1074
const MANTISSA_BITS = 53

/** Takes a finite number apart (IEEE 754-2019, 3.4). */
export function exactParts(value: number): ExactParts {
  view.setFloat64(0, value)
  const high = view.getUint32(0)
  const biased = (high >>> 20) & 0x7ff
  const fraction = (BigInt(high & 0xfffff) << 32n) | BigInt(view.getUint32(4))
  const mantissa = biased === 0 ? fraction : fraction | (1n << 52n)
  return { mantissa: value < 0 ? -mantissa : mantissa, exponent: Math.max(biased, 1) - 1075 }
}

/**
 * The binary64 number nearest to `numerator / denominator × 2 ^ exponent`, ties to even; ±Infinity beyond binary64.
 *
 * @param denominator - not zero
 */
export function roundRatio(numerator: bigint, denominator: bigint, exponent = 0): number {
  if (numerator === 0n) return 0
  const negative = numerator < 0n !== denominator < 0n
  const top = numerator < 0n ? -numerator : numerator
  const bottom = denominator < 0n ? -denominator : denominator
  // The quotient is taken with three bits more than binary64 keeps; what is left over only says on which side of a tie it is.
  const size = bitLength(top) - bitLength(bottom) + exponent
  const unit = Math.max(size - MANTISSA_BITS - 3, SMALLEST_EXPONENT - 2)
  const shift = exponent - unit
  const scaledTop = shift >= 0 ? top << BigInt(shift) : top
  const scaledBottom = shift >= 0 ? bottom : bottom << BigInt(-shift)
  const quotient = scaledTop / scaledBottom
  const isExact = quotient * scaledBottom === scaledTop
  const dropped = Math.max(bitLength(quotient) - MANTISSA_BITS, SMALLEST_EXPONENT - unit, 0)
  const kept = quotient >> BigInt(dropped)
  const rest = quotient - (kept << BigInt(dropped))
  const half = dropped === 0 ? 0n : 1n << BigInt(dropped - 1)
  const isUp = dropped > 0 && (rest > half || (rest === half && (!isExact || (kept & 1n) === 1n)))
  const rounded = scaleByTwo(Number(isUp ? kept + 1n : kept), unit + dropped)
  return negative ? -rounded + 0 : rounded
}

function scaleByTwo(value: number, exponent: number): number {
  if (exponent <= 1023) return value * 2 ** exponent
  return value * 2 ** 1023 * 2 ** Math.min(exponent - 1023, 1023)
}

function bitLength(value: bigint): number {
  const hex = value.toString(16)
  return hex.length * 4 - Math.clz32(Number.parseInt(hex[0] as string, 16)) + 28
}

/** The decimal that a number literal of the language writes, `40%` being 40/100. */
export function exactDecimal(literal: string): ExactDecimal {
  const isPercent = literal.endsWith('%')
  const [coefficient = '', power = '0'] = literal.replace('%', '').toLowerCase().split('e')
  const [whole = '', fraction = ''] = coefficient.split('.')
  const scale = fraction.length - Number(power) + (isPercent ? 2 : 0)
  const digits = BigInt(whole + fraction)
  return scale >= 0 ? { digits, scale } : { digits: digits * 10n ** BigInt(-scale), scale: 0 }
}

/** The decimal that a number prints as, exactly: what rounding to a step works on. */
export function shortestDecimal(value: number): ExactDecimal {
  const decimal = exactDecimal(String(Math.abs(value)))
  return value < 0 ? { digits: -decimal.digits, scale: decimal.scale } : decimal
}

/** The digits of decimals over one common power of ten. */
export function overCommonScale(decimals: readonly ExactDecimal[]): { digits: bigint[]; scale: number } {
  const scale = decimals.reduce((most, one) => Math.max(most, one.scale), 0)
  return { digits: decimals.map((one) => one.digits * 10n ** BigInt(scale - one.scale)), scale }
}
