import type { Cell } from '../../columns/index.js'
import { CellFault, ExactSum } from '../../values/index.js'
import { firstFault } from '../aggregate/first-fault.js'
import { rowsAsked } from './neighbours.js'

/**
 * Results over this row and those before it, so many rows together. The exact sum slides along: taking a value away again is
 * exact, so no row depends on those that have left the window.
 */
export function overWindow(args: readonly (readonly Cell[])[], compute: (sum: ExactSum, count: number) => Cell): Cell[] {
  const [cells = [], widths = []] = args
  const sum = new ExactSum()
  let [first, end, values, faults] = [0, 0, 0, 0]
  const move = (row: number, by: 1 | -1): void => {
    const cell = cells[row]
    if (cell instanceof CellFault) faults += by
    if (typeof cell !== 'number') return
    values += by
    sum.add(by * cell)
  }
  return cells.map((_, row) => {
    const width = rowsAsked(widths[row], 1)
    while (end <= row) move(end++, 1)
    if (typeof width !== 'number') return width
    const from = Math.max(0, row - width + 1)
    while (first < from) move(first++, -1)
    while (first > from) move(--first, 1)
    if (faults > 0) return firstFault(cells.slice(from, row + 1))
    return values === 0 ? null : compute(sum, values)
  })
}
