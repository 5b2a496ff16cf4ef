import { afterEach, describe, expect, test, vi } from 'vitest'
import { Status, statusOfFault } from '../../values/index.js'
import { BLOCK_ROWS, type BooleanVector, type NumberVector } from '../vectors.js'
import type { BlockLoops } from './block-code.js'
import { scratch } from './scratch.js'

/** Each block loop against a reference, row by row, on a block of every pairing of edge values and statuses. */

const NUMBERS = [0, 1, -1, 2.5, -3, 1e308, -1e308, 5e-324, 0.1, 300, 2 ** 53]
const MISFIT = statusOfFault('misfit')
const OUT_OF_RANGE = statusOfFault('out-of-range')
const DIVISION_BY_ZERO = statusOfFault('division-by-zero')
const STATUSES = [0, 0, 0, 1, 0, MISFIT, 0, OUT_OF_RANGE, 1, DIVISION_BY_ZERO]

function numbers(step: number): NumberVector {
  const vector = scratch.lend('number') as NumberVector
  for (let row = 0; row < BLOCK_ROWS; row++) {
    const of = STATUSES[Math.floor(row / step) % STATUSES.length] as number
    vector.status[row] = of
    vector.values[row] = of === Status.value ? (NUMBERS[Math.floor(row / step) % NUMBERS.length] as number) : Number.NaN
  }
  return vector
}

function booleans(step: number): BooleanVector {
  const vector = scratch.lend('boolean') as BooleanVector
  for (let row = 0; row < BLOCK_ROWS; row++) {
    vector.status[row] = STATUSES[Math.floor(row / step) % STATUSES.length] as number
    vector.values[row] = Math.floor(row / step) % 3 === 0 ? 0 : 1
  }
  return vector
}

const address = (vector: NumberVector | BooleanVector | Uint8Array): number =>
  vector instanceof Uint8Array ? vector.byteOffset : vector.values.byteOffset
const rows = Array.from({ length: BLOCK_ROWS }, (_, row) => row)
const together = (left: number, right: number): number => (left > Status.blank ? left : Math.max(left, right))
const loops = (): BlockLoops => scratch.loops as BlockLoops

const lent: (NumberVector | BooleanVector | Uint8Array)[] = []
const keep = <Lent extends NumberVector | BooleanVector | Uint8Array>(one: Lent): Lent => {
  lent.push(one)
  return one
}
afterEach(() => {
  for (const one of lent.splice(0)) expect(scratch.giveBack(one)).toBe(true)
})

