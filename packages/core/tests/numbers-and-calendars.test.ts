import { Decimal } from 'decimal.js'
import fc from 'fast-check'
import { Temporal } from 'temporal-polyfill'
import { describe, expect, test } from 'vitest'
import {
  civilOf,
  compileDatePattern,
  compileDatePrinter,
  compileNumberPattern,
  dayOfCivil,
  divideSum,
  ExactSum,
  endOfPeriod,
  exactDecimal,
  exactParts,
  FIRST_DAY,
  factorial,
  greatestCommonDivisor,
  isoWeekOf,
  LAST_DAY,
  leastCommonMultiple,
  logarithm,
  MS_PER_DAY,
  monthsBetween,
  PERIOD_UNITS,
  parseWeekend,
  powerOf,
  roundRatio,
  roundToStep,
  seededUniform,
  startOfPeriod,
  weekdayOf,
  workCalendar,
} from '../src/values/index.js'

/** The ground floor against packages that only tests use: decimal.js for numbers, Temporal for the calendar. */

const numRuns = Number(process.env.RUNS ?? 400)
const Exact = Decimal.clone({ precision: 2600, maxE: 9e15, minE: -9e15, toExpNeg: -9e15, toExpPos: 9e15 })
const exactly = (value: number): Decimal => {
  const binary = new Exact(`0b${Math.abs(value).toString(2)}`)
  return value < 0 ? binary.negated() : binary
}
const nearest = (value: Decimal): number => Number(value.toString()) + 0
const finite = fc.oneof(
  fc.double({ noNaN: true, noDefaultInfinity: true }),
  fc.constantFrom(0, 5e-324, 2 ** -1022, Number.MAX_VALUE, 0.1, 1 / 3, 2 ** 53, 2 ** 53 + 2, 1e22),
)
const days = fc.integer({ min: FIRST_DAY, max: LAST_DAY })
const plainDate = (epochDay: number): Temporal.PlainDate => Temporal.PlainDate.from('1970-01-01').add({ days: epochDay })

