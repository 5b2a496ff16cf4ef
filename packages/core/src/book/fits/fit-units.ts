const RAISED = '⁰¹²³⁴⁵⁶'

/** A power as it is written: `x²`; nothing for 0, x alone for 1. */
export function raised(base: string, power: number): string {
  if (power === 0) return ''
  return power === 1 ? base : `${base}${RAISED[power]}`
}

/** The unit of the coefficient of a power of x; null where there is none. */
export function unitOfPower(y: string | null, x: string | null, power: number): string | null {
  if (power === 0 || x === null) return y
  const simple = /^[\p{L}°%µ]+$/u.test(x)
  const bottom = raised(simple ? x : `(${x})`, power)
  return `${y ?? '1'}/${bottom}`
}
