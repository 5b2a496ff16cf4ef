import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { type ChangeSet, type Operation, Refusal, Workbook } from '../../src/index.js'

function bookOf(columns: Readonly<Record<string, string>>, rows: readonly Readonly<Record<string, unknown>>[] = [{}]): Workbook {
  const book = new Workbook({ now: 0 })
  const said = Object.entries(columns).map(([name, unit]) => ({ name, type: 'number', ...(unit !== '' && { unit }) }))
  book.applyJson([
    { op: 'add-table', table: 'yard', columns: said },
    { op: 'insert-rows', table: 'yard', rows },
  ])
  return book
}

const define = (book: Workbook, name: string, formula: string, unit?: string): ChangeSet =>
  book.apply({ op: 'add-column', table: 'yard', column: { name, formula, ...(unit !== undefined && { unit }) } })
const setUnit = (book: Workbook, column: string, unit: string | null): ChangeSet =>
  book.apply({ op: 'change-column', table: 'yard', column, set: { unit } })
const codes = (change: ChangeSet): string[] => change.findings.added.map(({ code, column }) => `${column}: ${code}`)

describe('the unit of a formula', () => {
  test('is the unit of its column, from formula to formula, and a declared one stands before it', () => {
    const book = bookOf({ kg: 'kg', h: 'h' })
    define(book, 'rate', 'kg / h')
    define(book, 'back', 'rate * h')
    define(book, 'said', 'rate', 'kg per h')
    const { columns } = book.table('yard')
    expect(columns.map(({ name, unit, inferredUnit }) => [name, unit, inferredUnit])).toEqual([
      ['kg', 'kg', null],
      ['h', 'h', null],
      ['rate', 'kg/h', 'kg/h'],
      ['back', 'kg', 'kg'],
      ['said', 'kg per h', 'kg/h'],
    ])
    expect(book.query({ table: 'yard', columns: ['back'] }).columns[0]?.unit).toBe('kg')
  })

  test('of tallies, named values, reports and their lines', () => {
    const book = bookOf({ kg: 'kg', h: 'h' }, [{ kg: 4, h: 2 }])
    book.apply([
      { op: 'set-tally', table: 'yard', name: 'rate', formula: 'sum(kg) per sum(h)' },
      { op: 'set-value', name: 'best', formula: 'max(every yard.kg)' },
    ])
    define(book, 'ahead', 'kg - book.best')
    define(book, 'slow', 'rate * h')
    expect(book.table('yard').tallyFacts('rate').properties.unit).toBe('kg/h')
    expect(book.table('yard').column('ahead').unit).toBe('kg')
    expect(book.table('yard').column('slow').unit).toBe('kg')
    const view = book.group({
      table: 'yard',
      levels: [{ key: 'h' }],
      tallies: [{ name: 'all', formula: 'sum(kg)' }],
      lines: [{ name: 'per_h', formula: 'all / h' }],
    })
    expect(view.columns.map(({ name, unit }) => [name, unit])).toEqual([
      ['level', null],
      ['h', 'h'],
      ['all', 'kg'],
      ['per_h', 'kg/h'],
    ])
  })

  test('of columns that read each other follows from what is declared, and does not run away', () => {
    const book = bookOf({ kg: 'kg', n: '' }, [{ kg: 1 }, { kg: 2 }])
    define(book, 'stock', '(lag(stock) ?? 0) + kg')
    define(book, 'grown', '(lag(grown) ?? 1) * kg')
    expect(book.table('yard').column('stock').unit).toBe('kg')
    expect(book.table('yard').column('grown').unit).toBeNull()
    expect(setUnit(book, 'kg', 'g').units.map(({ column, after }) => [column, after])).toEqual([
      ['kg', 'g'],
      ['stock', 'g'],
    ])
  })

  test('is not told to others where it follows from what is hidden from them', () => {
    const book = bookOf({ secret: 'kg', n: '' })
    define(book, 'twice', 'secret + secret')
    define(book, 'more', 'twice + n')
    expect(book.table('yard').column('more').unit).toBe('kg')
    book.apply([{ op: 'change-column', table: 'yard', column: 'secret', set: { hiddenFrom: ['guests'] } }] as Operation[])
    expect(book.table('yard').column('twice').unit).toBe('kg')
    expect(book.table('yard').column('more').unit).toBeNull()
  })
})

