import type { Cell } from '../../columns/index.js'
import { CellFault } from '../../values/index.js'
import { firstFault } from './first-fault.js'

/** `or` (deciding value true) or `and` (false) over the values that are not blank: the deciding one wins over errors. */
export function decideBy(cells: readonly Cell[], deciding: boolean): Cell {
  if (cells.includes(deciding)) return deciding
  return firstFault(cells) ?? (cells.some((cell) => cell !== null && !(cell instanceof CellFault)) ? !deciding : null)
}
