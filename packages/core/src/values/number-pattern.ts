import { exactDecimal, roundRatio, shortestDecimal } from './exact-ratio.js'
import { unquoted } from './pattern-tokens.js'

/** A compiled number pattern. */
export interface NumberPattern {
  print(value: number): string
  /** The number that a text in this pattern stands for, NaN where it does not fit. */
  parse(text: string): number
}

/** The part of a pattern between its prefix and its suffix. */
interface PatternParts {
  readonly prefix: string
  readonly suffix: string
  readonly wholeDigits: number
  readonly leastFraction: number
  readonly mostFraction: number
  /** Digits of a group counted from the point, and of the groups before it; 0 for none. */
  readonly group: number
  readonly furtherGroup: number
  /** Least digits of the exponent, 0 for none. */
  readonly exponentDigits: number
  readonly exponentSign: boolean
  /** Decimal places that the sign % or ‰ moves the number by. */
  readonly shift: number
}

interface Signs {
  readonly point: string
  readonly group: string
  readonly minus: string
  readonly percent: string
}

const affix = `(?:'(?:[^']|'')*'|[^'#0-9.,E;])*`
const subpattern = new RegExp(`^(${affix})([#,]*[0,]*)(?:\\.(0*#*))?(?:E(\\+?)(0+))?(${affix})$`, 'u')

/**
 * Compiles a number pattern of Unicode TR35, part 3: `0 # . , E + % ‰`, a prefix and a suffix, and a second pattern behind
 * `;` for negative numbers. Rounding is that of the language: half away from zero on the decimal the number prints as.
 *
 * @returns null where the text is no such pattern
 */
export function compileNumberPattern(pattern: string, locale: string): NumberPattern | null {
  const [positive, negative, ...more] = splitPattern(pattern)
  const parts = positive === undefined ? null : readParts(positive)
  const other = negative === undefined ? null : readParts(negative)
  if (parts === null || more.length > 0 || (negative !== undefined && other === null)) return null
  const signs = signsOf(locale)
  const prefix = (text: string): string => text.replaceAll('%', signs.percent).replaceAll('-', signs.minus)
  const below =
    other === null
      ? { prefix: signs.minus + prefix(parts.prefix), suffix: prefix(parts.suffix) }
      : { prefix: prefix(other.prefix), suffix: prefix(other.suffix) }
  const above = { prefix: prefix(parts.prefix), suffix: prefix(parts.suffix) }
  return {
    print: (value) => {
      const { text, isZero } = printParts(Math.abs(value), parts, signs)
      const around = value < 0 && !isZero ? below : above
      return around.prefix + text + around.suffix
    },
    parse: (text) => {
      const size = parseBetween(text, above, parts, signs)
      return Number.isNaN(size) ? -parseBetween(text, below, parts, signs) + 0 : size
    },
  }
}

function splitPattern(pattern: string): string[] {
  return (pattern.match(/(?:'(?:[^']|'')*'|[^';])+/g) ?? []).slice(0, pattern === '' ? 0 : 3)
}