describe('what is said', () => {
  test('of unlike quantities, with a fix that converts and leaves nothing to say', () => {
    const book = bookOf({ kg: 'kg', g: 'g' }, [{ kg: 1, g: 500 }])
    const change = define(book, 'both', 'kg + g')
    expect(codes(change)).toEqual(['both: unlike-units'])
    const [finding] = change.findings.added
    expect(finding?.severity).toBe('warning')
    expect(finding?.message).toBe('kg is in kg, g in g: one of them has to be converted.')
    expect(finding?.fixes.map(({ title }) => title)).toEqual(["Convert: convert(g, 'kg')", "Convert: convert(kg, 'g')"])
    const { edits = [] } = finding?.fixes[0] ?? {}
    const [edit] = edits
    const formula = `kg + g`.slice(0, edit?.from) + edit?.insert + `kg + g`.slice(edit?.to)
    const fixed = book.apply({ op: 'change-column', table: 'yard', column: 'both', set: { formula } })
    expect(fixed.findings.removed.map(({ code }) => code)).toEqual(['unlike-units'])
    expect(book.table('yard').column('both').values()).toEqual([1.5])
  })

  test('of a unit that the formula does not give, with both ways out', () => {
    const book = bookOf({ km: 'km', h: 'h' }, [{ km: 90, h: 1 }])
    const change = define(book, 'pace', 'km / h', 'm/s')
    expect(codes(change)).toEqual(['pace: unit-differs'])
    const [finding] = change.findings.added
    expect(finding?.message).toBe('The formula gives km/h, but pace says m/s. Convert it, or correct the unit.')
    const [convert, correct] = finding?.fixes ?? []
    expect(convert?.edits).toEqual([{ from: 0, to: 6, insert: "convert(km / h, 'm/s')" }])
    const fixed = book.applyJson(correct?.operations as never)
    expect(fixed.findings.removed.map(({ code }) => code)).toEqual(['unit-differs'])
    expect(fixed.units).toEqual([{ table: 'yard', column: 'pace', before: 'm/s', after: 'km/h' }])
  })

  test.each([
    ['kg * 1000', 'g'],
    ['kg * m', 'kg'],
    ['100 * kg / kg', '%'],
    ['count()', 'hives'],
    ['kg / kg', 'points'],
    ['kg per frames', 'kg'],
    ['n', 'kg'],
    ['kg', 'Kg'],
  ])('nothing of %s declared as %s, where nothing is certain', (formula, unit) => {
    const book = bookOf({ kg: 'kg', frames: 'frames', m: '', n: '' })
    expect(codes(define(book, 'result', formula, unit)).filter((text) => text.includes('unit'))).toEqual([])
  })

  test('of tallies too', () => {
    const book = bookOf({ kg: 'kg', h: 'h' })
    const change = book.apply({ op: 'set-tally', table: 'yard', name: 'total', formula: 'sum(kg)', unit: 'h' })
    expect(change.findings.added.map(({ code, message }) => [code, message])).toEqual([
      ['unit-differs', 'The formula gives kg, but total says h. These are quantities of different kinds.'],
    ])
  })

  test('of unlike quantities is a warning that strictness refuses', () => {
    const book = bookOf({ kg: 'kg', h: 'h' })
    const operation = { op: 'add-column', table: 'yard', column: { name: 'odd', formula: 'kg + h' } } as const
    expect(() => book.apply(operation, { strict: true })).toThrow(Refusal)
    expect(codes(book.apply(operation))).toEqual(['odd: unlike-units'])
  })
})

test('a conversion in words', () => {
  const book = bookOf({ kg: 'kg', n: '' })
  expect(book.explain('yard', "convert(kg, 'g')").lines[0]?.text).toBe('kg converted to "g".')
  expect(book.explain('yard', "convert(n, 'kg', 'g') + 1").lines[0]?.text).toBe('n converted from "g" to "kg" plus 1.')
})

describe('another unit of a source', () => {
  test('names the columns that are in another one now, and undo brings all of it back', () => {
    const book = bookOf({ kg: 'kg', h: 'h', extra: 'kg' })
    define(book, 'rate', 'kg / h')
    define(book, 'slow', 'rate * 2')
    define(book, 'all', 'kg + extra')
    const before = book.table('yard').columns.map(({ unit }) => unit)
    const change = setUnit(book, 'kg', 'g')
    expect(change.units.map(({ column, before: from, after }) => [column, from, after])).toEqual([
      ['kg', 'kg', 'g'],
      ['rate', 'kg/h', 'g/h'],
      ['all', 'kg', null],
      ['slow', 'kg/h', 'g/h'],
    ])
    expect(codes(change)).toEqual(['all: unlike-units'])
    expect(change.recalculated).toEqual([])
    const back = book.undo()
    expect(back?.findings.removed.map(({ code }) => code)).toEqual(['unlike-units'])
    expect(book.table('yard').columns.map(({ unit }) => unit)).toEqual(before)
  })

  test('calculates conversions anew, also those that come to it through others', () => {
    const book = bookOf({ mass: 'kg' }, [{ mass: 2 }])
    define(book, 'same', 'mass + 0')
    define(book, 'grams', "convert(same, 'g')")
    expect(book.table('yard').column('grams').values()).toEqual([2000])
    const change = setUnit(book, 'mass', 't')
    expect(change.recalculated.map(({ column }) => column)).toEqual(['grams'])
    expect(book.table('yard').column('grams').values()).toEqual([2_000_000])
    book.undo()
    expect(book.table('yard').column('grams').values()).toEqual([2000])
  })

  test('that a conversion cannot come from is refused, and nothing is changed', () => {
    const book = bookOf({ mass: 'kg' }, [{ mass: 2 }])
    define(book, 'grams', "convert(mass, 'g')")
    expect(() => setUnit(book, 'mass', 'm')).toThrow(/convert cannot bring mass to g/)
    expect(() => setUnit(book, 'mass', null)).toThrow(/what it is in is not known/)
    expect(book.table('yard').column('mass').unit).toBe('kg')
    expect(book.table('yard').column('grams').values()).toEqual([2000])
    expect(book.findings()).toEqual([])
  })

  test('is followed through other tables', () => {
    const book = bookOf({ kg: 'kg' })
    book.apply([
      { op: 'add-table', table: 'sites', columns: [{ name: 'code', type: 'text' }] },
      { op: 'add-column', table: 'sites', column: { name: 'all', formula: 'sum(every yard.kg)' } },
    ])
    expect(setUnit(book, 'kg', 'g').units.map(({ table, column }) => `${table}.${column}`)).toEqual(['yard.kg', 'sites.all'])
  })
})

