import { CellFault, Status, statusOfFault, storageKindOf, type ValueType } from '../values/index.js'
import type { Cell } from './cell.js'
import { Column } from './column.js'
import { BLOCK_ROWS, makeVector } from './vectors.js'

/** A column of some cells from slot 0 on, which must be of its type; each is asked for once, in order. */
export function columnOfCells(type: ValueType, cellCount: number, cellAt: (row: number) => Cell): Column {
  const column = new Column(type)
  for (let first = 0; first < cellCount; first += BLOCK_ROWS) {
    const count = Math.min(BLOCK_ROWS, cellCount - first)
    const block = makeVector(storageKindOf(type), count)
    const misfits = new Map<number, string>()
    for (let row = 0; row < count; row++) {
      const cell = cellAt(first + row)
      if (cell === null) continue
      block.status[row] = cell instanceof CellFault ? statusOfFault(cell.code) : Status.value
      if (!(cell instanceof CellFault)) block.values[row] = (typeof cell === 'boolean' ? Number(cell) : cell) as never
      else if (cell.text !== undefined) misfits.set(first + row, cell.text)
    }
    column.adopt(block, count, misfits)
  }
  return column
}
