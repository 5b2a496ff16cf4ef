import { parseNumberText } from 'mellow-abacus/storage'

/** How numbers of a file are written: the sign before their fraction, and the one between groups of three digits, if any. */
export interface NumberMarks {
  readonly decimal: string
  /** A space stands for the narrow and the protected one too. */
  readonly thousands: string | null
}

const SPACES = '[ \\u00a0\\u202f]'

/**
 * Reads numbers that are written with some marks; NaN for what is none. A thousands mark must stand between whole groups of
 * three digits: `1,234.5` is a number with the mark `,`, and `12,34` is not.
 */
export function numberReader({ decimal, thousands }: NumberMarks): (text: string) => number {
  const code = decimal.charCodeAt(0)
  if (thousands === null) return (text) => parseNumberText(text, code)
  const mark = thousands === ' ' ? SPACES : escaped(thousands)
  const grouped = new RegExp(`^[+-]?\\d{1,3}(?:${mark}\\d{3})+(?:${escaped(decimal)}\\d*)?(?:[eE][+-]?\\d+)?$`)
  const marks = new RegExp(mark, 'g')
  return (text) => parseNumberText(grouped.test(text) ? text.replace(marks, '') : text, code)
}

const escaped = (sign: string): string => sign.replace(/[\\^$.*+?()[\]{}|/-]/g, '\\$&')

/** A number with marks but without digits of its own, as `#.##0,00`: what stands before three digits groups, the other divides. */
const PATTERN = /^#?(?:([.,' \u00a0\u202f])?##)?0(?:([.,])[0#]+)?$/

/** The marks of a number pattern such as `#.##0,00` or `0,0`, written with the marks of the file; null for what is none. */
export function marksOfPattern(pattern: string): NumberMarks | null {
  const match = PATTERN.exec(pattern)
  if (match === null) return null
  const [, thousands, decimal] = match
  if (thousands !== undefined && thousands === decimal) return null
  const group = thousands === undefined ? null : /[\u00a0\u202f]/.test(thousands) ? ' ' : thousands
  return { decimal: decimal ?? (group === '.' ? ',' : '.'), thousands: group }
}

/** The pattern that says some marks. */
export function patternOfMarks({ decimal, thousands }: NumberMarks): string {
  return thousands === null ? `0${decimal}0` : `#${thousands}##0${decimal}0`
}