/** Columns with the unit that they are in, and another one with the number that one of it is. */
const SCALES = {
  kg: ['kg', 'g', 1000],
  frames_kg: ['kg', 'lb', 1 / 0.45359237],
  h: ['h', 'min', 60],
  days: ['d', 'h', 24],
  m: ['m', 'cm', 100],
  area: ['m²', 'ha', 1e-4],
  eur: ['EUR', 'EUR', 1],
} as const

type Scaled = keyof typeof SCALES

/** A product of powers of columns, written one way or another. */
const monomial = fc
  .array(fc.record({ name: fc.constantFrom(...(Object.keys(SCALES) as Scaled[])), below: fc.boolean() }), {
    minLength: 1,
    maxLength: 4,
  })
  .map((parts) =>
    parts.reduce(
      (text, { name, below }, at) => (at === 0 ? (below ? `1 / ${name}` : name) : `${text} ${below ? '/' : '*'} ${name}`),
      '',
    ),
  )

/** Formulas whose quantities go together, whatever units their columns are in once these are converted. */
const soundFormula = monomial.chain((text) =>
  fc.constantFrom(
    text,
    `(${text}) * 2 + (${text})`,
    `(${text}) - ${text.startsWith('1') ? `(${text})` : text} / 3`,
    `sqrt((${text}) * (${text}))`,
    `(${text}) ^ 2`,
    `max_of(${text}, 2 * (${text}))`,
    `if(kg > 0, ${text}, (${text}) * 5)`,
    `mean(${text})`,
    `abs(-(${text}))`,
    `let x = ${text} in x * kg / kg`,
  ),
)

test('bringing all sources to other units, and the result back, changes it by rounding alone', () => {
  fc.assert(
    fc.property(
      soundFormula,
      fc.array(fc.integer({ min: 1, max: 1000 }), {
        minLength: Object.keys(SCALES).length,
        maxLength: Object.keys(SCALES).length,
      }),
      (formula, values) => {
        const names = Object.keys(SCALES) as Scaled[]
        const own = Object.fromEntries(names.map((name) => [name, SCALES[name][0]]))
        const other = Object.fromEntries(names.map((name) => [name, SCALES[name][1]]))
        const row = Object.fromEntries(names.map((name, at) => [name, values[at] as number]))
        const scaled = Object.fromEntries(names.map((name) => [name, (row[name] as number) * SCALES[name][2]]))
        const before = bookOf(own, [row])
        const { unit, findings } = before.previewColumn('yard', { name: 'result', formula })
        expect(findings.filter(({ code }) => code === 'unlike-units')).toEqual([])
        if (unit === null) return
        define(before, 'result', formula)
        const after = bookOf(other, [scaled])
        define(after, 'result', `convert(${formula}, '${unit}')`)
        const [expected] = before.table('yard').column('result').numbers()
        const [received] = after.table('yard').column('result').numbers()
        expect(Math.abs((received as number) - (expected as number))).toBeLessThanOrEqual(1e-12 * Math.abs(expected as number))
      },
    ),
    { numRuns: Number(process.env.RUNS ?? 300) },
  )
})

test('a column to the power of zero is a plain number, whatever unit it had before', () => {
  const book = new Workbook()
  book.applyJson([
    {
      op: 'add-table',
      table: 'hives',
      columns: ['kg', 'since'].map((name) => ({ name, type: name === 'kg' ? 'number' : 'date' })),
    },
    { op: 'add-column', table: 'hives', column: { name: 'angle', formula: 'atan2(kg, kg)' } },
    { op: 'add-column', table: 'hives', column: { name: 'one', formula: 'power(angle, 0)' } },
    { op: 'add-column', table: 'hives', column: { name: 'either', formula: 'coalesce(one, days_between(since, since))' } },
  ])
  expect(book.findings()).toEqual([])
  book.applyJson([{ op: 'change-column', table: 'hives', column: 'angle', set: { formula: 'kg * 2' } }])
  expect(book.findings()).toEqual([])
})
