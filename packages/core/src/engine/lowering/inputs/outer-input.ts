import type { Selection, Vector } from '../../../columns/index.js'
import { Status } from '../../../values/index.js'
import type { AccessPath, OuterRowInput } from '../../lowered-plans/index.js'
import type { NodeId } from '../../propagation/index.js'
import type { TableStore } from '../../storage/index.js'
import { copyCell } from '../../storage/index.js'

/** `this.x`: a column of the row that other rows are read for, the same for each of them. */
export class OuterInput implements OuterRowInput {
  readonly accessPath: AccessPath = { kind: 'this-row' }
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
    const storage = this.#store.column(this.#column)
    if (rows === null && out.kind !== 'text') {
      const status = storage?.statusAt(this.slot) ?? Status.blank
      out.status.fill(status, 0, count)
      if (status === Status.value) out.values.fill(storage?.valueAt(this.slot) as number, 0, count)
      return
    }
    for (let k = 0; k < count; k++) copyCell(storage, this.slot, out, rows === null ? k : (rows[k] as number))
  }

  /** What reads it looks at the column itself: only it knows which rows are read for which. */
  touched(): Iterable<number> {
    return []
  }
}
