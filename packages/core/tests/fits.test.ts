import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { equationOf, type Fit, type FitRequest, fitDefinitions, Refusal, Workbook } from '../src/index.js'

/** Fits: coefficients against data sets with certified values, and what is written into the table. */

function points(xs: readonly number[], ys: readonly (number | null)[]): Workbook {
  const book = new Workbook({ now: 0 })
  book.apply([
    {
      op: 'add-table',
      table: 't',
      columns: [
        { name: 'x', type: 'number' },
        { name: 'y', type: 'number' },
      ],
    },
    { op: 'insert-rows', table: 't', block: { x: xs, y: ys } },
  ])
  return book
}

const fitOfPoints = (xs: readonly number[], ys: readonly number[], degree: number): Fit =>
  points(xs, ys).fit({ table: 't', y: 'y', x: 'x', degree })

/** Digits that agree, at most 15. */
function digits(found: number, certified: number): number {
  if (found === certified) return 15
  const off = certified === 0 ? Math.abs(found) : Math.abs(found - certified) / Math.abs(certified)
  return Math.min(15, -Math.log10(off))
}

const TO_20 = Array.from({ length: 21 }, (_, x) => x)
const sumOf = (x: number, part: (power: number) => number): number =>
  [0, 1, 2, 3, 4, 5].reduce((sum, power) => sum + part(power) * x ** power, 0)
/** What the third to fifth sets of Wampler have on top of the polynomial. */
const NOISE = [
  759, -2048, 2048, -2048, 2523, -2048, 2048, -2048, 1838, -2048, 2048, -2048, 1838, -2048, 2048, -2048, 2523, -2048, 2048, -2048,
  759,
]
const ERRORS = [2152.3262467817, 2363.55173469681, 779.343524331583, 101.47550755035, 5.64566512170752, 0.112324854679312]

describe('polynomial data sets of NIST StRD', () => {
  test('Wampler1: all coefficients 1, nothing left', () => {
    const fit = fitOfPoints(
      TO_20,
      TO_20.map((x) => sumOf(x, () => 1)),
      5,
    )
    expect(fit.coefficients.map(({ value }) => value)).toEqual([1, 1, 1, 1, 1, 1])
    expect(fit.coefficients.map(({ error }) => error)).toEqual([0, 0, 0, 0, 0, 0])
    expect([fit.rSquared, fit.rms]).toEqual([1, 0])
  })

  test('Wampler2: powers of a tenth', () => {
    const ys = TO_20.map((x) => Number(sumOf(x, (power) => 10 ** -power).toFixed(5)))
    const fit = fitOfPoints(TO_20, ys, 5)
    for (const { power, value } of fit.coefficients) expect(digits(value, 10 ** -power)).toBeGreaterThan(12)
    expect(fit.rSquared).toBe(1)
  })

  test.each([
    ['Wampler3', 1, 0.99999555902582, 2360.14502379268],
    ['Wampler4', 100, 0.957478440825662, 236014.502379268],
    ['Wampler5', 10_000, 0.0022466892157494, 23601450.2379268],
  ])('%s: coefficients 1, standard errors, R² and residual deviation as certified', (_, scale, rSquared, deviation) => {
    const ys = TO_20.map((x) => sumOf(x, () => 1) + scale * (NOISE[x] as number))
    const fit = fitOfPoints(TO_20, ys, 5)
    for (const { power, value, error } of fit.coefficients) {
      expect(digits(value, 1)).toBe(15)
      expect(digits(error ?? 0, scale * (ERRORS[power] as number))).toBeGreaterThan(14)
    }
    expect(digits(fit.rSquared ?? 0, rSquared)).toBeGreaterThan(13)
    expect(digits(fit.deviation ?? 0, deviation)).toBeGreaterThan(14)
  })
})

test('a falling body: the quadratic comes out as it went in', () => {
  const book = new Workbook({ now: 0 })
  book.apply([
    {
      op: 'add-table',
      table: 'drops',
      columns: [
        { name: 'time', type: 'number', unit: 's', symbol: 't' },
        { name: 'height', type: 'number', unit: 'm', symbol: 'h' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'drops',
      block: { time: [0, 0.25, 0.5, 0.125], height: [1.8, 1.8 - 4.9 * 0.0625, 1.8 - 4.9 * 0.25, 1.8 - 4.9 * 0.015625] },
    },
  ])
  const fit = book.fit({ table: 'drops', y: 'height', x: 'time', degree: 2 })
  expect(equationOf(fit)).toMatch(/^h = −4\.9·t² [+−] \d\S*·t \+ 1\.8$/)
  expect(fit.coefficients.map(({ unit }) => unit)).toEqual(['m/s²', 'm/s', 'm'])
  expect(fit.coefficients[0]?.value).toBeCloseTo(-4.9, 12)
  const tried = book.fit({ table: 'drops', y: 'height', x: 'time', coefficients: [-4.9, 0, 1.8] })
  expect(equationOf(tried)).toBe('h = −4.9·t² + 0·t + 1.8')
  expect([tried.degree, tried.isGiven, tried.coefficients[0]?.error]).toEqual([2, true, null])
  expect(tried.rms).toBeLessThan(1e-15)
})

test('the coefficients are those of polynomial(), and the order of rows moves no bit', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: -20, max: 20 }), fc.double({ min: -1e3, max: 1e3, noNaN: true })), {
        minLength: 8,
        maxLength: 30,
      }),
      fc.integer({ min: 1, max: 4 }),
      (rows, degree) => {
        const book = points(
          rows.map(([x]) => x),
          rows.map(([, y]) => y),
        )
        if (new Set(rows.map(([x]) => x)).size <= degree) return
        const fit = book.fit({ table: 't', y: 'y', x: 'x', degree })
        for (const { power, value } of fit.coefficients)
          expect(book.evaluate('t', `polynomial(y, x, ${degree}, ${power})`).values[0]).toBe(value)
        const turned = fitOfPoints(rows.map(([x]) => x).reverse(), rows.map(([, y]) => y).reverse(), degree)
        expect(turned.coefficients).toEqual(fit.coefficients)
        expect(turned.rms).toBe(fit.rms)
      },
    ),
    { numRuns: 40 },
  )
})