function readParts(text: string): PatternParts | null {
  const match = subpattern.exec(text)
  if (match === null) return null
  const [, prefix = '', whole = '', fraction = '', plus = '', exponent = '', suffix = ''] = match
  if (whole.replaceAll(',', '') + fraction === '' || whole.startsWith(',') || whole.endsWith(',')) return null
  const groups = whole.split(',').map((group) => group.length)
  const group = groups.length > 1 ? (groups.at(-1) as number) : 0
  const plain = (affixText: string): string => affixText.replace(/'(?:[^']|'')*'/g, unquoted)
  const moved = plain(prefix) + plain(suffix)
  return {
    prefix: plain(prefix),
    suffix: plain(suffix),
    wholeDigits: whole.replaceAll(/[#,]/g, '').length,
    leastFraction: fraction.replaceAll('#', '').length,
    mostFraction: fraction.length,
    group,
    furtherGroup: groups.length > 2 ? (groups.at(-2) as number) : group,
    exponentDigits: exponent.length,
    exponentSign: plus !== '',
    shift: moved.includes('‰') ? 3 : moved.includes('%') ? 2 : 0,
  }
}

const knownSigns = new Map<string, Signs>()

function signsOf(locale: string): Signs {
  const known = knownSigns.get(locale)
  if (known !== undefined) return known
  const tag = `${locale}-u-nu-latn`
  const parts = new Intl.NumberFormat(tag).formatToParts(-12_345_678.9)
  const percent = new Intl.NumberFormat(tag, { style: 'percent' }).formatToParts(1)
  const part = (all: readonly Intl.NumberFormatPart[], type: string, otherwise: string): string =>
    all.find((one) => one.type === type)?.value ?? otherwise
  const signs = {
    point: part(parts, 'decimal', '.'),
    group: part(parts, 'group', ','),
    minus: part(parts, 'minusSign', '-'),
    percent: part(percent, 'percentSign', '%'),
  }
  knownSigns.set(locale, signs)
  return signs
}

function printParts(size: number, parts: PatternParts, signs: Signs): { text: string; isZero: boolean } {
  const decimal = shortestDecimal(size)
  let { digits } = decimal
  let scale = decimal.scale - parts.shift
  let exponent = 0
  if (parts.exponentDigits > 0 && digits !== 0n) {
    const whole = Math.max(1, parts.wholeDigits)
    exponent = digits.toString().length - scale - whole
    scale += exponent
    digits = roundDigits(digits, scale - parts.mostFraction)
    // Rounding 9.99 up gives one digit more, which moves the exponent.
    if (digits.toString().length > whole + parts.mostFraction) {
      digits /= 10n
      exponent++
    }
  } else digits = roundDigits(digits, scale - parts.mostFraction)
  const written = digits.toString().padStart(parts.mostFraction + 1, '0')
  const cut = written.length - parts.mostFraction
  let fraction = written.slice(cut)
  while (fraction.length > parts.leastFraction && fraction.endsWith('0')) fraction = fraction.slice(0, -1)
  const leading = written.slice(0, cut)
  const whole = (leading === '0' && parts.wholeDigits === 0 && fraction !== '' ? '' : leading).padStart(parts.wholeDigits, '0')
  const power =
    parts.exponentDigits === 0
      ? ''
      : `E${exponent < 0 ? '-' : parts.exponentSign ? '+' : ''}${String(Math.abs(exponent)).padStart(parts.exponentDigits, '0')}`
  return { text: grouped(whole, parts, signs) + (fraction === '' ? '' : signs.point + fraction) + power, isZero: digits === 0n }
}

/** Cuts (or fills up, when negative) so many digits off the end, half away from zero. */
function roundDigits(digits: bigint, places: number): bigint {
  if (places <= 0) return digits * 10n ** BigInt(-places)
  const unit = 10n ** BigInt(places)
  return (digits * 2n + unit) / (unit * 2n)
}

function grouped(whole: string, parts: PatternParts, signs: Signs): string {
  if (parts.group === 0 || whole.length <= parts.group) return whole
  const pieces = [whole.slice(-parts.group)]
  let rest = whole.slice(0, -parts.group)
  while (rest !== '') {
    pieces.unshift(rest.slice(-parts.furtherGroup))
    rest = rest.slice(0, -parts.furtherGroup)
  }
  return pieces.join(signs.group)
}

function parseBetween(text: string, around: { prefix: string; suffix: string }, parts: PatternParts, signs: Signs): number {
  const even = (part: string): string => part.replaceAll(/[\u00a0\u202f]/g, ' ')
  const all = even(text)
  const [prefix, suffix] = [even(around.prefix), even(around.suffix)]
  if (!all.startsWith(prefix) || !all.endsWith(suffix) || all.length < prefix.length + suffix.length) return Number.NaN
  const inner = all.slice(prefix.length, all.length - suffix.length)
  const [body = '', power, ...more] = inner.split('E')
  const [whole = '', fraction = '', ...points] = body.split(signs.point)
  const groups = parts.group === 0 ? [whole] : whole.split(even(signs.group))
  const fits =
    more.length === 0 &&
    points.length === 0 &&
    (power === undefined || (parts.exponentDigits > 0 && /^[+-]?\d{1,4}$/.test(power))) &&
    groups.every((group) => /^\d*$/.test(group)) &&
    /^\d*$/.test(fraction) &&
    whole + fraction !== '' &&
    (groups.length === 1 || grouped(groups.join(''), parts, { ...signs, group: even(signs.group) }) === whole)
  if (!fits) return Number.NaN
  const { digits, scale } = exactDecimal(`${groups.join('') || '0'}.${fraction || '0'}e${Number(power ?? 0) - parts.shift}`)
  const value = roundRatio(digits, 10n ** BigInt(scale))
  return Number.isFinite(value) ? value : Number.NaN
}
