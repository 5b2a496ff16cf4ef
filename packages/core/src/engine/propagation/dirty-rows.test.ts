import fc from 'fast-check'
import { expect, test } from 'vitest'
import { BLOCK_ROWS, type Selection, selectRows, wholeBlock } from '../../columns/index.js'
import { rowsByBlock, uniteSelections } from '../storage/index.js'

const rowsOf = ({ rows, count }: Selection): number[] =>
  Array.from({ length: count }, (_, k) => (rows === null ? k : (rows[k] as number)))

test('slots are sorted into blocks, ascending in each', () => {
  const slots = fc.uniqueArray(fc.nat(BLOCK_ROWS * 3 - 1), { maxLength: 60 })
  fc.assert(
    fc.property(slots, (list) => {
      const back = [...rowsByBlock(list)].flatMap(([block, selection]) => {
        const rows = rowsOf(selection)
        expect(rows).toEqual([...rows].sort((a, b) => a - b))
        return rows.map((row) => block * BLOCK_ROWS + row)
      })
      expect(back.sort((a, b) => a - b)).toEqual([...list].sort((a, b) => a - b))
    }),
  )
})

test('a union has the rows of all, ascending and once', () => {
  const selection = fc.oneof(
    fc.nat(40).map(wholeBlock),
    fc.uniqueArray(fc.nat(60), { maxLength: 20 }).map((rows) => selectRows(Uint16Array.from(rows).sort())),
  )
  fc.assert(
    fc.property(fc.array(selection, { maxLength: 4 }), (selections) => {
      const expected = [...new Set(selections.flatMap(rowsOf))].sort((a, b) => a - b)
      expect(rowsOf(uniteSelections(selections))).toEqual(expected)
    }),
  )
})
