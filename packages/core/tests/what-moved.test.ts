import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { exactMoves } from '../src/book/tracing/moves.js'
import { type Figure, movesBetween, type Operation, Workbook } from '../src/index.js'

const FIGURES: Readonly<Record<string, string>> = {
  all: 'sum(kg)',
  good: 'sum(kg where frames > 2)',
  twice: 'sum(2 * kg + frames)',
  rows: 'count()',
  filled: 'count(kg)',
  mean_kg: 'mean(kg)',
  yield: 'sum(kg) per sum(frames)',
  rate: '100 * count(where kg > 3) / count()',
  scaled: 'sum(kg) / 1000',
}

function harvests(): Workbook {
  const book = new Workbook({ now: 0 })
  book.apply([
    {
      op: 'add-table',
      table: 'takes',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'kg', type: 'number' },
        { name: 'frames', type: 'number' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'takes',
      rows: [
        { hive: 'A', kg: 3, frames: 2 },
        { hive: 'B', kg: 5.5, frames: 4 },
        { hive: 'A', kg: 0.1, frames: 3 },
      ],
    },
    ...Object.entries(FIGURES).map(([name, formula]): Operation => ({ op: 'set-tally', table: 'takes', name, formula })),
    { op: 'add-column', table: 'takes', column: { name: 'of_hive', formula: 'sum(kg by hive)' } },
    { op: 'add-column', table: 'takes', column: { name: 'part', formula: 'share(kg by hive)' } },
    { op: 'add-column', table: 'takes', column: { name: 'plain', formula: 'kg * frames' } },
  ])
  return book
}

describe('what rows account for', () => {
  test('of a sum is what each has more or less', () => {
    const book = harvests()
    const before = book.figure('tally:takes.all')
    book.apply([
      { op: 'set-cells', table: 'takes', cells: [{ row: 1, column: 'kg', value: 4 }] },
      { op: 'insert-rows', table: 'takes', rows: [{ hive: 'C', kg: 9 }] },
      { op: 'remove-rows', table: 'takes', rows: [3] },
    ])
    const moves = movesBetween(before, book.figure('tally:takes.all'))
    expect(moves).toEqual({
      table: 'takes',
      difference: 9.9,
      rows: [
        { row: 4, rowNumber: 3, was: 'new', change: 9 },
        { row: 1, rowNumber: 1, was: 'changed', change: 1 },
        { row: 3, rowNumber: 3, was: 'gone', change: -0.1 },
      ],
    })
  })

  test('of a mean is how far each draws it', () => {
    const book = harvests()
    const before = book.figure('tally:takes.mean_kg')
    book.apply({ op: 'insert-rows', table: 'takes', rows: [{ hive: 'C', kg: 2.8666666666666667 }] })
    const moves = movesBetween(before, book.figure('tally:takes.mean_kg'))
    // A row that is as large as the mean does not move it.
    expect(Math.abs(moves?.difference ?? 1)).toBeLessThan(1e-15)
    expect(moves?.rows.map(({ row, was }) => [row, was])).toEqual([[4, 'new']])
  })

  test('of a share in a group: its own row, and the others of its group', () => {
    const book = harvests()
    const before = book.figure('takes.part', 1)
    book.apply({ op: 'set-cells', table: 'takes', cells: [{ row: 3, column: 'kg', value: 3 }] })
    const moves = movesBetween(before, book.figure('takes.part', 1))
    expect(moves?.rows).toHaveLength(1)
    expect(moves?.rows[0]).toMatchObject({ row: 3, was: 'changed' })
    expect(moves?.difference).toBeCloseTo(0.5 - 3 / 3.1, 15)
  })

  test.each([
    ['takes.plain', 1, 'a formula of one row'],
    ['takes.kg', 1, 'a typed value'],
  ])('of %s in row %d is not told: %s', (address, row) => {
    const book = harvests()
    const before = book.figure(address, row)
    book.apply({ op: 'set-cells', table: 'takes', cells: [{ row: 1, column: 'kg', value: 4 }] })
    const after = book.figure(address, row)
    expect(movesBetween(before, after)).toBeNull()
    expect([before.value, after.value]).not.toEqual([before.value, before.value])
  })

  test('is not told across a change of the formula, nor of an error', () => {
    const book = harvests()
    const before = book.figure('tally:takes.all')
    book.apply({ op: 'set-tally', table: 'takes', name: 'all', formula: 'sum(frames)' })
    expect(movesBetween(before, book.figure('tally:takes.all'))).toBeNull()
    book.apply({ op: 'set-cells', table: 'takes', cells: [{ row: 1, column: 'frames', value: { misfit: 'two' } }] })
    expect(book.figure('tally:takes.all').rows).toBeNull()
  })

  test('of a row or column that there is not is refused', () => {
    const book = harvests()
    expect(() => book.figure('takes.part', 99)).toThrow(/row/)
    expect(() => book.figure('takes.nothing', 1)).toThrow(/nothing/)
  })
})

