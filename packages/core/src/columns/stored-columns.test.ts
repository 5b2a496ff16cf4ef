import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { CellFault, type ValueType } from '../values/index.js'
import { CHUNK_BLOCKS, type StoredCells, type StoredChunk } from './block-list.js'
import type { Cell } from './cell.js'
import { Column } from './column.js'
import { columnOfCells } from './column-of-cells.js'
import { RowSet } from './row-set.js'
import { BLOCK_ROWS } from './vectors.js'

/** Columns and rows that come from a file. */

/** Keeps a column as a file would: chunks by number, and what goes with them. Notes which chunks are read. */
function storeOf(column: Column): StoredCells & { readonly read: number[]; take(): void } {
  const chunks = new Map<number, StoredChunk>()
  let texts: readonly string[] = []
  let misfits: [number, string][] = []
  const read: number[] = []
  const take = (): void => {
    for (const { index, chunk } of column.written.unsaved()) chunks.set(index, structuredClone(chunk))
    texts = [...column.written.side().texts()]
    misfits = [...column.written.side().misfits()] as [number, string][]
    column.written.markSaved()
  }
  take()
  return {
    chunk: (index) => {
      read.push(index)
      return structuredClone(chunks.get(index))
    },
    texts: () => texts,
    misfits: () => misfits,
    read,
    take,
  }
}

const CHUNK_ROWS = CHUNK_BLOCKS * BLOCK_ROWS
const cellsOf = (column: Column, count: number): unknown[] =>
  Array.from({ length: count }, (_, slot) => {
    const cell = column.read(slot)
    return cell instanceof CellFault ? `!${cell.code} ${cell.text ?? ''}` : cell
  })

const long = (cell: (row: number) => Cell): Cell[] => Array.from({ length: CHUNK_ROWS + BLOCK_ROWS + 10 }, (_, row) => cell(row))
const SAMPLES: [string, ValueType, Cell[]][] = [
  ['no rows', 'number', []],
  ['numbers with fractions', 'number', long((row) => (row % 9 === 0 ? null : row / 3))],
  ['whole numbers that grow wider', 'integer', long((row) => row)],
  ['days', 'date', long((row) => 20_000 + (row % 400))],
  ['texts that repeat', 'text', long((row) => `yard ${row % 70}`)],
  ['texts that do not', 'text', long((row) => `row ${row}`)],
  ['texts that repeat first and then do not', 'text', long((row) => (row < CHUNK_ROWS ? `yard ${row % 3}` : `row ${row}`))],
  ['truths', 'boolean', long((row) => (row % 3 === 0 ? null : row % 2 === 0))],
  [
    'misfits and errors',
    'number',
    long((row) =>
      row % 1000 === 0 ? new CellFault('misfit', `m${row}`) : row % 7 === 0 ? new CellFault('division-by-zero') : 1,
    ),
  ],
]

describe.each(SAMPLES)('a column of %s', (_, type, cells) => {
  test('comes back cell by cell', () => {
    const column = columnOfCells(type, cells.length, (row) => cells[row] ?? null)
    const stored = storeOf(column)
    const back = Column.stored(type, column.head(cells.length), stored)
    expect([back.valueCount, back.blankCount, back.faultCount(), back.numberTextCount]).toEqual([
      column.valueCount,
      column.blankCount,
      column.faultCount(),
      column.numberTextCount,
    ])
    expect(stored.read).toEqual([])
    expect(cellsOf(back, cells.length)).toEqual(cellsOf(column, cells.length))
    expect(new Set(stored.read).size).toBe(stored.read.length)
  })

  test('takes writes, and has only what they touch written again', () => {
    if (cells.length === 0) return
    const column = columnOfCells(type, cells.length, (row) => cells[row] ?? null)
    const stored = storeOf(column)
    const back = Column.stored(type, column.head(cells.length), stored)
    const other = cells.find((cell) => cell !== null && !(cell instanceof CellFault)) as Cell
    const slot = CHUNK_ROWS + 5
    for (const one of [column, back]) {
      one.write(slot, null)
      one.write(slot, other)
      one.write(slot + 1, new CellFault('misfit', 'new'))
    }
    expect(back.written.unsaved().map(({ index }) => index)).toEqual([1])
    expect(back.written.isSaved).toBe(true)
    expect(back.sampleMisfit() === undefined).toBe(false)
    expect(cellsOf(back, cells.length)).toEqual(cellsOf(column, cells.length))
    back.written.markSaved()
    expect(back.written.unsaved()).toEqual([])
  })

  test('goes on growing', () => {
    const column = columnOfCells(type, cells.length, (row) => cells[row] ?? null)
    const stored = storeOf(column)
    const back = Column.stored(type, column.head(cells.length), stored)
    for (const one of [column, back]) for (let slot = cells.length; slot < cells.length + 20; slot++) one.occupy(slot)
    expect(back.blankCount).toBe(column.blankCount)
    expect(cellsOf(back, cells.length + 20)).toEqual(cellsOf(column, cells.length + 20))
  })
})

test('a column that is new replaces what was written of another', () => {
  expect(new Column('number').written.isSaved).toBe(false)
  const column = columnOfCells('number', 2, (row) => row + 1)
  expect(column.written.all()).toHaveLength(1)
  expect(column.written.unsaved()).toHaveLength(1)
})

test('rows come back with their ids, their places and the ids that are next', () => {
  const step = fc.oneof(
    fc.record({ kind: fc.constant('insert' as const), at: fc.nat(30), count: fc.integer({ min: 1, max: 4 }) }),
    fc.record({ kind: fc.constant('remove' as const), at: fc.nat(30), count: fc.integer({ min: 1, max: 3 }) }),
    fc.record({ kind: fc.constant('move' as const), at: fc.nat(30), count: fc.integer({ min: 1, max: 3 }) }),
    fc.record({ kind: fc.constant('reopen' as const), at: fc.nat(30), count: fc.constant(0) }),
  )
  const act = (rows: RowSet, { kind, at, count }: { kind: string; at: number; count: number }): void => {
    const order = [...rows.inOrder()]
    const first = at % (order.length + 1)
    if (kind === 'insert')
      rows.insert(count, first === order.length ? undefined : Array.from({ length: count }, (_, index) => first + index))
    else if (kind === 'remove') rows.remove(order.slice(first, first + count))
    else if (kind === 'move') rows.move(order.slice(first, first + count))
  }
  const picture = (rows: RowSet): unknown => {
    const order = [...rows.inOrder()]
    return [
      order,
      order.map((slot) => rows.idOf(slot)),
      order.map((slot) => rows.placeOf(slot)),
      rows.nextId,
      rows.slotCount,
      rows.rowCount,
    ]
  }
  fc.assert(
    fc.property(fc.array(step, { maxLength: 40, size: 'max' }), (steps) => {
      const kept = new RowSet()
      let opened = new RowSet()
      for (const one of steps) {
        if (one.kind === 'reopen') {
          const snapshot = opened.snapshot()
          opened = new RowSet()
          opened.restore({ ...JSON.parse(JSON.stringify({ ...snapshot, order: null })), order: snapshot.order })
        } else for (const rows of [kept, opened]) act(rows, one)
        expect(picture(opened)).toEqual(picture(kept))
        for (const slot of kept.inOrder()) expect(opened.slotOf(kept.idOf(slot))).toBe(slot)
      }
    }),
    { numRuns: 150 },
  )
})
