import {
  compileDatePrinter,
  compileNumberPattern,
  displayScalar,
  MS_PER_DAY,
  type Scalar,
  type ValueType,
} from '../values/index.js'

/** A column as far as showing its values goes. */
export interface Displayed {
  readonly type: ValueType | null
  readonly properties: { readonly display?: string; readonly decimals?: number }
}

/**
 * How the values of a column are shown: as `percent`, `currency:EUR` (ECMA-402), in a pattern of Unicode TR35, with so many
 * decimals, or as they are. Rounding is that of the language. What is stored never changes by it.
 *
 * @returns null where the column is to be shown in a way there is not
 */
export function displayOf({ type, properties }: Displayed, locale: string): ((value: Scalar) => string) | null {
  const { display, decimals } = properties
  if (type === 'date' || type === 'datetime') return display === undefined ? plain(type) : dates(display, type, locale)
  if (type === null) return display === undefined || isDisplay(display, locale) ? plain('text') : null
  if (type !== 'number' && type !== 'integer') return display === undefined ? plain(type) : null
  if (display === undefined && decimals === undefined) return plain(type)
  if (display?.startsWith('currency:') === true) return money(display.slice('currency:'.length), decimals, locale)
  const pattern = compileNumberPattern(patternOf(display, decimals), locale)
  return pattern === null ? null : (value) => (typeof value === 'number' ? pattern.print(value) : String(value))
}

/** True for a way to show values of some type. */
function isDisplay(display: string, locale: string): boolean {
  const as = (type: ValueType): boolean => displayOf({ type, properties: { display } }, locale) !== null
  return as('number') || as('date')
}

function plain(type: ValueType): (value: Scalar) => string {
  return (value) => displayScalar(value, type)
}

function dates(pattern: string, type: ValueType, locale: string): ((value: Scalar) => string) | null {
  const print = compileDatePrinter(pattern, locale)
  const unit = type === 'date' ? MS_PER_DAY : 1
  return print === null ? null : (value) => (typeof value === 'number' ? print(value * unit) : String(value))
}

/** Decimals shown where nothing is said: up to so many, as the language shows numbers. */
const MOST_DECIMALS = 15

function patternOf(display: string | undefined, decimals: number | undefined): string {
  const fraction = decimals === undefined ? '' : decimals === 0 ? '' : `.${'0'.repeat(decimals)}`
  if (display === 'percent') return `0${decimals === undefined ? `.${'#'.repeat(MOST_DECIMALS)}` : fraction}%`
  return display ?? `0${fraction}`
}

function money(currency: string, decimals: number | undefined, locale: string): ((value: Scalar) => string) | null {
  if (!/^[A-Z]{3}$/.test(currency)) return null
  const digits = decimals === undefined ? {} : { minimumFractionDigits: decimals, maximumFractionDigits: decimals }
  const format = new Intl.NumberFormat(locale, { style: 'currency', currency, ...digits })
  const places = format.resolvedOptions().maximumFractionDigits ?? 2
  // The platform rounds the binary number; the language rounds the decimal that it prints as.
  const rounded = compileNumberPattern(`0${places === 0 ? '' : `.${'0'.repeat(places)}`}`, 'en')
  return (value) => (typeof value === 'number' && rounded !== null ? format.format(Number(rounded.print(value))) : String(value))
}
