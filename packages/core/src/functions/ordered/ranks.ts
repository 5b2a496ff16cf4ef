import type { Cell } from '../../columns/index.js'

/** Places of cells that are in order already, blanks last; equal ones share theirs. A dense place counts different values. */
export function ranksOf(cells: readonly Cell[], isDense: boolean): Cell[] {
  let place = 0
  let different = 0
  return cells.map((cell, row) => {
    if (cell === null) return null
    if (row === 0 || cell !== cells[row - 1]) {
      place = row + 1
      different++
    }
    return isDense ? different : place
  })
}
