import { Status } from '../../values/index.js'
import type { KernelCall } from '../define.js'
import { failRow, numbersOf, perRow, textResults } from '../kernel-rows.js'

/**
 * Runs a kernel that picks one of the pieces of a text by its number: from 1, negative from the end, blank if absent.
 *
 * @param place - index of the argument that holds the number; 0 is out-of-range
 */
export function pickPiece(call: KernelCall, place: number, piecesOf: (row: number) => readonly string[]): void {
  const places = numbersOf(call, place)
  const results = textResults(call)
  perRow(call, (row) => {
    const wanted = places[row] as number
    if (!Number.isInteger(wanted) || wanted === 0) {
      failRow(call, row, 'out-of-range')
      return
    }
    const piece = piecesOf(row).at(wanted > 0 ? wanted - 1 : wanted)
    if (piece === undefined) call.out.status[row] = Status.blank
    else results[row] = piece
  })
}
