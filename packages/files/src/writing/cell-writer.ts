import { CellFault, type QueryColumn } from 'mellow-abacus'
import { BLOCK_MASK, BLOCK_SHIFT, faultOfStatus, printDate, printDateTime, Status, type Vector } from 'mellow-abacus/storage'
import type { BatchBytes } from './batch-bytes.js'

/** How a format says each kind of cell. Numbers and booleans are the same in all. */
export interface CellWording {
  readonly blank: string
  readonly text: (text: string) => string
  readonly date: (iso: string) => string
  readonly fault: (code: string) => string
}

/** Puts out the cell of one slot. */
export type CellWriter = (slot: number) => void

/** Most different days or times whose text is kept. */
const MOST_KEPT = 10_000

/**
 * A writer of one column's cells: numbers as the shortest text that reads back equal, dates in ISO 8601, a source misfit as
 * its own text.
 */
export function cellWriter(column: QueryColumn, wording: CellWording, out: BatchBytes): CellWriter {
  const { storage, type, calculated } = column
  if (storage === undefined) return () => out.text(wording.blank)
  const dateText = eachOnce((value) => wording.date(type === 'datetime' ? printDateTime(value) : printDate(value)))
  const isDate = type === 'date' || type === 'datetime'
  const other = (slot: number, status: number): void => {
    if (status === Status.blank) return out.text(wording.blank)
    const cell = storage.read(slot)
    const kept = !calculated && cell instanceof CellFault ? cell.text : undefined
    out.text(kept === undefined ? wording.fault(faultOfStatus(status)) : wording.text(kept))
  }
  // Rows mostly come block by block, so the block at hand is looked up once, not once a cell.
  let index = -1
  let block: Vector | undefined
  return (slot) => {
    if (slot >> BLOCK_SHIFT !== index) {
      index = slot >> BLOCK_SHIFT
      block = storage.peek(index)
    }
    const row = slot & BLOCK_MASK
    const status = block?.status[row] ?? Status.blank
    if (block === undefined || status !== Status.value) return other(slot, status)
    if (block.kind === 'number') {
      if (isDate) out.text(dateText(block.values[row] as number))
      else out.number(block.values[row] as number)
    } else if (block.kind === 'text') out.text(wording.text(block.values[row] as string))
    else out.text(block.values[row] === 1 ? 'true' : 'false')
  }
}

/** Prints each different value once, as long as there are not too many. */
function eachOnce(print: (value: number) => string): (value: number) => string {
  const known = new Map<number, string>()
  return (value) => {
    let text = known.get(value)
    if (text === undefined) {
      text = print(value)
      if (known.size < MOST_KEPT) known.set(value, text)
    }
    return text
  }
}
