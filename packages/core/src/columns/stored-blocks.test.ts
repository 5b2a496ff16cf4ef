import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { CellFault } from '../values/index.js'
import type { Cell } from './cell.js'
import { Column } from './column.js'
import { BLOCK_ROWS, makeVector, type Vector } from './vectors.js'

/** How cells are kept must not show: narrow numbers and listed texts read as what was written, whatever is written next. */

function adopted(type: 'number' | 'text' | 'date', cells: readonly (number | string | null)[]): Column {
  const column = new Column(type)
  for (let first = 0; first < cells.length; first += BLOCK_ROWS) {
    const part = cells.slice(first, first + BLOCK_ROWS)
    const vector: Vector = makeVector(type === 'text' ? 'text' : 'number', part.length)
    for (const [row, cell] of part.entries()) {
      if (cell === null) continue
      vector.status[row] = 0
      vector.values[row] = cell as never
    }
    column.adopt(vector, part.length)
  }
  return column
}
const read = (column: Column, count: number): Cell[] => Array.from({ length: count }, (_, slot) => column.read(slot))

describe('bytes a cell', () => {
  const many = <Value>(make: (row: number) => Value): Value[] => Array.from({ length: 4 * BLOCK_ROWS }, (_, row) => make(row))
  test.each([
    ['numbers with a fraction', 'number', many((row) => row / 8 + 0.5), 9],
    ['whole numbers below 128', 'number', many((row) => row % 100), 2],
    ['whole numbers below 32768', 'number', many((row) => row), 3],
    ['days', 'date', many((row) => 20_000 + row * 10), 5],
    ['whole numbers of nine digits', 'number', many((row) => row * 100_000), 5],
    ['whole numbers of fifteen digits', 'number', many((row) => row * 1e11), 9],
    ['200 different texts', 'text', many((row) => `hive ${row % 200}`), 4],
    ['2000 different texts', 'text', many((row) => `hive ${row % 2000}`), 13],
  ] as const)('%s', (_, type, cells, most) => {
    const column = adopted(type, cells)
    expect(column.byteLength() / cells.length).toBeLessThanOrEqual(most)
    expect(read(column, cells.length)).toEqual(cells)
  })

  test('texts that do not repeat are kept as they are', () => {
    const cells = Array.from({ length: 8 * BLOCK_ROWS }, (_, row) => `note ${row} of many`)
    const column = adopted('text', cells)
    expect(read(column, cells.length)).toEqual(cells)
    expect(column.byteLength() / cells.length).toBeLessThan(60)
  })
})

describe('writes', () => {
  const numbers = fc.oneof(
    fc.constantFrom(0, 1, -1, 127, 128, -128, -129, 32_767, 32_768, 2 ** 31 - 1, 2 ** 31, -(2 ** 31), 0.5, 1e300),
    fc.constant(null),
  )
  const texts = fc.oneof(fc.constantFrom('', 'a', 'b', '12', '007'), fc.string(), fc.constant(null))
  test.each([
    ['number', numbers],
    ['text', texts],
  ] as const)('a column of type %s against a plain list', (type, cell) => {
    fc.assert(
      fc.property(
        fc.array(cell as fc.Arbitrary<number | string | null>, { minLength: 1, maxLength: 60 }),
        fc.array(fc.tuple(fc.nat(), cell as fc.Arbitrary<number | string | null>, fc.boolean()), { maxLength: 80, size: 'max' }),
        (start, writes) => {
          const column = adopted(type, start)
          const plain: Cell[] = [...start]
          for (const [at, value, fails] of writes) {
            const slot = at % plain.length
            const written = fails ? new CellFault('misfit', 'x') : value
            column.write(slot, written)
            plain[slot] = written
            expect(column.read(slot)).toEqual(written)
          }
          expect(read(column, plain.length)).toEqual(plain)
          const block = column.peek(0)
          for (const [row, one] of plain.entries())
            if (one !== null && !(one instanceof CellFault)) expect(block?.values[row]).toBe(one)
          const numeric = plain.filter(
            (one) => typeof one === 'string' && /^[+-]?(\d+|\d*\.\d+)(e[+-]?\d+)?$/i.test(one) && !/^[+-]?0\d/.test(one),
          )
          if (type === 'text') expect(column.numberTextCount).toBeGreaterThanOrEqual(numeric.length > 0 ? 1 : 0)
        },
      ),
      { numRuns: 300 },
    )
  })

  test('what was read of a block stays as it was when others are read', () => {
    const cells = Array.from({ length: 5 * BLOCK_ROWS }, (_, row) => `t${row % 50}`)
    const column = adopted('text', cells)
    const first = column.block(0, BLOCK_ROWS)
    for (let index = 1; index < 5; index++) column.block(index, BLOCK_ROWS)
    expect(first.values[3]).toBe('t3')
    column.write(3, 'other')
    expect(column.block(0, BLOCK_ROWS).values[3]).toBe('other')
  })

  test('an evaluation writes numbers that do not fit', () => {
    const column = adopted(
      'number',
      Array.from({ length: BLOCK_ROWS }, (_, row) => row % 5),
    )
    const result = makeVector('number', BLOCK_ROWS)
    result.status.fill(0)
    if (result.kind === 'number') result.values.fill(0.25)
    const changed = column.absorb(0, result, { rows: null, count: BLOCK_ROWS })
    expect(changed.count).toBe(BLOCK_ROWS)
    expect([column.read(0), column.read(BLOCK_ROWS - 1)]).toEqual([0.25, 0.25])
  })
})