describe('exact arithmetic', () => {
  test('a number is its parts', () => {
    fc.assert(
      fc.property(finite, (value) => {
        const { mantissa, exponent } = exactParts(value)
        expect(nearest(new Exact(mantissa.toString()).times(new Exact(2).pow(exponent)))).toBe(value + 0)
        expect(roundRatio(mantissa, 1n, exponent)).toBe(value + 0)
      }),
      { numRuns },
    )
  })

  test('a ratio is rounded once, to the nearest number, ties to even', () => {
    const whole = fc.bigInt({ min: -(10n ** 40n), max: 10n ** 40n })
    const divisor = whole.filter((value) => value !== 0n)
    fc.assert(
      fc.property(whole, divisor, fc.integer({ min: -1150, max: 1000 }), (top, bottom, exponent) => {
        const expected = new Exact(top.toString()).div(new Exact(bottom.toString())).times(new Exact(2).pow(exponent))
        expect(roundRatio(top, bottom, exponent)).toBe(nearest(expected))
      }),
      { numRuns },
    )
  })

  test('a sum of two numbers is divided with one rounding, or not at all', () => {
    const size = fc.oneof(
      fc.double({ min: -1e6, max: 1e6, noNaN: true }),
      fc.double({ min: -1e-9, max: 1e-9, noNaN: true }),
      finite,
    )
    const count = fc.oneof(fc.integer({ min: 1, max: 100 }), fc.constantFrom(2 ** 31, 2 ** 53 - 1, 3 * 2 ** 20))
    let told = 0
    fc.assert(
      fc.property(size, size, count, (high, low, divisor) => {
        const divided = divideSum(high, low, divisor)
        if (Number.isNaN(divided)) return
        told++
        const sum = exactly(high).plus(exactly(low))
        expect(divided + 0).toBe(nearest(sum.div(divisor)))
      }),
      { numRuns: numRuns * 4 },
    )
    expect(told).toBeGreaterThan(numRuns)
    // Half way between two numbers: which is even is for whole numbers to tell.
    expect(divideSum(2 ** 53, 1, 1)).toBeNaN()
    expect(divideSum(1, 0, 3)).toBe(1 / 3)
  })

  test.each([
    [2n ** 53n + 1n, 1n, 0, 2 ** 53],
    [2n ** 53n + 3n, 1n, 0, 2 ** 53 + 4],
    [1n, 2n, -1074, 0],
    [3n, 2n, -1074, 1e-323],
    [1n, 3n, -1073, 5e-324],
    [2n ** 1024n - 2n ** 970n, 1n, 0, Number.POSITIVE_INFINITY],
    [2n ** 1024n - 2n ** 970n - 1n, 1n, 0, Number.MAX_VALUE],
    [-1n, 3n, 0, -1 / 3],
    [1n, -3n, 0, -1 / 3],
    [0n, 7n, 500, 0],
  ])('%s / %s × 2^%i', (top, bottom, exponent, expected) => expect(roundRatio(top, bottom, exponent)).toBe(expected))

  test('a sum times a ratio is the exact one, whatever the order', () => {
    fc.assert(
      fc.property(fc.array(finite, { minLength: 1, maxLength: 9 }), fc.integer({ min: 1, max: 50 }), (values, count) => {
        const sum = new ExactSum()
        for (const value of values) sum.add(value)
        const total = values.reduce((all, value) => all.plus(exactly(value)), new Exact(0))
        expect(sum.times(1, count)).toBe(nearest(total.div(count)))
        expect(sum.times(3, count)).toBe(nearest(total.times(3).div(count)))
        sum.clear()
        for (const value of values.reverse()) sum.add(value)
        expect(sum.times(1, count)).toBe(nearest(total.div(count)))
      }),
      { numRuns },
    )
  })

  test.each([
    ['40%', 40n, 2],
    ['2.5e-3', 25n, 4],
    ['12e2', 1200n, 0],
    ['0.07%', 7n, 4],
    ['1.50', 150n, 2],
  ])('the decimal %s', (text, digits, scale) => expect(exactDecimal(text)).toEqual({ digits, scale }))

  test('rounding to a step takes the nearest multiple of the decimal', () => {
    const Wide = Decimal.clone({ precision: 700, toExpNeg: -9e15, toExpPos: 9e15 })
    const sizes = fc.oneof(
      fc.integer({ min: -1000, max: 1000 }),
      fc.integer({ min: -100_000, max: 100_000 }).map((whole) => whole / 1000),
    )
    fc.assert(
      fc.property(sizes, fc.constantFrom(0.1, 0.25, 5, 0.05, 3, 1e-3, 0.7), (value, step) => {
        const count = new Wide(value).abs().div(step).plus(0.5).floor()
        expect(roundToStep(value, step)).toBe(Number(count.times(step).times(Math.sign(value)).toString()) + 0)
      }),
      { numRuns },
    )
  })
})

describe('whole numbers', () => {
  test('logarithms of exact powers are exact', () => {
    for (const base of [2, 3, 5, 7, 10, 16, 0.5]) {
      for (let k = -20; k <= 20; k++) {
        const power = powerOf(base, k)
        if (k >= 0 || Number.isInteger(Math.log2(base))) expect(logarithm(power, base), `${base} ^ ${k}`).toBe(k)
      }
    }
  })

  test('divisors and multiples divide', () => {
    const whole = fc.integer({ min: -1e9, max: 1e9 })
    fc.assert(
      fc.property(whole, whole, (a, b) => {
        const divisor = greatestCommonDivisor(a, b)
        if (divisor === 0) return expect([a, b]).toEqual([0, 0])
        expect([Math.abs(a % divisor), Math.abs(b % divisor)]).toEqual([0, 0])
        expect(leastCommonMultiple(a, b)).toBe(Number((BigInt(Math.abs(a)) * BigInt(Math.abs(b))) / BigInt(divisor)))
      }),
      { numRuns },
    )
  })

  test.each([
    [0, 1],
    [20, 2432902008176640000],
    [170, 7.257415615307999e306],
    [171, Number.POSITIVE_INFINITY],
    [-1, Number.NaN],
    [0.5, Number.NaN],
  ])('factorial of %f', (value, expected) => expect(factorial(value)).toBe(expected))

  test('chance is even, and depends on each of its keys', () => {
    const draws = Array.from({ length: 20_000 }, (_, row) => seededUniform(1, 1, 0, row))
    const tenths = Array.from({ length: 10 }, (_, tenth) => draws.filter((draw) => Math.floor(draw * 10) === tenth).length)
    for (const count of tenths) expect(Math.abs(count - 2000)).toBeLessThan(200)
    expect(new Set(draws).size).toBe(draws.length)
    const keys = [seededUniform(2, 1, 0, 5), seededUniform(1, 2, 0, 5), seededUniform(1, 1, 1, 5), seededUniform(1, 1, 0, 6)]
    expect(new Set([...keys, seededUniform(1, 1, 0, 5)]).size).toBe(5)
  })
})

