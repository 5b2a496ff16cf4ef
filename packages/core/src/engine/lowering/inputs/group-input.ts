import { BLOCK_SHIFT, type Selection, type Vector } from '../../../columns/index.js'
import type { AggregateNode } from '../../aggregates/index.js'
import type { NestedGroups } from '../../groups/index.js'
import type { AccessPath, CrossRowInput } from '../../lowered-plans/index.js'
import type { NodeId, PropagationPass } from '../../propagation/index.js'
import { putCell } from '../../storage/index.js'

/** The result of an aggregate for groups, or over any rows: what is read for row n of a vector is that of group n. */
export class GroupInput implements CrossRowInput {
  readonly accessPath: AccessPath
  readonly sources: readonly NodeId[]
  /** What a result over any rows is made from: it may be another while that of every group stays. */
  readonly rowSources: readonly NodeId[]
  readonly #aggregate: AggregateNode
  /** Rows that the result is over, in place of those of a group. */
  rows: readonly number[] | null = null

  constructor(aggregate: AggregateNode, groups: NestedGroups) {
    this.#aggregate = aggregate
    this.accessPath = { kind: 'groups', readers: 'own', followsRows: aggregate.followsRows }
    this.sources = [aggregate.id, groups.id]
    this.rowSources = aggregate.sources
  }

  fill(block: number, out: Vector, { rows, count }: Selection): void {
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      if (this.rows === null) this.#aggregate.fill((block << BLOCK_SHIFT) + row, out, row)
      else putCell(out, row, this.#aggregate.resultOver(this.rows))
    }
  }

  touched(pass: PropagationPass): Iterable<number> | null {
    return this.#aggregate.changedIn(pass)
  }
}