const value = fc.oneof(
  fc.constant(null),
  fc.integer({ min: -50, max: 50 }),
  fc.double({ min: -1e6, max: 1e6, noNaN: true }),
  fc.constantFrom(0.1, 0.2, 1e-9, 1e12),
)
const edit = fc.oneof(
  fc.record({ kind: fc.constant('set' as const), row: fc.nat(), column: fc.constantFrom('kg', 'frames'), value }),
  fc.record({ kind: fc.constant('hive' as const), row: fc.nat(), hive: fc.constantFrom('A', 'B', 'C') }),
  fc.record({ kind: fc.constant('insert' as const), hive: fc.constantFrom('A', 'B', 'C'), kg: value, frames: value }),
  fc.record({ kind: fc.constant('remove' as const), row: fc.nat() }),
)

test('contributions add up to the difference exactly, on random edits', () => {
  fc.assert(
    fc.property(fc.array(edit, { minLength: 1, maxLength: 12 }), (edits) => {
      const book = harvests()
      const asked: (readonly [string, number | undefined])[] = [
        ...Object.keys(FIGURES).map((name) => [`tally:takes.${name}`, undefined] as const),
        ['takes.of_hive', 1],
        ['takes.part', 1],
      ]
      const before = asked.map(([address, row]) => book.figure(address, row))
      for (const one of edits) {
        const ids = book.table('takes').rowIds()
        // The first row stays, so that its cells can be compared.
        const id = ids[('row' in one ? one.row : 0) % ids.length] as number
        if (one.kind === 'set')
          book.apply({ op: 'set-cells', table: 'takes', cells: [{ row: id, column: one.column, value: one.value }] })
        else if (one.kind === 'hive')
          book.apply({ op: 'set-cells', table: 'takes', cells: [{ row: id, column: 'hive', value: one.hive }] })
        else if (one.kind === 'insert')
          book.apply({ op: 'insert-rows', table: 'takes', rows: [{ hive: one.hive, kg: one.kg, frames: one.frames }] })
        else if (id !== 1) book.apply({ op: 'remove-rows', table: 'takes', rows: [id] })
      }
      for (const [at, [address, row]] of asked.entries()) {
        const [one, other] = [before[at] as Figure, book.figure(address, row)]
        if (one.rows === null || other.rows === null) continue
        const moves = movesBetween(one, other)
        const { parts, bottom } = exactMoves(one.rows, other.rows)
        const all = parts.reduce((sum, { top }) => sum + top, 0n)
        expect([address, all * 1n]).toEqual([address, differenceOf(one, other, bottom)])
        // The two values were each rounded once, so their difference is as near as that.
        const [was, is] = [one.value as number, other.value as number]
        const error = Math.abs((moves?.difference ?? Number.NaN) - (is - was))
        expect(error).toBeLessThanOrEqual(4 * Number.EPSILON * Math.max(Math.abs(was), Math.abs(is)))
        // A row that adds what it added before is not named.
        for (const { change } of moves?.rows ?? []) expect(change).not.toBe(Number.NaN)
      }
    }),
    { numRuns: Number(process.env.RUNS ?? 200) },
  )
})

/** The difference of two quotients over a divisor, by whole numbers alone and in another way than what is tested. */
function differenceOf(one: Figure, other: Figure, over: bigint): bigint {
  const [before, after] = [one, other].map((figure) => fraction(figure)) as [Fraction, Fraction]
  const top = after.top * before.bottom - before.top * after.bottom
  const bottom = after.bottom * before.bottom
  expect((top * over) % bottom).toBe(0n)
  return (top * over) / bottom
}

