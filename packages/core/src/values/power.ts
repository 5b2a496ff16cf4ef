/**
 * `base ^ exponent` of the language. A whole exponent multiplies out by squaring, so powers that binary64 can hold
 * exactly are exact; a negative one is 1 over that. 0 ^ 0 is 1. Only a fractional exponent is the JavaScript engine's own.
 *
 * @returns NaN for a negative base under a fractional exponent; ±Infinity beyond binary64. A zero base under a negative
 * exponent is the caller's to refuse.
 */
export function powerOf(base: number, exponent: number): number {
  if (!Number.isInteger(exponent)) return base ** exponent
  if (exponent >= 0) return bySquaring(base, exponent)
  const whole = bySquaring(base, -exponent)
  if (Number.isFinite(whole)) return 1 / whole
  // The power overflows although its reciprocal may still be a subnormal number: 2 ^ -1070.
  const half = Math.floor(-exponent / 2)
  return 1 / bySquaring(base, half) / bySquaring(base, -exponent - half)
}

function bySquaring(base: number, exponent: number): number {
  let result = 1
  while (exponent > 0) {
    if (exponent % 2 === 1) result *= base
    exponent = Math.floor(exponent / 2)
    if (exponent > 0) base *= base
  }
  return result
}
