import type { Cell } from '../../columns/index.js'
import { CellFault, FAULT_CODES } from '../../values/index.js'

/** Of the errors among cells the one named first in FAULT_CODES; null when there is none. */
export function firstFault(cells: Iterable<Cell>): CellFault | null {
  let first: CellFault | null = null
  for (const cell of cells) {
    if (!(cell instanceof CellFault)) continue
    if (first === null || FAULT_CODES.indexOf(cell.code) < FAULT_CODES.indexOf(first.code)) first = new CellFault(cell.code)
  }
  return first
}
