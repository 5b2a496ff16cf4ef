import fc from 'fast-check'
import { expect, test } from 'vitest'
import { BLOCK_ROWS, type Selection, selectRows, wholeBlock } from '../../columns/index.js'
import { WatchMarks } from './watch-marks.js'

const evaluation = fc.record({
  block: fc.nat(2),
  rows: fc.oneof(fc.constant(null), fc.uniqueArray(fc.nat(40), { maxLength: 12 })),
  marked: fc.array(fc.tuple(fc.nat(40), fc.nat(2)), { maxLength: 12 }),
})

test('counts and first rows are those of the marks that stand, whatever was evaluated in between', () => {
  fc.assert(
    fc.property(fc.array(evaluation, { maxLength: 12 }), (evaluations) => {
      const marks = new WatchMarks(3)
      const standing = new Set<string>()
      for (const { block, rows, marked } of evaluations) {
        const selection: Selection = rows === null ? wholeBlock(BLOCK_ROWS) : selectRows(Uint16Array.from(rows).sort())
        const isSelected = (row: number): boolean => rows === null || rows.includes(row)
        for (const key of standing) {
          const [of, row] = key.split(' ').map(Number) as [number, number, number]
          if (of === block && isSelected(row)) standing.delete(key)
        }
        const bytes = new Uint8Array(BLOCK_ROWS)
        for (const [row, watch] of marked) {
          if (!isSelected(row)) continue
          bytes[row] = (bytes[row] as number) | (1 << watch)
          standing.add(`${block} ${row} ${watch}`)
        }
        marks.replace(block, selection, bytes)
        for (const watch of [0, 1, 2]) {
          const slots = [...standing]
            .map((key) => key.split(' ').map(Number) as [number, number, number])
            .filter((one) => one[2] === watch)
          expect(marks.countOf(watch)).toBe(slots.length)
          expect(marks.firstSlot(watch)).toBe(
            slots.length === 0 ? null : Math.min(...slots.map(([of, row]) => of * BLOCK_ROWS + row)),
          )
        }
      }
    }),
  )
})
