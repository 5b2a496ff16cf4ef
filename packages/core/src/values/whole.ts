/** The largest size up to which binary64 has every whole number: 2^53. */
export const LARGEST_WHOLE: number = 2 ** 53

/** True for a whole number that a column of integers holds. */
export function isWhole(value: number): boolean {
  return Number.isInteger(value) && Math.abs(value) <= LARGEST_WHOLE
}
