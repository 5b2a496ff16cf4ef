import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { CellFault, Status, statusOfFault } from '../values/index.js'
import type { Cell } from './cell.js'
import { Column } from './column.js'
import { RowOrder } from './row-order.js'
import { RowSet } from './row-set.js'
import { selectRows, wholeBlock } from './selection.js'
import { summarise } from './summary.js'
import { BLOCK_ROWS, makeVector, type Vector } from './vectors.js'

/** A column told in the plainest way: a list of cells, undefined where there is no row. */
class PlainColumn {
  readonly cells: (Cell | undefined)[] = []
  count(of: (cell: Cell) => boolean): number {
    return this.cells.filter((cell) => cell !== undefined && of(cell)).length
  }
}

const cells = fc.oneof(
  fc.constant<Cell>(null),
  fc.double({ noNaN: true, noDefaultInfinity: true }).map<Cell>((value) => value + 0),
  fc.string({ maxLength: 5 }).map<Cell>((text) => new CellFault('misfit', text)),
  fc.constant<Cell>(new CellFault('division-by-zero')),
)

type Step = { kind: 'occupy' } | { kind: 'vacate'; at: number } | { kind: 'write'; at: number; cell: Cell }
const steps = fc.array(
  fc.oneof(
    { weight: 4, arbitrary: fc.constant<Step>({ kind: 'occupy' }) },
    { weight: 1, arbitrary: fc.nat(200).map<Step>((at) => ({ kind: 'vacate', at })) },
    { weight: 5, arbitrary: fc.record({ kind: fc.constant('write' as const), at: fc.nat(200), cell: cells }) },
  ),
  { maxLength: 150 },
)

describe('a column', () => {
  test('holds what a plain list holds, and counts it, after any writes', () => {
    fc.assert(
      fc.property(steps, (todo) => {
        const column = new Column('number')
        const plain = new PlainColumn()
        for (const step of todo) {
          if (step.kind === 'occupy') {
            column.occupy(plain.cells.length)
            plain.cells.push(null)
            continue
          }
          const at = step.at % Math.max(1, plain.cells.length)
          if (plain.cells[at] === undefined) continue
          if (step.kind === 'write') column.write(at, step.cell)
          else column.vacate(at)
          plain.cells[at] = step.kind === 'write' ? step.cell : undefined
        }
        for (const [slot, cell] of plain.cells.entries()) if (cell !== undefined) expect(column.read(slot)).toEqual(cell)
        expect(column.valueCount).toBe(plain.count((cell) => typeof cell === 'number'))
        expect(column.blankCount).toBe(plain.count((cell) => cell === null))
        expect(column.faultCount()).toBe(plain.count((cell) => cell instanceof CellFault))
        expect(column.faultCount(statusOfFault('misfit'))).toBe(
          plain.count((cell) => cell instanceof CellFault && cell.code === 'misfit'),
        )
      }),
    )
  })

  test('grows block by block, and no array is longer than a block', () => {
    const column = new Column('text')
    const count = BLOCK_ROWS * 2 + 5
    for (let slot = 0; slot < count; slot++) column.occupy(slot)
    for (const slot of [0, BLOCK_ROWS - 1, BLOCK_ROWS, count - 1]) column.write(slot, `text ${slot}`)
    expect([
      column.read(0),
      column.read(BLOCK_ROWS - 1),
      column.read(BLOCK_ROWS),
      column.read(count - 1),
      column.read(7),
    ]).toEqual(['text 0', `text ${BLOCK_ROWS - 1}`, `text ${BLOCK_ROWS}`, `text ${count - 1}`, null])
    expect([0, 1, 2].map((index) => column.peek(index)?.status.length)).toEqual([BLOCK_ROWS, BLOCK_ROWS, 32])
    expect(column.peek(3)).toBeUndefined()
  })

  test('begins many blank rows at once as one by one', () => {
    const column = new Column('date')
    column.occupyFirst(BLOCK_ROWS + 3)
    expect([column.blankCount, column.valueCount, column.read(BLOCK_ROWS + 2)]).toEqual([BLOCK_ROWS + 3, 0, null])
  })

  test.each<[string, Selection, number[]]>([
    ['a whole block', 'whole', [0, 2, 3]],
    ['some rows', 'some', [2, 3]],
  ])('takes over %s and tells which rows really differ', (_, which, changed) => {
    const column = new Column('number')
    for (let slot = 0; slot < 5; slot++) column.occupy(slot)
    for (const [slot, cell] of [
      [0, 1],
      [1, 2],
      [2, 3],
      [4, new CellFault('out-of-range')],
    ] as [number, Cell][])
      column.write(slot, cell)
    const result = makeVector('number', BLOCK_ROWS) as Vector & { kind: 'number' }
    // Row 0 gets another value, 1 the same, 2 an error, 3 a value for a blank, 4 the same error.
    result.values.set([9, 2, 0, 4])
    result.status.set([
      Status.value,
      Status.value,
      statusOfFault('division-by-zero'),
      Status.value,
      statusOfFault('out-of-range'),
    ])
    const after = column.absorb(0, result, which === 'whole' ? wholeBlock(5) : selectRows(Uint16Array.of(1, 2, 3)))
    expect(Array.from({ length: after.count }, (_row, k) => (after.rows === null ? k : after.rows[k]))).toEqual(changed)
    expect(column.read(2)).toEqual(new CellFault('division-by-zero'))
    expect([column.valueCount, column.blankCount, column.faultCount()]).toEqual([3, 0, 2])
  })

  test('refuses a vector of another storage', () => {
    const column = new Column('text')
    column.occupy(0)
    expect(() => column.absorb(0, makeVector('number', 1), wholeBlock(1))).toThrow('cannot take a number vector')
  })
})

