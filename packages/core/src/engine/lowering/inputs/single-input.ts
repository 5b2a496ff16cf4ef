import type { Selection, Vector } from '../../../columns/index.js'
import type { AccessPath, CrossRowInput } from '../../lowered-plans/index.js'
import type { NodeId, PropagationPass } from '../../propagation/index.js'
import type { TableStore } from '../../storage/index.js'
import { copyCell } from '../../storage/index.js'

/** A named value or a tally: the only row of a table, the same for every row that reads it. */
export class SingleInput implements CrossRowInput {
  readonly accessPath: AccessPath = { kind: 'single' }
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

  touched(pass: PropagationPass): Iterable<number> | null {
    return pass.changedIn(this.#column) === undefined ? [] : null
  }
}
