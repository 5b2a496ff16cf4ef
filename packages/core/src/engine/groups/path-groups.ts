import type { NodeId, PropagationPass } from '../propagation/index.js'
import type { TableStore } from '../storage/index.js'
import { slotsOf } from '../storage/index.js'
import { Groups } from './groups.js'
import type { LinkPath } from './link-path.js'

/** Rows grouped by the row that their links lead to: the group is that row's slot. */
export class PathGroups extends Groups {
  readonly id: NodeId
  readonly path: LinkPath
  readonly sources: readonly NodeId[]

  constructor(id: NodeId, store: TableStore, path: LinkPath) {
    super(store)
    this.id = id
    this.path = path
    this.sources = [...path.sources, store.rowsNode]
  }

  override get columns(): readonly NodeId[] {
    return []
  }

  protected find(slot: number): number {
    return this.path.follow(slot)
  }

  protected leave(): void {
    // Slots are given and taken by the table they belong to.
  }

  protected *touched(pass: PropagationPass): Iterable<number> {
    const { rows } = this.store
    const moved = this.path.touched(pass)
    if (moved !== null) yield* moved
    else for (let slot = 0; slot < rows.slotCount; slot++) yield slot
    yield* slotsOf(pass.rowsOf(this.store).inserted)
  }
}