type Selection = 'whole' | 'some'

describe('an order of slots', () => {
  const change = fc.record({ at: fc.nat(1_000_000), isRemoval: fc.boolean(), count: fc.integer({ min: 1, max: 900 }) })

  test('over many chunks is what a plain list is', () => {
    fc.assert(
      fc.property(fc.nat(4000), fc.array(change, { maxLength: 8 }), (count, changes) => {
        const order = new RowOrder(count)
        const list = Array.from({ length: count }, (_, slot) => slot)
        let next = count
        for (const { at, isRemoval, count: many } of changes) {
          for (let index = 0; index < many; index++) {
            const place = (at + index * 7) % (list.length + 1)
            if (!isRemoval) {
              list.splice(place, 0, next)
              order.insert(next++, place)
            } else if (list.length > 0) order.remove(list.splice(place % list.length, 1)[0] as number)
          }
        }
        expect(Array.from(order.toArray(list.length))).toEqual(list)
        for (let place = 0; place < list.length; place += 97) {
          expect(order.slotAt(place)).toBe(list[place])
          expect(order.placeOf(list[place] as number)).toBe(place)
        }
        expect(order.slotAt(list.length)).toBeUndefined()
      }),
      { numRuns: 60 },
    )
  })
})

describe('the rows of a table', () => {
  const moves = fc.array(
    fc.oneof(
      fc.record({ kind: fc.constant('append' as const), count: fc.nat(4) }),
      fc.record({ kind: fc.constant('insert' as const), at: fc.nat(50), count: fc.integer({ min: 1, max: 3 }) }),
      fc.record({ kind: fc.constant('remove' as const), picks: fc.array(fc.nat(50), { maxLength: 4 }) }),
    ),
    { maxLength: 40 },
  )

  test('keep ids, order and places as a plain list of ids does', () => {
    fc.assert(
      fc.property(moves, (todo) => {
        const rows = new RowSet()
        const ids: number[] = []
        let nextId = 1
        const fresh = (count: number): number[] => Array.from({ length: count }, () => nextId++)
        for (const move of todo) {
          if (move.kind === 'append') {
            rows.insert(move.count)
            ids.push(...fresh(move.count))
          } else if (move.kind === 'insert') {
            const at = move.at % (ids.length + 1)
            rows.insert(
              move.count,
              Array.from({ length: move.count }, (_, index) => at + index),
            )
            ids.splice(at, 0, ...fresh(move.count))
          } else if (ids.length > 0) {
            const gone = new Set(move.picks.map((pick) => ids[pick % ids.length] as number))
            rows.remove([...gone].map((id) => rows.slotOf(id) as number))
            ids.splice(0, ids.length, ...ids.filter((id) => !gone.has(id)))
          }
          expect(Array.from(rows.inOrder(), (slot) => rows.idOf(slot))).toEqual(ids)
          expect(rows.rowCount).toBe(ids.length)
          for (const [place, id] of ids.entries()) {
            const slot = rows.slotOf(id) as number
            expect([rows.placeOf(slot), rows.slotAt(place), rows.isLive(slot)]).toEqual([place, slot, true])
          }
          expect(rows.slotOf(nextId)).toBeUndefined()
          expect(rows.nextId).toBe(nextId)
        }
      }),
    )
  })

  test('slots are used again, ids never', () => {
    const rows = new RowSet()
    rows.insert(3)
    rows.remove([1])
    expect(rows.isDense).toBe(false)
    expect(rows.insert(1)).toEqual([1])
    expect([rows.slotCount, rows.isDense, rows.idOf(1), rows.slotOf(2)]).toEqual([3, true, 4, undefined])
  })

  test('given ids are kept and the next one is beyond them', () => {
    const rows = new RowSet()
    rows.insert(2, [0, 1], [7, 3])
    expect(Array.from(rows.inOrder(), (slot) => rows.idOf(slot))).toEqual([7, 3])
    rows.insert(1)
    expect(rows.slotOf(8)).toBe(2)
  })
})

describe('a summary', () => {
  const summaryOf = (type: 'number' | 'text' | 'date' | 'boolean', values: Cell[]): ReturnType<typeof summarise> => {
    const column = new Column(type)
    for (const [slot, cell] of values.entries()) {
      column.occupy(slot)
      column.write(slot, cell)
    }
    return summarise(column, Int32Array.from(values.keys()))
  }
  test.each<[string, ReturnType<typeof summaryOf>, object]>([
    [
      'numbers',
      summaryOf('number', [3, null, -1]),
      { rows: 3, values: 2, blanks: 1, errors: 0, sum: 2, mean: 1, min: -1, max: 3, fault: null },
    ],
    [
      'an error takes the totals',
      summaryOf('number', [3, new CellFault('misfit', 'x'), new CellFault('out-of-range')]),
      { values: 1, errors: 2, sum: null, min: null, fault: 'out-of-range' },
    ],
    ['nothing', summaryOf('number', [null, null]), { values: 0, blanks: 2, sum: null, mean: null, min: null }],
    ['texts by code point', summaryOf('text', ['b', 'Z', '\u{1f41d}', '\uff21']), { min: 'Z', max: '\u{1f41d}', sum: null }],
    ['dates have no sum', summaryOf('date', [10, 5]), { min: 5, max: 10, sum: null }],
    ['booleans have no extremes', summaryOf('boolean', [true, false]), { values: 2, min: null, max: null }],
    ['an exact sum', summaryOf('number', new Array<number>(10).fill(0.1)), { sum: 1 }],
    ['a sum beyond binary64', summaryOf('number', [1e308, 1e308]), { sum: null, mean: null }],
  ])('of %s', (_, summary, expected) => expect(summary).toMatchObject(expected))
})
