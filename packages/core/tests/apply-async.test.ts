import { describe, expect, test } from 'vitest'
import { type ChangeSet, Refusal, Workbook, type WorkbookOptions } from '../src/index.js'

/** A call in slices: the same result as in one go, the rest of the program alive meanwhile, and an end at any time. */

const ROWS = 40_000

function visits(options: WorkbookOptions = {}): Workbook {
  const book = new Workbook(options)
  book.apply([
    { op: 'add-table', table: 'visits', columns: [{ name: 'mites', type: 'number' }] },
    { op: 'insert-rows', table: 'visits', block: { mites: Float64Array.from({ length: ROWS }, (_, row) => row % 97) } },
  ])
  return book
}

const columns = ['mites * 2', 'sqrt(mites)', 'sum(mites by mites)', 'mites / sum(mites)']
const definitions = columns.map((formula, index) => ({
  op: 'add-column' as const,
  table: 'visits',
  column: { name: `c${index}`, formula },
}))

const picture = (book: Workbook): unknown =>
  book.table('visits').columns.map((column) => [column.name, column.formula, column.values()])

test('gives what apply gives, in one revision and one undo step, and tells of it once', async () => {
  const [one, other] = [visits(), visits()]
  const told: ChangeSet[] = []
  other.on('change', (change) => told.push(change))
  const expected = one.apply(definitions)
  const change = await other.applyAsync(definitions, { sliceMs: 0, author: 'ada' })
  expect(change.recalculated).toEqual(expected.recalculated)
  expect(change.changed).toEqual(expected.changed)
  expect(change).toMatchObject({ revision: expected.revision, author: 'ada', stale: [] })
  expect(picture(other)).toEqual(picture(one))
  expect(told).toEqual([change])
  other.undo()
  expect(other.table('visits').columns.map(({ name }) => name)).toEqual(['mites'])
})

test('the program has its turn between slices; no other call begins, and cells read are those to come', async () => {
  const book = visits()
  let turns = 0
  let isOver = false
  const seen: unknown[] = []
  const tick = (): void => {
    turns++
    if (isOver) return
    if (turns === 2) {
      expect(() => book.apply({ op: 'set-mode', mode: 'on-demand' })).toThrow('another call is at work')
      expect(() => book.preview({ op: 'set-mode', mode: 'on-demand' })).toThrow('another call is at work')
      seen.push(book.table('visits').column('c3').value(2), book.revision)
    }
    setTimeout(tick, 0)
  }
  setTimeout(tick, 0)
  const shares: number[] = []
  const change = await book.applyAsync(definitions, {
    sliceMs: 0,
    progress: (share) => {
      shares.push(share)
      return true
    },
  })
  isOver = true
  expect(turns).toBeGreaterThan(3)
  expect(seen).toEqual([book.table('visits').column('c3').value(2), 1])
  expect(shares.at(0)).toBe(0)
  expect(shares.at(-1)).toBe(1)
  // What was calculated because it was read is part of the call.
  expect(change.recalculated.map(({ column, rows }) => [column, rows])).toEqual(columns.map((_, index) => [`c${index}`, ROWS]))
  book.apply({ op: 'set-mode', mode: 'on-demand' })
})

describe('it can be ended', () => {
  test.each([0, 0.3, 0.9])('by a signal, at %d of the work', async (at) => {
    const book = visits()
    const before = picture(book)
    const controller = new AbortController()
    const told: unknown[] = []
    book.on('change', (change) => told.push(change))
    const call = book.applyAsync(definitions, {
      sliceMs: 0,
      signal: controller.signal,
      progress: (share) => {
        if (share >= at) controller.abort()
        return true
      },
    })
    await expect(call).rejects.toThrow(Refusal)
    await expect(call).rejects.toMatchObject({ code: 'cancelled' })
    expect([picture(book), book.revision, told]).toEqual([before, 1, []])
    expect((await book.applyAsync(definitions)).revision).toBe(2)
  })

  test('apply takes a signal too, and one that says nothing changes nothing', () => {
    const book = visits()
    expect(() => book.apply(definitions, { signal: AbortSignal.abort() })).toThrow(Refusal)
    expect(book.apply(definitions, { signal: new AbortController().signal }).revision).toBe(2)
  })
})

test('what cannot be is refused, and what is kept fails the call', async () => {
  const book = visits()
  await expect(book.applyAsync([...definitions, { op: 'remove-table', table: 'none' }])).rejects.toThrow(Refusal)
  await expect(book.applyAsync(definitions, { expects: 7 })).rejects.toMatchObject({ code: 'unexpected-revision' })
  // @ts-expect-error milliseconds are a number
  await expect(book.applyAsync(definitions, { sliceMs: 'short' })).rejects.toThrow('field sliceMs')
  const full = visits({ keep: (revision) => void (revision.change.revision === 2 && fail()) })
  await expect(full.applyAsync(definitions)).rejects.toThrow('the disk is full')
  expect(full.revision).toBe(1)
})

function fail(): never {
  throw new Error('the disk is full')
}

test('subscriptions end by being called, by using, once', () => {
  const book = visits()
  let heard = 0
  const hear = (): void => {
    heard++
  }
  const first = book.on('change', hear)
  const second = book.on('change', hear)
  book.apply({ op: 'tick' })
  first()
  first()
  book.apply({ op: 'tick' })
  second[Symbol.dispose]()
  book.apply({ op: 'tick' })
  expect(heard).toBe(3)
})
