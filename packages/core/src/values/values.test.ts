import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { addMonths, civilOf, dayOfCivil, FIRST_DAY, LAST_DAY, weekdayOf } from './civil.js'
import { compileDatePattern } from './date-pattern.js'
import { parseDateText, parseDateTimeText, printDate, printDateTime } from './date-text.js'
import { ExactSum } from './exact-sum.js'
import { graphemeCount, graphemeEnds } from './graphemes.js'
import { foldName, printName, splitNames } from './names.js'
import { displayNumber, parseNumberText, printNumber } from './number-text.js'
import { powerOf } from './power.js'
import { roundDecimal } from './rounding.js'
import { compareText } from './text-order.js'
import { zonedWallClock } from './zones.js'

describe('names', () => {
  test('folding is simple case folding: a name matches its folded self as the platform’s case-blind pattern does', () => {
    const wrong: string[] = []
    for (let code = 1; code <= 0x1ffff; code++) {
      if (code >= 0xd800 && code <= 0xdfff) continue
      const character = String.fromCodePoint(code)
      if (character.normalize('NFC') !== character) continue
      const folded = foldName(character)
      // The iu flags use simple case folding (ECMA-262, Canonicalize).
      if (folded !== character && !new RegExp(`^\\u{${code.toString(16)}}$`, 'iu').test(folded)) wrong.push(character)
    }
    expect(wrong).toEqual([])
  })

  test.each([
    ['Mites', 'mITES', true],
    ['straße', 'STRASSE', false],
    ['İ', 'i', false],
    ['ı', 'i', false],
    ['Σίσυφος', 'ΣΊΣΥΦΟΣ', true],
    ['e\u0301', 'É', true],
    ['K', 'K', true],
  ])('%s and %s are the same: %s', (left, right, same) => {
    expect(foldName(left) === foldName(right)).toBe(same)
  })

  test.each([
    ['mites', 'mites'],
    ['2024', '`2024`'],
    ['Unit price', '`Unit price`'],
    ['If', '`If`'],
    ['a`b', '`a``b`'],
    ['été', 'été'],
    ['__proto__', '__proto__'],
  ])('%s prints as %s', (name, printed) => expect(printName(name)).toBe(printed))
})

