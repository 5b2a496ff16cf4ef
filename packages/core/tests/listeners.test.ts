import { describe, expect, test } from 'vitest'
import { type ChangeSet, type Operation, Workbook, type WorkbookOptions } from '../src/index.js'

/** Who is told of what, when, and what becomes of a listener that throws or goes on applying. */

const HIVES: Operation[] = [
  {
    op: 'add-table',
    table: 'hives',
    columns: [
      { name: 'frames', type: 'number' },
      { name: 'double', formula: 'frames * 2' },
      { name: 'all', formula: 'sum(frames)' },
      { name: 'root', formula: 'sqrt(frames - 5)' },
    ],
  },
  { op: 'insert-rows', table: 'hives', rows: [{ frames: 6 }, { frames: 9 }] },
]
const frames = (row: number, value: number): Operation => ({
  op: 'set-cells',
  table: 'hives',
  cells: [{ row, column: 'frames', value }],
})

function made(options: WorkbookOptions = {}): Workbook {
  const book = new Workbook(options)
  book.apply(HIVES)
  return book
}

describe('a listener that throws', () => {
  test('keeps nobody from hearing, and the call from nothing', () => {
    const errors: unknown[] = []
    const book = made({ onListenerError: (error) => errors.push(error) })
    const heard: number[] = []
    book.on('change', () => {
      throw new Error('mine')
    })
    book.on('change', ({ revision }) => heard.push(revision))
    const change = book.apply(frames(1, 10))
    expect(change.revision).toBe(2)
    expect(heard).toEqual([2])
    expect(errors.map(String)).toEqual(['Error: mine'])
    book.apply(frames(1, 11))
    expect(book.undo()?.revision).toBe(4)
    expect(book.table('hives').column('double').values()).toEqual([20, 18])
  })

  test('is reported after the call unless somebody takes it', async () => {
    const book = made()
    book.on('change', () => {
      throw new Error('later')
    })
    const seen: string[] = []
    const listeners = process.listeners('uncaughtException')
    process.removeAllListeners('uncaughtException')
    process.once('uncaughtException', (error) => seen.push(error.message))
    book.apply(frames(1, 10))
    expect(seen).toEqual([])
    await new Promise((resolve) => setTimeout(resolve, 10))
    for (const listener of listeners) process.on('uncaughtException', listener)
    expect(seen).toEqual(['later'])
  })
})

test('a call from within a listener runs at once and is told of afterwards, to everybody in order', () => {
  const book = made()
  const first: string[] = []
  const second: string[] = []
  book.on('change', ({ revision, operations }) => {
    first.push(`${revision} ${operations[0]?.op}`)
    if (revision !== 2) return
    const inner = book.apply(frames(2, 100))
    expect(inner.revision).toBe(3)
    expect(book.table('hives').column('all').values()).toEqual([110, 110])
  })
  book.on('change', ({ revision, operations }) => second.push(`${revision} ${operations[0]?.op}`))
  book.apply(frames(1, 10))
  expect(first).toEqual(['2 set-cells', '3 set-cells'])
  expect(second).toEqual(first)
  // What follows is exact too, and each of the two is a step of its own.
  book.apply(frames(1, 1))
  expect(book.table('hives').column('all').values()).toEqual([101, 101])
  for (let steps = 0; steps < 3; steps++) book.undo()
  expect(book.table('hives').column('all').values()).toEqual([15, 15])
})

test('a call from within a call is refused, and the outer one goes on', () => {
  const book = made()
  const rows = Array.from({ length: 10 }, (_, row) => ({ frames: row }))
  let refused = ''
  book.apply([{ op: 'insert-rows', table: 'hives', rows }], {
    progress: () => {
      try {
        book.apply(frames(1, 1))
      } catch (error) {
        refused = (error as Error).message
      }
      return undefined
    },
  })
  expect(refused).toContain('another call is at work')
  expect(book.table('hives').rowCount).toBe(12)
  expect(book.table('hives').column('all').value(1)).toBe(60)
})

test.each([
  ['an event that there is not', 'changed', () => undefined],
  ['no function', 'change', 'log'],
])('listening with %s is refused', (_, event, listener) => {
  expect(() => made().on(event as 'change', listener as () => undefined)).toThrow(/^on: /)
})

