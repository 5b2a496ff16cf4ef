import type { Column } from '../../columns/index.js'
import { CellFault, displayScalar } from '../../values/index.js'

/** A cell as text for messages; empty for a blank. */
export function cellText(column: Column | undefined, slot: number): string {
  const cell = column?.read(slot) ?? null
  if (column === undefined || cell === null) return ''
  return cell instanceof CellFault ? String(cell) : displayScalar(cell, column.type)
}
