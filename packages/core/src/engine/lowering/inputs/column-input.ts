import { BLOCK_SHIFT, type Selection, type Vector } from '../../../columns/index.js'
import type { AccessPath, CrossRowInput } from '../../lowered-plans/index.js'
import type { NodeId, PropagationPass } from '../../propagation/index.js'
import type { RowsByBlock, TableStore } from '../../storage/index.js'
import { copyCell } from '../../storage/index.js'

const NO_ROWS: RowsByBlock = new Map()

/** A column that only the engine knows, of the same row: what an ordered function or a scan gives. */
export class ColumnInput implements CrossRowInput {
  readonly accessPath: AccessPath
  readonly #pairs: () => number
  readonly sources: readonly NodeId[]
  readonly #store: TableStore
  readonly #column: NodeId

  /**
   * @param accessPath - how what it reads was computed
   * @param pairs - pairs of rows that were tried for it
   */
  constructor(store: TableStore, column: NodeId, accessPath: AccessPath, pairs: () => number = () => 0) {
    this.accessPath = accessPath
    this.#pairs = pairs
    this.#store = store
    this.#column = column
    this.sources = [column]
  }

  get pairs(): number {
    return this.#pairs()
  }

  fill(block: number, out: Vector, { rows, count }: Selection): void {
    const storage = this.#store.column(this.#column)
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      copyCell(storage, (block << BLOCK_SHIFT) + row, out, row)
    }
  }

  touched(pass: PropagationPass): RowsByBlock {
    return pass.changedIn(this.#column) ?? NO_ROWS
  }
}