describe('who keeps revisions', () => {
  test('gets each before anybody is told, and one that fails is taken back whole', () => {
    const log: string[] = []
    let isFull = false
    const book = made({
      keep: ({ kind, change }) => {
        if (isFull) throw new Error('no room')
        log.push(`kept ${change.revision} ${kind}`)
        return undefined
      },
    })
    book.on('change', ({ revision }) => log.push(`told ${revision}`))
    book.apply(frames(1, 10))
    const before = [book.revision, book.check(), book.table('hives').column('all').values()]
    isFull = true
    expect(() =>
      book.apply([frames(2, 1), { op: 'add-column', table: 'hives', column: { name: 'x', formula: 'frames / 0' } }]),
    ).toThrow('no room')
    expect(() => book.undo()).toThrow('no room')
    expect([book.revision, book.check(), book.table('hives').column('all').values()]).toEqual(before)
    isFull = false
    expect(book.undo()?.revision).toBe(3)
    expect(book.redo()?.revision).toBe(4)
    expect(log).toEqual(['kept 1 apply', 'kept 2 apply', 'told 2', 'kept 3 undo', 'told 3', 'kept 4 redo', 'told 4'])
  })

  test('can have the inverse read again when it is needed', () => {
    const inverses = new Map<number, ChangeSet['inverse']>()
    const reads: number[] = []
    const book = made({
      keep: ({ change: { revision, inverse } }) => {
        inverses.set(revision, inverse)
        return () => {
          reads.push(revision)
          return inverses.get(revision) ?? []
        }
      },
    })
    book.apply(frames(1, 10))
    expect(reads).toEqual([])
    book.undo()
    expect(reads).toEqual([2])
    expect(book.table('hives').column('frames').values()).toEqual([6, 9])
  })
})

describe('steps that can be taken back', () => {
  const undoAll = (book: Workbook): number => {
    let steps = 0
    while (book.undo() !== null) steps++
    return steps
  }
  test('are the last thousand', () => {
    const book = made()
    for (let edit = 0; edit < 1_010; edit++) book.apply(frames(1, edit))
    expect(undoAll(book)).toBe(1000)
    expect(book.table('hives').column('frames').value(1)).toBe(9)
  })
  test.each([0, 1, 3])('are at most %i where that is said', (undoLimit) => {
    const book = made({ undoLimit })
    for (let edit = 0; edit < 5; edit++) book.apply(frames(1, edit))
    expect(undoAll(book)).toBe(undoLimit)
  })
})

describe('stale cells that are calculated by whoever reads them', () => {
  const waiting = (): { book: Workbook; told: ChangeSet[] } => {
    const book = made({ mostAtOnce: 0 })
    const told: ChangeSet[] = []
    book.apply(frames(1, 30))
    book.flush()
    book.on('change', (change) => told.push(change))
    return { book, told }
  }
  const codes = (change: ChangeSet | undefined): unknown => change?.findings.added.map(({ code, column }) => [column, code])

  test('are told of with the findings that came of them', async () => {
    const { book, told } = waiting()
    book.apply(frames(1, 1))
    expect(told.map(({ stale }) => stale.length > 0)).toEqual([true])
    expect(book.table('hives').column('root').value(1)).toMatchObject({ code: 'out-of-range' })
    await Promise.resolve()
    expect(told.length).toBe(2)
    expect(told[1]).toMatchObject({ revision: book.revision, operations: [], inverse: [] })
    expect(codes(told[1])).toEqual([['root', 'calculated-errors']])
  })

  test('are told of before the next change', () => {
    const { book, told } = waiting()
    book.apply(frames(1, 1))
    book.table('hives').column('root').value(1)
    book.apply(frames(2, 8))
    expect(told.map(({ operations }) => operations.length)).toEqual([1, 0, 1])
  })

  test('by flush and by check too', () => {
    const { book, told } = waiting()
    book.apply(frames(1, 1))
    expect(book.flush().findings.added.map(({ code }) => code)).toEqual(['calculated-errors'])
    book.apply(frames(1, 2))
    book.check()
    expect(told.map(({ operations }) => operations.length)).toEqual([1, 0, 1, 0])
  })
})

test('a view shows what is now, and has nothing that changes it', () => {
  const book = made()
  const { view } = book
  book.apply(frames(1, 10))
  expect(view.table('hives').column('double').values()).toEqual([20, 18])
  expect(view.revision).toBe(2)
  for (const name of ['apply', 'undo', 'redo', 'snapshot'])
    expect((view as unknown as Record<string, unknown>)[name]).toBeUndefined()
})