describe('the calendar', () => {
  test('weeks, months and periods are those of Temporal', () => {
    fc.assert(
      fc.property(days, days, (one, other) => {
        const date = plainDate(one)
        expect(civilOf(one)).toEqual({ year: date.year, month: date.month, day: date.day })
        expect(weekdayOf(one)).toBe(date.dayOfWeek)
        expect(isoWeekOf(one)).toEqual({ year: date.yearOfWeek, week: date.weekOfYear })
        const months = monthsBetween(one * MS_PER_DAY, other * MS_PER_DAY)
        const size = Math.abs(months)
        const [from, to] = one <= other ? [date, plainDate(other)] : [plainDate(other), date]
        expect(Temporal.PlainDate.compare(from.add({ months: size }), to)).toBeLessThanOrEqual(0)
        expect(Temporal.PlainDate.compare(from.add({ months: size + 1 }), to)).toBe(1)
      }),
      { numRuns },
    )
  })

  test('a period holds its moment, ends where the next begins, and starts where it starts', () => {
    fc.assert(
      fc.property(days, fc.nat(MS_PER_DAY - 1), fc.constantFrom(...PERIOD_UNITS), (day, ms, unit) => {
        const moment = day * MS_PER_DAY + ms
        const [start, end] = [startOfPeriod(moment, unit), endOfPeriod(moment, unit)]
        expect(start).toBeLessThanOrEqual(moment)
        expect(end).toBeGreaterThanOrEqual(moment)
        expect([startOfPeriod(start, unit), startOfPeriod(end, unit), startOfPeriod(end + 1, unit)]).toEqual([
          start,
          start,
          end + 1,
        ])
      }),
      { numRuns },
    )
  })

  test('working days are those counted one by one', () => {
    const weekends = fc.constantFrom('sat sun', 'fri', '', 'MON, wed', 'mon tue wed thu fri sat sun')
    const near = fc.integer({ min: 20_000, max: 20_060 })
    fc.assert(
      fc.property(
        weekends,
        near,
        near,
        fc.array(near, { maxLength: 12 }),
        fc.integer({ min: -20, max: 20 }),
        (text, from, to, off, count) => {
          const weekend = parseWeekend(text) as readonly boolean[]
          const calendar = workCalendar(weekend, Int32Array.from(off))
          const isWorking = (day: number): boolean => weekend[weekdayOf(day) - 1] !== true && !off.includes(day)
          let working = 0
          for (let day = Math.min(from, to) + 1; day <= Math.max(from, to); day++) if (isWorking(day)) working++
          expect(calendar.upTo(to) - calendar.upTo(from) + 0).toBe((to < from ? -working : working) + 0)
          expect(calendar.isWorking(from)).toBe(isWorking(from))
          let day = from
          for (let rest = count; rest !== 0 && weekend.includes(false); ) {
            day += Math.sign(rest)
            if (isWorking(day)) rest -= Math.sign(rest)
          }
          expect(calendar.move(from, count)).toBe(count !== 0 && !weekend.includes(false) ? Number.NaN : day)
        },
      ),
      { numRuns },
    )
  })

  test('what is no weekday is said', () =>
    expect([parseWeekend('sat son'), parseWeekend('')?.includes(true)]).toEqual([null, false]))
})