describe('block loops', () => {
  test('are there wherever the tests run', () => {
    expect(scratch.loops).not.toBeNull()
  })

  test.each([
    ['add', (a: number, b: number) => a + b],
    ['subtract', (a: number, b: number) => a - b],
    ['multiply', (a: number, b: number) => a * b + 0],
  ] as const)('%s', (name, compute) => {
    const [left, right, out] = [keep(numbers(1)), keep(numbers(13)), keep(numbers(2))]
    const seen = loops()[name](address(left), address(right), address(out))
    const expected = rows.map((row) => {
      const status = together(left.status[row] as number, right.status[row] as number)
      const value = compute(left.values[row] as number, right.values[row] as number)
      return status !== Status.value ? [status] : Number.isFinite(value) ? [status, value] : [OUT_OF_RANGE]
    })
    expect(rows.map((row) => (out.status[row] === 0 ? [0, out.values[row]] : [out.status[row]]))).toEqual(expected)
    expect(seen).toBe(1)
    for (const vector of [left, right]) {
      vector.status.fill(0)
      vector.values.fill(-0.5)
    }
    expect(loops()[name](address(left), address(right), address(out))).toBe(0)
    expect(new Set(out.values)).toEqual(new Set([compute(-0.5, -0.5)]))
  })

  test.each([DIVISION_BY_ZERO, Status.blank])(
    'divide, a zero divisor giving status %i, and the marks of what failed',
    (zeroStatus) => {
      const [left, right, out] = [keep(numbers(1)), keep(numbers(13)), keep(numbers(2))]
      loops().divide(address(left), address(right), address(out), zeroStatus)
      const failsHere = (row: number): boolean => left.status[row] === 0 && right.status[row] === 0 && right.values[row] === 0
      const expected = rows.map((row) => {
        const status = together(left.status[row] as number, right.status[row] as number)
        if (status !== Status.value) return [status]
        if (failsHere(row)) return [zeroStatus]
        const value = (left.values[row] as number) / (right.values[row] as number) + 0
        return Number.isFinite(value) ? [status, value] : [OUT_OF_RANGE]
      })
      expect(rows.map((row) => (out.status[row] === 0 ? [0, out.values[row]] : [out.status[row]]))).toEqual(expected)
      const marks = keep(scratch.lendBytes() as Uint8Array)
      marks.fill(2)
      loops().markFailed(address(left), address(right), address(out), address(marks), 4)
      const isMarked = (row: number): boolean => zeroStatus === DIVISION_BY_ZERO && failsHere(row)
      expect([...marks]).toEqual(rows.map((row) => (isMarked(row) ? 6 : 2)))
      expect(loops().countMarked(address(marks), 4)).toBe(rows.filter(isMarked).length)
    },
  )

  test.each([
    ['equal', (a: number, b: number) => a === b],
    ['unequal', (a: number, b: number) => a !== b],
    ['less', (a: number, b: number) => a < b],
    ['lessEqual', (a: number, b: number) => a <= b],
    ['greater', (a: number, b: number) => a > b],
    ['greaterEqual', (a: number, b: number) => a >= b],
  ] as const)('%s', (name, holds) => {
    const [left, right, out] = [keep(numbers(1)), keep(numbers(13)), keep(booleans(2))]
    loops()[name](address(left), address(right), address(out))
    for (const row of rows) {
      const status = together(left.status[row] as number, right.status[row] as number)
      expect(out.status[row]).toBe(status)
      if (status === 0) expect(out.values[row]).toBe(Number(holds(left.values[row] as number, right.values[row] as number)))
    }
  })

  test('take and takeBytes lay values over where a test is true', () => {
    const [test, value, out, before] = [keep(booleans(3)), keep(numbers(1)), keep(numbers(7)), keep(numbers(7))]
    const [fresh, taken] = [keep(scratch.lendBytes() as Uint8Array), keep(scratch.lendBytes() as Uint8Array)]
    fresh.set(rows.map((row) => row & 255))
    taken.fill(9)
    expect(loops().take(address(test), address(value), address(out))).toBe(3)
    loops().takeBytes(address(test), address(fresh), address(taken))
    for (const row of rows) {
      const isTrue = test.status[row] === 0 && test.values[row] === 1
      expect(out.status[row]).toBe((isTrue ? value : before).status[row])
      expect(out.values[row]).toBe((isTrue ? value : before).values[row])
      expect(taken[row]).toBe(isTrue ? row & 255 : 9)
    }
    test.status.fill(0)
    expect(loops().take(address(test), address(value), address(out))).toBe(0)
    test.status[4095] = 1
    expect(loops().take(address(test), address(value), address(out))).toBe(1)
  })

  test('listChanged lists what differs in value or status, and blanks and errors are compared by status alone', () => {
    const [before, after] = [keep(numbers(1)), keep(numbers(1))]
    const list = keep(scratch.lendBytes() as Uint8Array)
    expect(loops().listChanged(address(before), address(after), address(list))).toBe(0)
    after.values.fill(77, 40, 80)
    after.status[4095] = after.status[4095] === 0 ? 1 : 0
    const expected = rows.filter(
      (row) => before.status[row] !== after.status[row] || (after.status[row] === 0 && before.values[row] !== after.values[row]),
    )
    const count = loops().listChanged(address(before), address(after), address(list))
    expect([...new Uint16Array(list.buffer, list.byteOffset, count)]).toEqual(expected)
    expect(count).toBeGreaterThan(20)
  })

  test('markNegative marks values below zero only', () => {
    const vector = keep(numbers(1))
    const marks = keep(scratch.lendBytes() as Uint8Array)
    marks.fill(1)
    loops().markNegative(address(vector), address(marks), 128)
    const isNegative = (row: number): boolean => vector.status[row] === 0 && (vector.values[row] as number) < 0
    expect([...marks]).toEqual(rows.map((row) => (isNegative(row) ? 129 : 1)))
    expect(loops().countMarked(address(marks), 128)).toBe(rows.filter(isNegative).length)
  })

  test('what is lent is no one else’s, and when all is lent the answer is null', () => {
    const all: NumberVector[] = []
    for (let one = scratch.lend('number'); one !== null; one = scratch.lend('number')) all.push(one as NumberVector)
    expect(new Set(all.map(address)).size).toBe(all.length)
    expect(all.length).toBeGreaterThan(40)
    expect(scratch.lendBytes()).toBeNull()
    for (const one of all) scratch.giveBack(one)
    expect(scratch.lend('text')).toBeNull()
    expect(scratch.giveBack(new Uint8Array(4))).toBe(false)
  })
})

test.each([
  undefined,
  {
    Memory: class {},
    Module: class {
      constructor() {
        throw new Error('forbidden by a policy')
      }
    },
  },
])('without WebAssembly (%s) the kernels do the same work', async (api) => {
  vi.resetModules()
  vi.stubGlobal('WebAssembly', api)
  const { Workbook } = await import('../../index.js')
  const fresh = await import('./index.js')
  const book = new Workbook()
  const values = Array.from({ length: BLOCK_ROWS + 1 }, (_, index) => index - 2)
  book.apply([
    {
      op: 'add-table',
      table: 't',
      columns: [
        { name: 'a', type: 'number' },
        { name: 'x', formula: 'case when a > 1 then 8 / a else -a end' },
      ],
    },
    { op: 'insert-rows', table: 't', block: { a: values } },
  ])
  vi.unstubAllGlobals()
  expect(fresh.scratch.loops).toBeNull()
  expect(book.table('t').column('x').values()).toEqual(values.map((a) => (a > 1 ? 8 / a : -a + 0)))
})
