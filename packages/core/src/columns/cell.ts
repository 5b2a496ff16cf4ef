import { CellFault, displayScalar, type FaultCode, type Scalar, type ValueType } from '../values/index.js'

/** A cell in storage: a number (days or milliseconds since 1970-01-01 for dates), text, truth value, blank, or an error. */
export type Cell = Scalar | null | CellFault

/**
 * A cell as operations and queries carry it: a number, text, boolean, null for blank, ISO 8601 text for dates and
 * date-times, the kept text of a misfit, or the error that a detached column was left with.
 */
export type CellValue = number | string | boolean | null | { readonly misfit: string } | { readonly error: FaultCode }

/** Writes a stored cell as operations carry it: the reverse of reading. */
export function writeCellValue(cell: Cell, type: ValueType): CellValue {
  if (cell === null) return null
  if (cell instanceof CellFault) return cell.text === undefined ? { error: cell.code } : { misfit: cell.text }
  return typeof cell === 'number' && (type === 'date' || type === 'datetime') ? displayScalar(cell, type) : cell
}