describe('numbers', () => {
  const anyNumber = fc
    .oneof(
      fc.double({ noNaN: true, noDefaultInfinity: true }),
      fc
        .tuple(fc.integer({ min: -1e9, max: 1e9 }), fc.integer({ min: 0, max: 6 }))
        .map(([whole, digits]) => whole / 10 ** digits),
    )
    .map((value) => value + 0)

  test('printing is the shortest text that reads back; large whole numbers have an exponent', () => {
    fc.assert(
      fc.property(
        anyNumber,
        (value) =>
          printNumber(value) === (Number.isInteger(value) && Math.abs(value) > 2 ** 53 ? value.toExponential() : String(value)),
      ),
    )
    expect([printNumber(2 ** 53), printNumber(2 ** 53 + 2)]).toEqual(['9007199254740992', '9.007199254740994e+15'])
  })
  test('what is printed is read as the same number', () => {
    fc.assert(fc.property(anyNumber, (value) => Object.is(parseNumberText(printNumber(value)), value)))
  })
  test('reading is Number() wherever the grammar lets a text through', () => {
    fc.assert(
      fc.property(fc.stringMatching(/^[+-]?[0-9.eE]{1,20}$/), (text) => {
        const value = parseNumberText(text)
        return Number.isNaN(value) || Object.is(value, Number(text) + 0)
      }),
      { numRuns: 2000 },
    )
  })
  test.each([
    ['12', 12],
    ['+3.50', 3.5],
    ['-0', 0],
    ['.5', 0.5],
    ['5.', 5],
    ['1e3', 1000],
    ['007', 7],
    ['9007199254740992', 2 ** 53],
    ['1e300', 1e300],
  ])('%s is read as %d', (text, value) => expect(Object.is(parseNumberText(text), value)).toBe(true))
  test.each([
    '',
    ' 1',
    '1 ',
    '1,5',
    '0x10',
    'Infinity',
    'NaN',
    '1e999',
    '9007199254740993',
    '--1',
    '1.2.3',
    '.',
    '+',
    'e5',
    '1_000',
    '2026-03-14',
  ])('"%s" is no number', (text) => expect(parseNumberText(text)).toBeNaN())
  test.each([
    ['1,5', 1.5],
    ['1.5', Number.NaN],
    ['-2,25e2', -225],
  ])('with a decimal comma %s is %d', (text, value) => expect(parseNumberText(text, 44)).toEqual(value))
  test.each([
    [0.1 + 0.2, '0.3'],
    [2 ** 53, '9007199254740992'],
    [1 / 3, '0.333333333333333'],
    [1e21, '1e+21'],
    [-2.5, '-2.5'],
    [1e-7, '1e-7'],
  ])('%d is shown as %s', (value, text) => expect(displayNumber(value)).toBe(text))

  /** Rounds on the decimal digits of a number by whole numbers alone. */
  function roundSlowly(value: number, digits: number): number {
    const [coefficient = '', exponent = '0'] = Math.abs(value).toExponential().split('e')
    const mantissa = BigInt(coefficient.replace('.', ''))
    const scale = Number(exponent) - (coefficient.replace('.', '').length - 1) + digits
    if (scale >= 0) return value
    const unit = 10n ** BigInt(-scale)
    const rounded = (mantissa * 2n + unit) / (2n * unit)
    return Math.sign(value) * Number(`${rounded}e${-digits}`) + 0
  }
  test('rounding is half away from zero on the printed decimal', () => {
    const halves = fc
      .tuple(fc.integer({ min: -1e7, max: 1e7 }), fc.integer({ min: 0, max: 5 }))
      .map(([whole, digits]) => Number(`${whole}.5e${-digits}`))
    fc.assert(
      fc.property(fc.oneof(anyNumber, halves), fc.integer({ min: -6, max: 14 }), (value, digits) =>
        Object.is(roundDecimal(value, digits) + 0, roundSlowly(value, digits)),
      ),
      { numRuns: 3000 },
    )
  })
  test.each([
    [1.005, 2, 1.01],
    [-2.5, 0, -3],
    [1250, -2, 1300],
    [0.5, 0, 1],
    [1e300, 2, 1e300],
    [5e-324, 3, 0],
    [1.45, 1, 1.5],
  ])('round(%d, %d) is %d', (value, digits, expected) => expect(roundDecimal(value, digits)).toBe(expected))

  test.each([
    [10, 22, 1e22],
    [10, -5, 0.00001],
    [0, 0, 1],
    [2, -1074, 5e-324],
    [2, 1024, Number.POSITIVE_INFINITY],
    [-2, 3, -8],
    [3, 33, 5559060566555523],
    [4, 0.5, 2],
  ])('%d ^ %d is %d', (base, exponent, expected) => expect(powerOf(base, exponent)).toBe(expected))

  test('an exact sum does not depend on the order and is the rational sum rounded once', () => {
    const whole = fc.array(fc.bigInt({ min: -(2n ** 80n), max: 2n ** 80n }), { maxLength: 30 })
    fc.assert(
      fc.property(whole, (numbers) => {
        const values = numbers.map(Number)
        const exact = Number(values.reduce((sum, value) => sum + BigInt(value), 0n))
        return sumOf(values) === exact && sumOf([...values].reverse()) === exact
      }),
    )
    expect(sumOf(new Array<number>(10).fill(0.1))).toBe(1)
    expect(sumOf([1e308, 1e308, -1e308])).toBe(1e308)
    expect(sumOf([1e308, 1e308])).toBe(Number.POSITIVE_INFINITY)
    expect(sumOf([1e308, 1, -1e308])).toBe(1)
    expect(sumOf([2 ** 53, 1, 2 ** -60])).toBe(2 ** 53 + 2)
  })
  function sumOf(values: readonly number[]): number {
    const sum = new ExactSum()
    for (const value of values) sum.add(value)
    return sum.result()
  }
})

