import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { ValueType } from '../values/index.js'
import { CellFault } from '../values/index.js'
import type { Cell } from './cell.js'
import type { Column } from './column.js'
import { columnOfCells } from './column-of-cells.js'
import { BLOCK_ROWS, makeVector } from './vectors.js'

/** A fork has the cells of its column at the time, whatever happens to either of them later. */

const ROWS = BLOCK_ROWS + 40
const cellsOf = (column: Column): Cell[] => Array.from({ length: ROWS }, (_, slot) => column.read(slot))

const CELLS: Record<string, { type: ValueType; cell: (n: number) => Cell }> = {
  'small whole numbers': { type: 'number', cell: (n) => n % 100 },
  fractions: { type: 'number', cell: (n) => n / 7 },
  'numbers that widen a block': { type: 'number', cell: (n) => (n > 900 ? n * 1000.5 : n % 7) },
  'texts that repeat': { type: 'text', cell: (n) => `yard ${n % 50}` },
  'texts of their own': { type: 'text', cell: (n) => `row ${n}` },
  truths: { type: 'boolean', cell: (n) => n % 2 === 0 },
  misfits: { type: 'date', cell: (n) => (n % 3 === 0 ? new CellFault('misfit', `about ${n}`) : n % 5 === 0 ? null : n) },
}

const edit = fc.record({ fork: fc.nat(2), slot: fc.nat(ROWS - 1), cell: fc.nat(1000), isBlank: fc.boolean() })

describe('a fork', () => {
  test.each(Object.entries(CELLS))('of %s keeps its cells, and so does its column', (_, { type, cell }) => {
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 30 }), fc.nat(20), (edits, forkAgainAt) => {
        const column = columnOfCells(type, ROWS, (row) => cell(row % 900))
        const columns = [column, column.fork(), column.fork()]
        const expected = columns.map(cellsOf)
        for (const [index, { fork, slot, cell: n, isBlank }] of edits.entries()) {
          if (index === forkAgainAt) {
            columns.push((columns[fork] as Column).fork())
            expected.push([...(expected[fork] as Cell[])])
          }
          const value = isBlank ? null : cell(n)
          columns[fork]?.write(slot, value)
          ;(expected[fork] as Cell[])[slot] = value
        }
        for (const [index, one] of columns.entries()) {
          expect(cellsOf(one)).toEqual(expected[index])
          expect(one.blankCount).toBe(expected[index]?.filter((value) => value === null).length)
        }
      }),
      { numRuns: 12 },
    )
  })

  test('does not see what its column takes from an evaluation, nor rows that begin later', () => {
    const column = columnOfCells('number', ROWS, (row) => row % 10)
    const fork = column.fork()
    const before = cellsOf(column)
    const result = makeVector('number', BLOCK_ROWS)
    result.status.fill(0)
    column.absorb(0, result, { rows: null, count: BLOCK_ROWS })
    column.occupy(ROWS)
    column.write(ROWS, 3)
    expect(cellsOf(fork)).toEqual(before)
    expect(fork.valueCount).toBe(ROWS)
    expect(column.read(5)).toBe(0)
    expect([column.read(ROWS), fork.read(ROWS)]).toEqual([3, null])
  })
})
