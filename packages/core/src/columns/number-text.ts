import { parseNumberText } from '../values/index.js'

/** True for a text that a number column would have read as a number; `007` is a code. */
export function isNumberText(text: string): boolean {
  const first = text.charCodeAt(0)
  // Most texts are none, and their first sign shows it: a digit, + - or a point.
  if (!(first >= 43 && first <= 57)) return false
  return !/^[+-]?0\d/.test(text) && !Number.isNaN(parseNumberText(text))
}
