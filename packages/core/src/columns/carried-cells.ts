import { CellFault, displayScalar, type FaultCode } from '../values/index.js'
import type { Column } from './column.js'

/** A cell as operations carry it: JSON. */
export type CarriedCell = number | string | boolean | null | { readonly misfit: string } | { readonly error: FaultCode }

/** The first cells of a column as operations carry them. */
export function carriedCells(column: Column, count: number): CarriedCell[] {
  const isDated = column.type === 'date' || column.type === 'datetime'
  return Array.from({ length: count }, (_, slot) => {
    const cell = column.read(slot)
    if (cell === null || typeof cell === 'string' || typeof cell === 'boolean') return cell
    if (cell instanceof CellFault) return cell.text === undefined ? { error: cell.code } : { misfit: cell.text }
    return isDated ? displayScalar(cell, column.type) : cell
  })
}
