import { BLOCK_ROWS, BLOCK_SHIFT, type EncodedTexts, type Selection, type Vector } from '../../columns/index.js'
import type { ColumnId, FrameSource } from '../../formula/index.js'
import type { Surroundings } from '../../values/index.js'
import type { TableStore } from '../storage/index.js'
import type { PlanSupply } from './cross-row-input.js'

/** Rows for each different text of a column from which it is worth computing something once a text. */
const WORTHWHILE_ROWS = 2

/** Shows a plan one block of a table after the other. */
export class BlockSource implements FrameSource {
  readonly surroundings: Surroundings
  readonly #store: TableStore
  readonly #supply: PlanSupply
  block = 0
  target = 0
  /** How many rows are to be computed in all. */
  rowsAhead = 0

  constructor(store: TableStore, surroundings: Surroundings, supply: PlanSupply) {
    this.#store = store
    this.surroundings = surroundings
    this.#supply = supply
  }

  fill(read: number, out: Vector, selection: Selection): void {
    this.#supply.inputs[read]?.fill(this.block, out, selection)
  }

  holidays(list: number): Int32Array {
    return this.#supply.lists[list]?.days ?? new Int32Array(0)
  }

  column(id: ColumnId): Vector {
    const column = this.#store.column(id)
    if (column === undefined) throw new ReferenceError(`column ${id} has no storage`)
    return column.block(this.block, this.#rowCount)
  }

  encoded(id: ColumnId): EncodedTexts | null {
    const column = this.#store.column(id)
    if (column === undefined || column.dictionarySize * WORTHWHILE_ROWS > this.rowsAhead) return null
    return column.encodedBlock(this.block, this.#rowCount)
  }

  rowIdOf(row: number): number {
    return this.#store.rows.idOf((this.block << BLOCK_SHIFT) + row)
  }

  statusOf(id: ColumnId): Uint8Array | null {
    return this.#store.column(id)?.block(this.block, this.#rowCount).status ?? null
  }

  /** Rows of the block at hand, those that are gone included. */
  get #rowCount(): number {
    return Math.min(BLOCK_ROWS, this.#store.rows.slotCount - (this.block << BLOCK_SHIFT))
  }
}
