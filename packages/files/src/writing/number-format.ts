import type { QueryColumn } from 'mellow-abacus'

/** The format code (ECMA-376 part 1, 18.8.31) in which a column of a sheet is shown; null for the general one. */
export function numberFormat({ type, properties }: QueryColumn): string | null {
  const { display, decimals } = properties
  if (type === 'date') return display === undefined ? 'yyyy-mm-dd' : dateFormat(display)
  if (type === 'datetime') return display === undefined ? 'yyyy-mm-dd hh:mm:ss' : dateFormat(display)
  if (type !== 'number' && type !== 'integer') return null
  const fraction = decimals === undefined ? null : decimals === 0 ? '' : `.${'0'.repeat(decimals)}`
  if (display === 'percent') return `0${fraction ?? ''}%`
  const currency = /^currency:([A-Z]{3})$/.exec(display ?? '')?.[1]
  if (currency !== undefined) return `#,##0${fraction ?? '.00'} "${currency}"`
  // A number pattern of TR35 without quotes says the same there.
  if (display !== undefined) return /^[0#.,;%+\- ]+$/.test(display) ? display : null
  return fraction === null ? null : `0${fraction}`
}

/** A date pattern of TR35 as a format code: the same letters in lower case, texts in double quotes. */
function dateFormat(pattern: string): string {
  return pattern
    .split(/('(?:[^']|'')*')/)
    .map((part) =>
      part.startsWith("'")
        ? `"${part.slice(1, -1).replaceAll("''", "'")}"`
        : part
            .replace(/E+/g, (days) => 'd'.repeat(Math.max(3, days.length)))
            .replace(/S+/g, (digits) => '0'.repeat(digits.length))
            .replace(/a/g, 'AM/PM')
            .replace(/[yMLdHhms]/g, (letter) => letter.toLowerCase().replace('l', 'm')),
    )
    .join('')
}
