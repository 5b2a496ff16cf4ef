import { BLOCK_SHIFT, type Selection, type Vector } from '../../../columns/index.js'
import { type LinkPath, statusOfGroup } from '../../groups/index.js'
import type { AccessPath, CrossRowInput } from '../../lowered-plans/index.js'
import type { NodeId, PropagationPass } from '../../propagation/index.js'
import type { TableStore } from '../../storage/index.js'
import { copyCell, slotsOf } from '../../storage/index.js'

/** `hive.apiary.region`: a column of the row that links lead to. */
export class FollowInput implements CrossRowInput {
  readonly accessPath: AccessPath = { kind: 'link' }
  readonly sources: readonly NodeId[]
  readonly #path: LinkPath
  readonly #target: TableStore
  readonly #column: NodeId

  constructor(path: LinkPath, target: TableStore, column: NodeId) {
    this.#path = path
    this.#target = target
    this.#column = column
    this.sources = [...path.sources, column]
  }

  fill(block: number, out: Vector, { rows, count }: Selection): void {
    const storage = this.#target.column(this.#column)
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      const slot = this.#path.follow((block << BLOCK_SHIFT) + row)
      if (slot >= 0) copyCell(storage, slot, out, row)
      else out.status[row] = statusOfGroup(slot)
    }
  }

  touched(pass: PropagationPass): Iterable<number> | null {
    const rows = this.#path.touched(pass)
    const changed = pass.changedIn(this.#column)
    if (rows === null || changed === undefined) return rows
    for (const slot of this.#path.leadingTo(slotsOf(changed))) rows.add(slot)
    return rows
  }
}
