/**
 * What is known of a number's size: it is a multiple of 2 ^ grain, and smaller than 2 ^ high. Every binary64 number is, with -1074
 * and 1024; what is known to be far from both ends needs no guard there.
 */
export interface Magnitude {
  readonly grain: number
  readonly high: number
}

/** Nothing is known. */
export const UNBOUNDED: Magnitude = { grain: -1074, high: 1024 }

/** Whole numbers that binary64 holds exactly. */
export const WHOLE: Magnitude = { grain: 0, high: 54 }

/** Truth of a size: its numbers are whole and held exactly. */
export function isWholeSize({ grain, high }: Magnitude): boolean {
  return grain >= 0 && high <= WHOLE.high
}

/** The size of one number. */
export function sizeOfNumber(value: number): Magnitude {
  if (value === 0) return { grain: 1023, high: -1074 }
  const high = Math.floor(Math.log2(Math.abs(value))) + 2
  let grain = Math.max(-1074, high - 55)
  while (grain < 1000 && Number.isInteger(value / 2 ** (grain + 1)) && 2 ** (grain + 1) > 0) grain++
  return { grain, high }
}

/** The size of numbers of two kinds. */
export function eitherSize(a: Magnitude, b: Magnitude): Magnitude {
  return { grain: Math.min(a.grain, b.grain), high: Math.max(a.high, b.high) }
}

/** The size before it is cut off at the ends of binary64: beyond them it says that they can be met. */
export function sumSize(a: Magnitude, b: Magnitude): Magnitude {
  return { grain: Math.min(a.grain, b.grain), high: Math.max(a.high, b.high) + 1 }
}

/** The same of a product. */
export function productSize(a: Magnitude, b: Magnitude): Magnitude {
  return { grain: a.grain + b.grain, high: a.high + b.high }
}

/** The same of a quotient; what is not zero is at least 2 ^ (a.grain - b.high), and rounding leaves 53 bits of it. */
export function quotientSize(a: Magnitude, b: Magnitude): Magnitude {
  return { grain: a.grain - b.high - 53, high: a.high - b.grain }
}

/** Cut off at the ends of binary64. */
export function clipped({ grain, high }: Magnitude): Magnitude {
  return { grain: Math.max(grain, UNBOUNDED.grain), high: Math.min(high, UNBOUNDED.high) }
}

/** True where a result can be beyond binary64. */
export function canOverflow({ high }: Magnitude): boolean {
  return high > UNBOUNDED.high
}
