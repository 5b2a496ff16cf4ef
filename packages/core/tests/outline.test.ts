import fc from 'fast-check'
import { expect, test } from 'vitest'
import { shownRowsOf, Workbook } from '../src/index.js'

/** Rows that may be below each other, also round and round, by the places of those that they are below; null for none. */
const parents = fc.array(fc.option(fc.nat(11), { freq: 4 }), { minLength: 1, maxLength: 12 })

/** A workbook of them: each row has its place as its key. */
function bookOf(above: readonly (number | null)[]): Workbook {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'places',
      columns: [
        { name: 'key', type: 'integer' },
        { name: 'inside', type: 'integer' },
      ],
    },
    { op: 'insert-rows', table: 'places', rows: above.map((inside, key) => ({ key, inside })) },
    { op: 'change-table', table: 'places', set: { key: ['key'], parent: 'inside' } },
  ])
  return book
}

/** The same the slow way: each row with all rows that name it, one after the other. */
function slowly(above: readonly (number | null)[], isShown: (key: number) => boolean): [number, number][] {
  const keys = [...above.keys()].filter(isShown)
  const told = new Map<number, number>()
  const tell = (key: number, depth: number): void => {
    if (told.has(key)) return
    told.set(key, depth)
    for (const child of keys) if (above[child] === key) tell(child, depth + 1)
  }
  const parentOf = (key: number): number | null => {
    const parent = above[key] ?? null
    return parent !== null && keys.includes(parent) ? parent : null
  }
  for (const key of keys) if (parentOf(key) === null) tell(key, 0)
  for (const key of keys) tell(key, 0)
  return [...told]
}

test('rows stand below their parents as when each is looked for among all', () => {
  fc.assert(
    fc.property(parents, fc.nat(11), (above, least) => {
      const found = shownRowsOf(bookOf(above), { table: 'places', where: `key >= ${least}`, outline: true })
      const keys = found.rows().map(([key]) => key)
      expect(keys.map((key, at) => [key, found.depths?.[at]])).toEqual(slowly(above, (key) => key >= least))
      expect(found.ids()).toEqual(keys.map((key) => Number(key) + 1))
    }),
    { numRuns: 400 },
  )
})

test('rows that are below themselves are found as when each is followed up', () => {
  fc.assert(
    fc.property(parents, (above) => {
      const isLooped = (start: number): boolean => {
        let at: number | null | undefined = above[start]
        for (let step = 0; at !== null && at !== undefined && step < above.length; step++) {
          if (at === start) return true
          at = above[at]
        }
        return false
      }
      const looped = [...above.keys()].filter(isLooped)
      const found = bookOf(above)
        .check()
        .find(({ code }) => code === 'parent-loop')
      expect(found?.rows ?? 0).toBe(looped.length)
    }),
    { numRuns: 300 },
  )
})
