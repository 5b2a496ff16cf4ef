import type { Cell } from '../columns/index.js'
import { CellFault } from '../values/index.js'
import { cellOf, sameCell } from './cells.js'
import { rowsByBlock } from './dirty-rows.js'
import type { NodeId } from './node.js'
import type { Round } from './round.js'
import type { TableStore } from './table-store.js'

/** Writes what is computed for some rows into a column, where it differs from what was there, and notes that in the round. */
export function writeChanged(
  store: TableStore,
  column: NodeId,
  slots: Iterable<number>,
  compute: (slot: number) => Cell,
  round: Round,
): void {
  const storage = store.column(column)
  const changed: number[] = []
  for (const slot of slots) {
    if (!store.rows.isLive(slot)) continue
    const cell = compute(slot)
    if (sameCell(cellOf(storage, slot), cell)) continue
    storage?.write(slot, cell instanceof CellFault ? new CellFault(cell.code) : cell)
    changed.push(slot)
  }
  round.noteChanged(column, rowsByBlock(changed))
}
