import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  type BooleanVector,
  makeVector,
  type NumberVector,
  type Selection,
  selectRows,
  wholeBlock,
} from '../../../columns/index.js'
import { Status, statusOfFault } from '../../../values/index.js'
import { ARITHMETIC_KERNELS } from './arithmetic.js'
import { type Comparison, compareVectors } from './compare.js'
import { isBlankKernel, isErrorKernel, logicKernel, notKernel } from './logic.js'
import { copySelected, fillSelected } from './move.js'

/** Kernels against a plain reference, row by row: any statuses, any selection, and left-over values where there is no value. */

const ROWS = 12
const DIVISION_BY_ZERO = statusOfFault('division-by-zero')
const OUT_OF_RANGE = statusOfFault('out-of-range')
const MISFIT = statusOfFault('misfit')

interface Operand {
  readonly values: readonly number[]
  readonly statuses: readonly number[]
}

const status = fc.oneof(
  { weight: 6, arbitrary: fc.constant<number>(Status.value) },
  { weight: 2, arbitrary: fc.constant<number>(Status.blank) },
  { weight: 1, arbitrary: fc.constantFrom(MISFIT, OUT_OF_RANGE) },
)
const value = fc.constantFrom(0, 1, -1, 2.5, -3, 1e308, -1e308, 5e-324, 300, 0.1)
const leftOver = fc.constantFrom(Number.NaN, Number.POSITIVE_INFINITY, -5, 0)

const operand: fc.Arbitrary<Operand> = fc
  .array(fc.tuple(status, value, leftOver), { minLength: ROWS, maxLength: ROWS })
  .map((rows) => ({
    statuses: rows.map(([of]) => of),
    values: rows.map(([of, known, rest]) => (of === Status.value ? known : rest)),
  }))
const allValues: fc.Arbitrary<Operand> = fc
  .array(value, { minLength: ROWS, maxLength: ROWS })
  .map((values) => ({ values, statuses: values.map(() => Status.value) }))
const selection: fc.Arbitrary<Selection> = fc.oneof(
  fc.constant(wholeBlock(ROWS)),
  fc.uniqueArray(fc.nat(ROWS - 1), { maxLength: ROWS }).map((rows) => selectRows(Uint16Array.from(rows).sort())),
)

function vectorOf({ values, statuses }: Operand): NumberVector {
  const vector = makeVector('number', ROWS) as NumberVector
  vector.values.set(values)
  vector.status.set(statuses)
  vector.clean = statuses.every((of) => of === Status.value)
  return vector
}

function booleansOf({ values, statuses }: Operand): BooleanVector {
  const vector = makeVector('boolean', ROWS) as BooleanVector
  vector.values.set(values.map((of) => (of > 0 ? 1 : 0)))
  vector.status.set(statuses)
  return vector
}

const rowsOf = ({ rows, count }: Selection): number[] =>
  Array.from({ length: count }, (_, k) => (rows === null ? k : (rows[k] as number)))

/** The leftmost error, else blank, else what `compute` gives: a value or a status. */
function expectedRow(
  left: Operand,
  right: Operand,
  row: number,
  compute: (a: number, b: number) => number | { status: number },
): [status: number, value: number | null] {
  const [p, q] = [left.statuses[row] as number, right.statuses[row] as number]
  if (p > Status.blank) return [p, null]
  if (q > Status.blank) return [q, null]
  if (p === Status.blank || q === Status.blank) return [Status.blank, null]
  const result = compute(left.values[row] as number, right.values[row] as number)
  if (typeof result === 'object') return [result.status, null]
  return Number.isFinite(result) ? [Status.value, result + 0] : [OUT_OF_RANGE, null]
}

const references: Partial<Record<keyof typeof ARITHMETIC_KERNELS, (a: number, b: number) => number | { status: number }>> = {
  add: (a, b) => a + b,
  subtract: (a, b) => a - b,
  multiply: (a, b) => a * b,
  divide: (a, b) => (b === 0 ? { status: DIVISION_BY_ZERO } : a / b),
  per: (a, b) => (b === 0 ? { status: Status.blank } : a / b),
}

