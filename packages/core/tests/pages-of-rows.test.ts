import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { type Operation, pageOf, type Query, Refusal, Workbook } from '../src/index.js'

function book(values: readonly (number | null | { misfit: string })[]): Workbook {
  const made = new Workbook({ now: '2026-06-30' })
  made.apply([
    {
      op: 'add-table',
      table: 'harvests',
      columns: [
        { name: 'kg', type: 'number' },
        { name: 'size', type: 'text' },
        { name: 'rank', type: 'integer' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'harvests',
      rows: values.map((kg, at) => ({
        kg,
        size: ['small', 'large', 'medium'][at % 3] as string,
        rank: [1, 3, 2][at % 3] as number,
      })),
    },
    { op: 'change-column', table: 'harvests', column: 'size', set: { orderKey: 'rank' } },
  ])
  return made
}

/** Rows of the pages so far. */
const found: number[] = []

/** All pages of a query, with something done after each. */
function pages(of: Workbook, query: Omit<Query, 'table'>, between: (page: number) => void = () => undefined): number[][] {
  found.length = 0
  const all: number[][] = []
  let after: unknown
  do {
    const page = pageOf(of, { table: 'harvests', ...query }, after)
    all.push(page.ids())
    found.push(...page.ids())
    after = page.end ?? undefined
    between(all.length)
  } while (after !== undefined)
  return all
}

const cell = (row: number, kg: number | null): Operation => ({
  op: 'set-cells',
  table: 'harvests',
  cells: [{ row, column: 'kg', value: kg }],
})

const ORDERS: readonly (string | undefined)[] = [undefined, 'kg', 'kg desc', 'size', 'size desc, kg']
const VALUES = [3, 1, null, 2, { misfit: 'much' }, 2, null, 5, 1, { misfit: 'x' }, 4]

describe('pages', () => {
  test.each(ORDERS)('in the order %s have all rows in order, each once', (order) => {
    const of = book(VALUES)
    const query = { ...(order !== undefined && { order }) }
    const all = of.query({ table: 'harvests', ...query }).ids()
    for (const limit of [1, 2, 3, 4, 100]) expect(pages(of, { ...query, limit }).flat()).toEqual(all)
  })

  test.each(ORDERS)('in the order %s go on where the last row stood, when it is gone or changed', (order) => {
    const of = book(VALUES)
    const query = { ...(order !== undefined && { order }), limit: 3 }
    const all = of.query({ table: 'harvests', ...query, limit: 100 }).ids()
    const removed = pages(of, query, (page) => {
      const last = all[page * 3 - 1]
      if (last !== undefined) of.apply({ op: 'remove-rows', table: 'harvests', rows: [last] })
    })
    expect(removed.flat()).toEqual(all)
    const other = book(VALUES)
    const touched = new Set<number>()
    const changed = pages(other, query, () => {
      const last = found.at(-1)
      if (last === undefined) return
      touched.add(last)
      other.apply(cell(last, touched.size % 2 === 0 ? null : 100))
    })
    expect(changed.flat().filter((id) => !touched.has(id))).toEqual(all.filter((id) => !touched.has(id)))
  })

  test.each(ORDERS)('in the order %s go on where the last row stood, when it is gone and others before it', (order) => {
    const of = book([1, 1, 1, 1, 1, 1, 1])
    const query = { ...(order !== undefined && { order }), limit: 3 }
    const all = of.query({ table: 'harvests', ...query, limit: 100 }).ids()
    const gone = [0, 1, 2].map((at) => all[at] as number)
    const found = pages(of, query, (page) => {
      if (page === 1) of.apply({ op: 'remove-rows', table: 'harvests', rows: gone })
    })
    expect(found.flat()).toEqual(all)
  })

  test('rows that stay as they are come once, whatever becomes of others between pages', () => {
    const value = fc.oneof(fc.integer({ min: 0, max: 4 }), fc.constant(null), fc.constant({ misfit: 'x' }))
    const step = fc.record({
      kind: fc.constantFrom('set', 'remove', 'insert'),
      row: fc.nat(20),
      value: fc.integer({ min: 0, max: 5 }),
    })
    fc.assert(
      fc.property(
        fc.array(value, { minLength: 1, maxLength: 15 }),
        fc.constantFrom(...ORDERS),
        fc.integer({ min: 1, max: 4 }),
        fc.array(fc.array(step, { maxLength: 2 }), { maxLength: 6 }),
        (values, order, limit, steps) => {
          const of = book(values)
          const touched = new Set<number>()
          const told = pages(of, { ...(order !== undefined && { order }), limit, where: 'kg is not error' }, (page) => {
            for (const { kind, row, value: kg } of steps[page - 1] ?? []) {
              if (kind === 'insert') of.apply({ op: 'insert-rows', table: 'harvests', rows: [{ kg, size: 'small', rank: 1 }] })
              else if (of.table('harvests').hasRow(row)) {
                touched.add(row)
                of.apply(kind === 'set' ? cell(row, kg) : { op: 'remove-rows', table: 'harvests', rows: [row] })
              }
            }
          }).flat()
          const kept = of.query({ table: 'harvests', where: 'kg is not error', ...(order !== undefined && { order }) }).ids()
          const still = kept.filter((id) => id <= values.length && !touched.has(id))
          expect(told.filter((id) => still.includes(id))).toEqual(still)
        },
      ),
      { numRuns: Number(process.env.RUNS ?? 300) },
    )
  })

  test.each([
    null,
    'x',
    {},
    { id: 1, number: 0, keys: [[3]] },
    { id: 1, number: 1, keys: [[1], [2]] },
    { id: 1, number: 1, keys: [3] },
  ])('after %j is refused', (after) => {
    const page = (): unknown => pageOf(book(VALUES), { table: 'harvests', order: 'kg', limit: 2 }, after)
    expect(page).toThrow(Refusal)
    expect(page).toThrow('not where a page of this query ended')
  })
})
