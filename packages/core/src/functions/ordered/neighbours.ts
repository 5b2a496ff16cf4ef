import type { Cell } from '../../columns/index.js'
import { CellFault } from '../../values/index.js'
import { firstFault } from '../aggregate/first-fault.js'

/** How many rows an argument asks for: a whole number of at least `least`; else the cell that the row gets instead. */
export function rowsAsked(cell: Cell | undefined, least: number): number | Cell {
  if (cell === undefined || cell === null || cell instanceof CellFault) return cell ?? null
  return Number.isInteger(cell) && (cell as number) >= least ? (cell as number) : new CellFault('out-of-range')
}

/** The cell so many rows before each row, or after it for -1; blank outside. */
export function shifted({ args }: { args: readonly (readonly Cell[])[] }, direction: 1 | -1): Cell[] {
  const [cells = [], counts] = args
  return cells.map((_, row) => {
    const count = counts === undefined ? 1 : rowsAsked(counts[row], 0)
    return typeof count === 'number' ? (cells[row - direction * count] ?? null) : count
  })
}

/** Results that run on from row to row; from the first error on they are errors, of several the one named first. */
export function running(cells: readonly Cell[], step: (cell: Exclude<Cell, CellFault>) => Cell): Cell[] {
  let fault: CellFault | null = null
  return cells.map((cell) => {
    if (cell instanceof CellFault) {
      fault = firstFault(fault === null ? [cell] : [fault, cell])
      return fault
    }
    const result = step(cell)
    return fault ?? result
  })
}