interface Fraction {
  readonly top: bigint
  readonly bottom: bigint
}

/** A number as a fraction, by doubling it until it is whole. */
function fractionOf(number: number): Fraction {
  let bottom = 1n
  let whole = number
  while (!Number.isInteger(whole)) {
    whole *= 2
    bottom *= 2n
  }
  return { top: BigInt(whole), bottom }
}

const plus = (a: Fraction, b: Fraction): Fraction => ({ top: a.top * b.bottom + b.top * a.bottom, bottom: a.bottom * b.bottom })

function fraction({ rows }: Figure): Fraction {
  const shares = [...(rows?.byRow.values() ?? [])]
  const sum = (of: 'top' | 'bottom'): Fraction =>
    shares.reduce((all, share) => plus(all, fractionOf(share[of])), { top: 0n, bottom: 1n })
  const top = sum('top')
  const bottom = rows?.isQuotient === true ? sum('bottom') : { top: 1n, bottom: 1n }
  const all = { top: top.top * bottom.bottom, bottom: top.bottom * bottom.top }
  const times = (rows?.times ?? []).map(fractionOf)
  const per = (rows?.per ?? []).map(fractionOf)
  const multiplied = times.reduce((a, b) => ({ top: a.top * b.top, bottom: a.bottom * b.bottom }), all)
  return per.reduce((a, b) => ({ top: a.top * b.bottom, bottom: a.bottom * b.top }), multiplied)
}

describe('a figure of a report', () => {
  const reported = (): Workbook => {
    const book = harvests()
    book.apply({
      op: 'set-report',
      name: 'by hive',
      report: {
        table: 'takes',
        where: 'frames < 9',
        levels: [{ key: 'hive' }],
        tallies: [
          { name: 'total', formula: 'sum(kg where kg > 1)' },
          { name: 'yield', formula: 'sum(kg) per sum(frames)' },
          { name: 'most', formula: 'max(kg)' },
        ],
      },
    })
    return book
  }

  test.each<[string, readonly string[] | undefined, number, [row: number, change: number][]]>([
    [
      'total',
      undefined,
      4,
      [
        [4, 3],
        [1, 1],
      ],
    ],
    [
      'total',
      ['A'],
      4,
      [
        [4, 3],
        [1, 1],
      ],
    ],
    ['total', ['B'], 0, []],
    [
      'yield',
      ['A'],
      7.1 / 6 - 3.1 / 5,
      [
        [4, 14.9 / 30],
        [1, 0.2],
      ],
    ],
  ])('%s of %j is accounted for by the rows of its group', (column, keys, difference, moves) => {
    const book = reported()
    const before = book.figure(`report:\`by hive\`.${column}`, keys)
    book.apply([
      { op: 'set-cells', table: 'takes', cells: [{ row: 1, column: 'kg', value: 4 }] },
      {
        op: 'insert-rows',
        table: 'takes',
        rows: [
          { hive: 'A', kg: 3, frames: 1 },
          { hive: 'A', kg: 100, frames: 20 },
        ],
      },
    ])
    const found = movesBetween(before, book.figure(`report:\`by hive\`.${column}`, keys))
    expect(found?.difference).toBeCloseTo(difference, 12)
    expect(found?.rows.map(({ row }) => row).sort()).toEqual(moves.map(([row]) => row).sort())
    if (column === 'total') expect(found?.rows.map(({ row, change }) => [row, change])).toEqual(moves)
  })

  test('of which rows account for nothing is told with its value', () => {
    expect(reported().figure('report:by hive.most', ['A'])).toEqual({ value: 3, formula: 'max(kg)', rows: null })
  })

  test.each<[string, readonly string[], string]>([
    ['report:by hive.total', ['C'], 'report by hive: it has no group C.'],
    ['report:by hive.totals', [], 'report by hive: it has no column totals. Nearest name: total.'],
    ['report:by yard.total', [], 'The workbook has no report called `by yard`.'],
    ['takes.kg', ['A'], 'takes.kg: only groups of reports have keys.'],
  ])('%s of %j is refused', (address, keys, message) => expect(() => reported().figure(address, keys)).toThrow(message))
})