describe('dates', () => {
  test('epoch days and civil dates agree with the platform over the years 1 to 9999', () => {
    fc.assert(
      fc.property(fc.integer({ min: FIRST_DAY, max: LAST_DAY }), (epochDay) => {
        const date = new Date(epochDay * 86_400_000)
        const { year, month, day } = civilOf(epochDay)
        expect([year, month, day]).toEqual([date.getUTCFullYear(), date.getUTCMonth() + 1, date.getUTCDate()])
        expect(dayOfCivil(year, month, day)).toBe(epochDay)
        expect(weekdayOf(epochDay) % 7).toBe(date.getUTCDay())
        expect(parseDateText(printDate(epochDay))).toBe(epochDay)
      }),
    )
    expect([printDate(FIRST_DAY), printDate(LAST_DAY)]).toEqual(['0001-01-01', '9999-12-31'])
  })
  test('date-times print and read back', () => {
    fc.assert(fc.property(fc.integer({ min: -6e13, max: 2e14 }), (time) => parseDateTimeText(printDateTime(time)) === time))
    expect(printDateTime(Date.parse('2026-03-14T09:30:00.250Z'))).toBe('2026-03-14T09:30:00.25')
  })
  test.each([
    ['2026-01-31', 1, '2026-02-28'],
    ['2028-01-31', 1, '2028-02-29'],
    ['2026-03-31', -1, '2026-02-28'],
    ['2026-12-15', 1, '2027-01-15'],
    ['2026-05-05', -17, '2024-12-05'],
  ])('%s and %d months is %s', (from, months, to) => expect(printDate(addMonths(parseDateText(from), months))).toBe(to))
  test.each(['2026-02-29', '2026-13-01', '2026-1-1', '0000-01-01', '2026-03-14 ', '10000-01-01', 'today'])(
    '"%s" is no date',
    (text) => expect(parseDateText(text)).toBeNaN(),
  )
  test.each(['2026-03-14T24:00:00', '2026-03-14T09:60', '2026-03-14 09:30', '2026-03-14T09:30:00.1234', '2026-02-30T00:00:00'])(
    '"%s" is no date-time',
    (text) => expect(parseDateTimeText(text)).toBeNaN(),
  )
  test('an offset is read in the zone of the book', () => {
    const oslo = zonedWallClock('Europe/Oslo')
    expect(printDateTime(parseDateTimeText('2026-07-01T10:00:00Z', oslo))).toBe('2026-07-01T12:00:00')
    expect(printDateTime(parseDateTimeText('2026-01-01T10:00:00-05:00', oslo))).toBe('2026-01-01T16:00:00')
  })
  test.each([
    ['dd/MM/yyyy', '14/03/2026', '2026-03-14'],
    ['d.M.yy', '4.3.26', '2026-03-04'],
    ['d MMMM yyyy', '4 March 2026', '2026-03-04'],
    ["yyyy'年'MM'月'dd", '2026年03月14', '2026-03-14'],
  ])('the pattern %s reads %s', (pattern, text, iso) => {
    const compiled = compileDatePattern(pattern)
    expect('parse' in compiled && printDate(compiled.parse(text))).toBe(iso)
  })
  test('a pattern that is none says where', () => {
    expect(compileDatePattern('dd/QQ/yyyy')).toEqual({ unreadable: 'QQ' })
    expect(compileDatePattern('MM/yyyy')).toEqual({ unreadable: 'MM/yyyy' })
  })
})

describe('text', () => {
  test('order is by code point', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), fc.string({ unit: 'binary' }), (left, right) => {
        const a = Array.from(left, (one) => one.codePointAt(0) ?? 0)
        const b = Array.from(right, (one) => one.codePointAt(0) ?? 0)
        const at = a.findIndex((code, index) => code !== b[index])
        const expected =
          at < 0 ? Math.sign(a.length - b.length) : at >= b.length ? 1 : Math.sign((a[at] as number) - (b[at] as number))
        expect(Math.sign(compareText(left, right))).toBe(expected)
      }),
    )
    expect(compareText('\u{1f41d}', '\uff21')).toBeGreaterThan(0)
  })
  test('characters are counted as the platform segments them, however the text is cut', () => {
    const segmenter = new Intl.Segmenter('en', { granularity: 'grapheme' })
    const parts = fc.constantFrom('a', 'é', 'e\u0301', '🐝', '👩‍🌾', '🇳🇴', '\r\n', '각', 'ก็', '\u200d', 'x'.repeat(300))
    fc.assert(
      fc.property(fc.array(parts, { maxLength: 120 }), (pieces) => {
        const text = pieces.join('')
        const ends = [...segmenter.segment(text)].map(({ index, segment }) => index + segment.length)
        expect(graphemeEnds(text)).toEqual(ends)
        expect(graphemeCount(text)).toBe(ends.length)
      }),
    )
  })
})

test.each([
  ['a,b', ['a', 'b']],
  [' a , `b, c` ,`d``e`', ['a', 'b, c', 'd`e']],
  ['Unit price', ['Unit price']],
  ['', []],
  ['a,,b,', ['a', 'b']],
])('names of "%s"', (text, names) => expect(splitNames(text)).toEqual(names))