describe('what is left out is said', () => {
  test('rows without a value, with an error, and those of the condition', () => {
    const book = points([1, 2, 3, 4, 5, 6], [2, 4, null, 8, 10, 100])
    book.apply({ op: 'add-column', table: 't', column: { name: 'shown', formula: 'if(x = 2, y / 0, y)' } })
    const fit = book.fit({ table: 't', y: 'shown', x: 'x', where: 'x < 6' })
    expect(fit.rowCount).toBe(3)
    expect(fit.leftOut).toEqual([
      { reason: 'condition', rows: 1 },
      { reason: 'error', rows: 1 },
      { reason: 'blank', rows: 1 },
    ])
    expect(fit.points()).toMatchObject({ ids: [1, 4, 5] })
    expect(fit.at(7)).toBeCloseTo(14, 12)
  })

  test.each<[Partial<FitRequest>, string]>([
    [{ degree: 7 }, 'the degree is 1 to 6, not 7'],
    [{ degree: 2, coefficients: [1, 2] }, 'has 3 coefficients, and 2 were given'],
    [{ degree: 6 }, 'takes at least 7 different x, and there are 6'],
    [{ y: "'a'" }, 'type-mismatch'],
    [{ y: 'z' }, 'unknown-name'],
    [{ where: 'x' }, 'type-mismatch'],
    [{ where: 'x > 99' }, 'there are 0'],
    [{ coefficients: [] }, 'the degree is 1 to 6'],
  ])('%j is refused', (part, words) => {
    const book = points([1, 2, 3, 4, 5, 6], [2, 4, 6, 8, 10, 12])
    try {
      book.fit({ table: 't', y: 'y', x: 'x', ...part })
    } catch (error) {
      expect(error instanceof Refusal ? error.findings.map(({ code, message }) => `${code} ${message}`).join() : '').toContain(
        words,
      )
      return
    }
    throw new Error('not refused')
  })
})

describe('a curve as a column', () => {
  function defined(book: Workbook, request: Partial<FitRequest> & { table: string }): { book: Workbook; fit: Fit } {
    const fit = book.fit({ y: 'y', x: 'x', ...request })
    const { tallies, column } = fitDefinitions(
      fit,
      'curve',
      (name) => !book.table(request.table).columns.some((one) => one.name === name),
    )
    book.apply([
      ...tallies.map((tally) => ({ op: 'set-tally' as const, table: request.table, ...tally })),
      { op: 'add-column', table: request.table, column },
    ])
    return { book, fit }
  }
  const xs = [1, 2, 3, 4, 5, 6, 7]
  const ys = [3, 1, 4, 1, 5, 9, 2]

  test.each<[string, Partial<FitRequest>]>([
    ['numbers', { degree: 3 }],
    ['under a condition', { degree: 2, where: 'x > 1' }],
    ['over a formula', { degree: 2, x: 'x * 2', y: 'y + 1' }],
    ['given', { coefficients: [-1, 0.5, 2e-7] }],
  ])('%s: it has the values of the fit', (_, request) => {
    const { book, fit } = defined(points(xs, ys), { table: 't', ...request })
    const values = book.table('t').column('curve').values() as number[]
    const at = request.x === undefined ? xs : xs.map((x) => x * 2)
    for (const [row, x] of at.entries()) expect(values[row]).toBeCloseTo(fit.at(x), 8)
  })

  test('times count from the smallest, and the curve follows the data', () => {
    const book = new Workbook({ now: 0 })
    book.apply([
      {
        op: 'add-table',
        table: 'combs',
        columns: [
          { name: 'day', type: 'date' },
          { name: 'cm2', type: 'number', unit: 'cm²' },
        ],
      },
      { op: 'insert-rows', table: 'combs', rows: [1, 3, 4, 8].map((day) => ({ day: `2026-05-0${day}`, cm2: day * day })) },
    ])
    const { fit } = defined(book, { table: 'combs', y: 'cm2', x: 'day', degree: 2 })
    expect(fit.start).toBe('2026-05-01')
    expect(equationOf(fit)).toBe('cm2 = 1·day² + 2·day + 1, day in days from 2026-05-01')
    expect(fit.coefficients.map(({ unit }) => unit)).toEqual(['cm²/d²', 'cm²/d', 'cm²'])
    expect(book.table('combs').column('curve').values()).toEqual([1, 9, 16, 64])
    book.apply({ op: 'insert-rows', table: 'combs', rows: [{ day: '2026-04-30', cm2: 0 }] })
    expect(book.table('combs').column('curve').values()).toEqual([1, 9, 16, 64, 0])
  })

  test('rows with an error do not spoil it', () => {
    const book = points(xs, ys)
    book.apply({ op: 'add-column', table: 't', column: { name: 'z', formula: 'if(x = 3, 1 / 0, y)' } })
    const { fit } = defined(book, { table: 't', y: 'z', degree: 1 })
    expect(book.table('t').column('curve').values()[0]).toBeCloseTo(fit.at(1), 10)
  })
})