describe.each(Object.entries(references))('%s', (name, reference) => {
  test.each([
    ['any statuses', operand],
    ['values alone', allValues],
  ])('gives what the reference gives, with %s', (_, of) => {
    fc.assert(
      fc.property(of, of, selection, (left, right, chosen) => {
        const out = makeVector('number', ROWS) as NumberVector
        ARITHMETIC_KERNELS[name as 'add'](vectorOf(left), vectorOf(right), out, chosen)
        for (const row of rowsOf(chosen)) {
          const [wanted, known] = expectedRow(left, right, row, reference)
          expect(out.status[row]).toBe(wanted)
          if (known !== null) expect(Object.is(out.values[row], known)).toBe(true)
        }
        if (out.clean) for (const row of rowsOf(chosen)) expect(out.status[row]).toBe(Status.value)
      }),
    )
  })
})

const comparisons: Record<Comparison, (a: number, b: number) => boolean> = {
  equal: (a, b) => a === b,
  member: (a, b) => a === b,
  unequal: (a, b) => a !== b,
  less: (a, b) => a < b,
  'less-equal': (a, b) => a <= b,
  greater: (a, b) => a > b,
  'greater-equal': (a, b) => a >= b,
}

test.each(Object.entries(comparisons))('comparing: %s', (name, reference) => {
  fc.assert(
    fc.property(fc.oneof(operand, allValues), fc.oneof(operand, allValues), selection, (left, right, chosen) => {
      const out = makeVector('boolean', ROWS) as BooleanVector
      compareVectors(name as Comparison, vectorOf(left), vectorOf(right), out, chosen)
      for (const row of rowsOf(chosen)) {
        const isBlankMember = name === 'member' && left.statuses[row] === Status.value && right.statuses[row] === Status.blank
        const [wanted, known] = isBlankMember
          ? [Status.value, 0]
          : expectedRow(left, right, row, (a, b) => (reference(a, b) ? 1 : 0))
        expect(out.status[row]).toBe(wanted)
        if (known !== null) expect(out.values[row]).toBe(known)
      }
    }),
  )
})

test.each([
  ['and', 0],
  ['or', 1],
] as const)('logic: %s', (_, deciding) => {
  fc.assert(
    fc.property(operand, operand, selection, (left, right, chosen) => {
      const [a, b] = [booleansOf(left), booleansOf(right)]
      const out = makeVector('boolean', ROWS) as BooleanVector
      logicKernel(deciding, a, b, out, chosen)
      for (const row of rowsOf(chosen)) {
        const decided = [a, b].some((side) => side.status[row] === Status.value && side.values[row] === deciding)
        const [wanted] = decided ? [Status.value] : expectedRow(left, right, row, () => 0)
        expect(out.status[row]).toBe(wanted)
        if (wanted === Status.value) expect(out.values[row]).toBe(decided ? deciding : 1 - deciding)
      }
    }),
  )
})

test('not, is blank, is error', () => {
  fc.assert(
    fc.property(operand, selection, (of, chosen) => {
      const known = booleansOf(of)
      const [not, blank, error] = [0, 1, 2].map(() => makeVector('boolean', ROWS) as BooleanVector) as [
        BooleanVector,
        BooleanVector,
        BooleanVector,
      ]
      notKernel(known, not, chosen)
      isBlankKernel(known, blank, chosen)
      isErrorKernel(known, error, chosen)
      for (const row of rowsOf(chosen)) {
        const had = known.status[row] as number
        expect(not.status[row]).toBe(had)
        if (had === Status.value) expect(not.values[row]).toBe(1 - (known.values[row] as number))
        expect(blank.status[row]).toBe(had > Status.blank ? had : Status.value)
        if (had <= Status.blank) expect(blank.values[row]).toBe(had === Status.blank ? 1 : 0)
        expect([error.status[row], error.values[row]]).toEqual([Status.value, had > Status.blank ? 1 : 0])
      }
    }),
  )
})

test('copying and filling touch the selected rows alone', () => {
  fc.assert(
    fc.property(operand, operand, selection, (from, to, chosen) => {
      const copied = vectorOf(to)
      copySelected(vectorOf(from), copied, chosen)
      const filled = vectorOf(to)
      fillSelected(filled, 7, Status.value, chosen)
      const rows = new Set(rowsOf(chosen))
      for (let row = 0; row < ROWS; row++) {
        const source = rows.has(row) ? from : to
        expect([copied.status[row], copied.values[row]]).toEqual([source.statuses[row], source.values[row]])
        expect([filled.status[row], filled.values[row]]).toEqual(
          rows.has(row) ? [Status.value, 7] : [to.statuses[row], to.values[row]],
        )
      }
    }),
  )
})