describe('patterns', () => {
  const patterns = [
    'dd.MM.yyyy',
    'd MMM yyyy',
    'EEEE, d MMMM yyyy',
    'yyyy-MM-dd',
    "d 'of' MMMM yyyy",
    'MM/dd/yyyy hh:mm:ss a',
    'yyyyMMdd HHmmss SSS',
  ]
  test.each(patterns.flatMap((pattern) => ['en', 'de', 'fr', 'pt-BR', 'ja'].map((locale) => [pattern, locale] as const)))(
    'a date printed as %s in %s reads back',
    (pattern, locale) => {
      const print = compileDatePrinter(pattern, locale)
      const read = compileDatePattern(pattern, locale)
      if (print === null || 'unreadable' in read) throw new Error('both must be possible')
      const step = pattern.includes('SSS') ? 1 : pattern.includes('ss') ? 1000 : MS_PER_DAY
      fc.assert(
        fc.property(days, fc.nat(MS_PER_DAY - 1), (day, ms) => {
          const moment = Math.floor((day * MS_PER_DAY + ms) / step) * step
          // Names with signs of their own, such as 3月, are read where letters alone are expected only in part.
          const text = print(moment)
          if (locale === 'ja' && /M{3}|a/.test(pattern)) return
          expect(read.parse(text), text).toBe(read.hasTime ? moment : Math.floor(moment / MS_PER_DAY))
        }),
        { numRuns: 60 },
      )
    },
  )

  test.each([
    ['#,##0.00', 'de', '-1.234,50', -1234.5],
    ['#,##0.00', 'fr', '1 234,50', 1234.5],
    ['#,##0.00', 'en-IN', '1,234.50', 1234.5],
    ['0.0%', 'de', '12,5%', 0.125],
    ["0.00 'kg'", 'en', '12.50 kg', 12.5],
    ['0.##E+0', 'en', '1.25E+6', 1_250_000],
    ['000', 'en', '007', 7],
    ['#,##0;(#,##0)', 'en', '(1,234)', -1234],
  ])('%s in %s: %s', (pattern, locale, text, value) => {
    const compiled = compileNumberPattern(pattern, locale)
    const even = (shown: string | undefined): string | undefined => shown?.replaceAll(/[\u00a0\u202f]/g, ' ')
    expect(even(compiled?.print(value))).toBe(text)
    expect(compiled?.parse(text)).toBe(value)
  })

  test.each(['', 'abc', '0.0.0', '#,', '0;0;0', '#.#E', "'x'"])('no number pattern: %s', (pattern) =>
    expect(compileNumberPattern(pattern, 'en')).toBeNull(),
  )
  test.each(['', 'abc', 'yyyyy', 'QQQ', 'VV'])('no date pattern to print: %s', (pattern) =>
    expect(compileDatePrinter(pattern, 'en')).toBeNull(),
  )
  test.each(['HH:mm', 'dd.MM', 'yyyy', 'd.M.y hh:mm', 'd.M.y b'])('no date pattern to read: %s', (pattern) =>
    expect(compileDatePattern(pattern)).toHaveProperty('unreadable'),
  )

  test('the platform prints the same numbers', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -1e12, max: 1e12, noNaN: true }),
        fc.constantFrom('en', 'de', 'fr', 'hi', 'sv'),
        (value, locale) => {
          const options = {
            minimumFractionDigits: 2,
            maximumFractionDigits: 2,
            signDisplay: 'negative',
          } as Intl.NumberFormatOptions
          const platform = new Intl.NumberFormat(`${locale}-u-nu-latn`, { ...options, useGrouping: false })
          expect(compileNumberPattern('0.00', locale)?.print(value)).toBe(platform.format(String(value) as never))
        },
      ),
      { numRuns },
    )
  })

  test('dates of the calendar and back', () => expect(dayOfCivil(2026, 3, 14)).toBe(20_526))
})
