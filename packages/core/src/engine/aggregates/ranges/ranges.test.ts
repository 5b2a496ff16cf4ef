import fc from 'fast-check'
import { expect, test } from 'vitest'
import { type Cell, columnOfCells } from '../../../columns/index.js'
import { CellFault, ExactSum, Status, statusOfFault } from '../../../values/index.js'
import { GroupSums } from '../incremental/index.js'
import { NO_FAULT, SegmentTree, type StretchNeed, type StretchTotal } from './segment-tree.js'
import { meets, type RangeOperator, SortedRows } from './sorted-rows.js'

/** Sorted rows and their totals against a plain list. */

const OPERATORS: readonly RangeOperator[] = ['less', 'less-equal', 'greater', 'greater-equal']

test.each<[string, fc.Arbitrary<Cell>]>([
  ['numbers', fc.integer({ min: -5, max: 5 })],
  ['texts', fc.constantFrom('a', 'b', 'ab', 'é', '𝄞', '￿')],
  ['booleans', fc.boolean()],
])('sorted rows by %s hold what a list holds', (_, key) => {
  const step = fc.record({ slot: fc.nat(30), key, goes: fc.boolean() })
  const bounds = fc.array(fc.record({ operator: fc.constantFrom(...OPERATORS), bound: key }), { maxLength: 3 })
  fc.assert(
    fc.property(fc.array(step, { maxLength: 60 }), bounds, (steps, asked) => {
      const keys = new Map<number, Cell>()
      const sorted = new SortedRows([])
      for (const { slot, key: own, goes } of steps) {
        const known = keys.get(slot)
        if (known !== undefined) sorted.remove(slot, known)
        if (goes) keys.delete(slot)
        else {
          keys.set(slot, own)
          sorted.insert(slot, own)
        }
      }
      const { from, to } = sorted.within(asked)
      const wanted = [...keys].filter(([, own]) => asked.every(({ operator, bound }) => meets(own, operator, bound)))
      expect([...sorted.slots(from, to)].sort()).toEqual(wanted.map(([slot]) => slot).sort())
      expect(sorted.count).toBe(keys.size)
    }),
  )
})

const number = fc.oneof(
  fc.constantFrom(1e308, -1e308, 1e-320, 0.1, 1e16, -1e16, 2 ** 60, 3),
  fc.double({ noNaN: true, noDefaultInfinity: true }),
)
const cell = fc.oneof(
  { weight: 12, arbitrary: number.map((value): Cell => value + 0) },
  { weight: 2, arbitrary: fc.constant<Cell>(null) },
  { weight: 1, arbitrary: fc.constantFrom<Cell>(new CellFault('loop'), new CellFault('misfit')) },
)

test.each<[StretchNeed]>([['count'], ['sum'], ['ends']])(
  'a tree of segments gives the %s of any segment, after any edit',
  (need) => {
    fc.assert(
      fc.property(
        fc.array(cell, { minLength: 1, maxLength: 400, size: 'max' }),
        fc.array(fc.tuple(fc.nat(), cell), { maxLength: 20 }),
        fc.array(fc.tuple(fc.nat(), fc.nat()), { minLength: 1, maxLength: 20 }),
        (cells, edits, segments) => {
          const column = columnOfCells('number', cells.length, (row) => cells[row] ?? null)
          // Rows stand the other way pass than their slots.
          const slots = Int32Array.from(cells, (_, index) => cells.length - 1 - index)
          const tree = new SegmentTree(slots, column, need)
          for (const [at, value] of edits) {
            const place = at % cells.length
            column.write(slots[place] as number, value)
            tree.refresh(place)
          }
          for (const [a, b] of segments) {
            const [from, to] = [a % (cells.length + 1), b % (cells.length + 1)].sort((x, y) => x - y) as [number, number]
            const total: StretchTotal = { sums: new GroupSums(1), fault: NO_FAULT, lowest: Infinity, highest: -Infinity }
            tree.take(from, to, total)
            const taken = Array.from(slots.subarray(from, to), (slot) => column.read(slot))
            const values = taken.filter((one) => typeof one === 'number')
            const faults = taken.flatMap((one) => (one instanceof CellFault ? [statusOfFault(one.code)] : []))
            expect(total.fault).toBe(Math.min(NO_FAULT, ...faults))
            expect(total.sums.countOf(0)).toBe(values.length)
            if (need === 'ends') expect([total.lowest, total.highest]).toEqual([Math.min(...values), Math.max(...values)])
            if (need !== 'sum') continue
            const exact = new ExactSum()
            for (const value of values) exact.add(value)
            expect(total.sums.sumOf(0)).toBe(exact.result() + 0)
          }
        },
      ),
      { numRuns: 60 },
    )
  },
)

test('errors have status bytes below the mark for none', () =>
  expect(statusOfFault('loop')).toBeLessThan(NO_FAULT - Status.blank))
