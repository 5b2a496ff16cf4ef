import { BLOCK_MASK, BLOCK_SHIFT, type Selection, type Vector } from '../../columns/index.js'
import { Status } from '../../values/index.js'
import type { NodeId } from '../node.js'
import type { TableStore } from '../table-store.js'
import type { Way } from '../way.js'
import { copyCell, type Reading } from './reading.js'

/** `this.x`: a column of the row that other rows are read for, the same for each of them. */
export class OuterReading implements Reading {
  readonly way: Way = { kind: 'this-row' }
  readonly sources: readonly NodeId[]
  readonly #store: TableStore
  readonly #column: NodeId
  /** The row for which rows are read at the moment. */
  slot = 0

  constructor(store: TableStore, column: NodeId) {
    this.#store = store
    this.#column = column
    this.sources = [column]
  }

  fill(_block: number, out: Vector, { rows, count }: Selection): void {
    const block = this.#store.column(this.#column)?.peek(this.slot >> BLOCK_SHIFT)
    const at = this.slot & BLOCK_MASK
    const status = block?.status[at] ?? Status.blank
    if (rows === null && out.kind !== 'text' && block?.kind !== 'text') {
      out.status.fill(status, 0, count)
      if (block !== undefined) out.values.fill(block.values[at] as number, 0, count)
      return
    }
    for (let k = 0; k < count; k++) copyCell(block, at, out, rows === null ? k : (rows[k] as number))
  }

  /** What reads it looks at the column itself: only it knows which rows are read for which. */
  touched(): Iterable<number> {
    return []
  }
}
