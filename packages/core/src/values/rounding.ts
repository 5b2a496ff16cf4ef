/** Which neighbour is taken: the nearest (half away from zero), the one away from zero, or the one toward zero. */
export type RoundingMode = 'nearest' | 'away' | 'toward'

/**
 * Rounds on the shortest decimal that prints the number, so `1.005` to 2 places is 1.01 and `2.5` to 0 is 3.
 *
 * @param digits - decimal places, whole; negative rounds to tens, hundreds …
 * @returns the binary64 number nearest to the rounded decimal; beyond binary64 it is Infinity
 */
export function roundDecimal(value: number, digits: number, mode: RoundingMode = 'nearest'): number {
  if (value === 0 || (digits >= 0 && Number.isInteger(value))) return value
  if (mode === 'nearest' && digits >= 0 && digits <= 15) {
    // Away from the half, binary and decimal agree; the slack is far wider than the error of one multiplication.
    const ten = 10 ** digits
    const scaled = Math.abs(value) * ten
    const whole = Math.floor(scaled)
    const rest = scaled - whole
    if (scaled < 2 ** 51 && Math.abs(rest - 0.5) > scaled * 2 ** -48 + 2 ** -40) {
      const rounded = (rest > 0.5 ? whole + 1 : whole) / ten
      return value < 0 && rounded !== 0 ? -rounded : rounded
    }
  }
  return roundOnDigits(value, digits, mode)
}

function roundOnDigits(value: number, digits: number, mode: RoundingMode): number {
  const { mantissa, exponent } = shortestDigits(Math.abs(value))
  // The value is 0.mantissa × 10^exponent; `kept` digits of the mantissa stand before the cut.
  const kept = exponent + digits
  if (kept >= mantissa.length) return value
  let head = kept > 0 ? mantissa.slice(0, kept) : '0'
  const up = mode === 'away' || (mode === 'nearest' && kept >= 0 && mantissa.charCodeAt(kept) >= 53)
  if (up) head = (BigInt(head) + 1n).toString()
  const rounded = Number(`${head}e${-digits}`)
  return value < 0 && rounded !== 0 ? -rounded : rounded
}

/** The digits of the shortest decimal that reads back as `value` (> 0): value = 0.mantissa × 10^exponent. */
function shortestDigits(value: number): { mantissa: string; exponent: number } {
  const [coefficient = '0', power = '0'] = value.toExponential().split('e')
  return { mantissa: coefficient.replace('.', ''), exponent: Number(power) + 1 }
}
