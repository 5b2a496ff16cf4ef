import type { Selection, Vector } from '../../columns/index.js'
import { copyCell } from '../cells.js'
import type { Reading } from '../cross-row-input.js'
import type { NodeId } from '../node-id.js'
import type { Round } from '../round.js'
import type { TableStore } from '../table-store.js'
import type { Way } from '../way.js'

/** A named value or a tally: the only row of a table, the same for every row that reads it. */
export class SingleReading implements Reading {
  readonly way: Way = { kind: 'single' }
  readonly sources: readonly NodeId[]
  readonly #store: TableStore
  readonly #column: NodeId

  constructor(store: TableStore, column: NodeId) {
    this.#store = store
    this.#column = column
    this.sources = [column]
  }

  fill(_block: number, out: Vector, { rows, count }: Selection): void {
    const storage = this.#store.column(this.#column)
    for (let k = 0; k < count; k++) copyCell(storage, 0, out, rows === null ? k : (rows[k] as number))
  }

  touched(round: Round): Iterable<number> | null {
    return round.changedIn(this.#column) === undefined ? [] : null
  }
}
