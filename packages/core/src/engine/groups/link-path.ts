import { statusOfFault } from '../../values/index.js'
import type { NodeId, PropagationPass } from '../propagation/index.js'
import { BLANK_KEY, groupOfStatus } from './group-number.js'
import type { Groups } from './groups.js'

/** A link: the rows of one table and those of another it leads to, grouped by the same keys. */
export interface LinkHop {
  readonly source: Groups
  readonly target: Groups
}

const MANY_MATCHES: number = groupOfStatus(statusOfFault('many-matches'))

/** Links followed one after the other, from a row to at most one row of the last table. */
export class LinkPath {
  readonly hops: readonly LinkHop[]
  /** The groups it goes by. */
  readonly sources: readonly NodeId[]

  constructor(hops: readonly LinkHop[]) {
    this.hops = hops
    this.sources = hops.flatMap(({ source, target }) => [source.id, target.id])
  }

  /** The slot that a row leads to; where it leads to none, what stands in place of a group (group-number.ts). */
  follow(slot: number): number {
    let at = slot
    for (const { source, target } of this.hops) {
      const group = source.groupOf(at)
      if (group < 0) return group
      const size = target.members.sizeOf(group)
      if (size !== 1) return size === 0 ? BLANK_KEY : MANY_MATCHES
      at = target.members.firstOf(group)
    }
    return at
  }

  /** The rows that lead to a row of the last table over the hops up to one. */
  *leadingTo(slots: Iterable<number>, hops: number = this.hops.length): IterableIterator<number> {
    let reached = new Set(slots)
    for (let index = hops - 1; index >= 0; index--) {
      const { source, target } = this.hops[index] as LinkHop
      const before = new Set<number>()
      for (const slot of reached) {
        const group = target.groupOf(slot)
        if (group >= 0) for (const member of source.members.of(group)) before.add(member)
      }
      reached = before
    }
    yield* reached
  }

  /** The rows that may lead elsewhere after this pass; null when all may. */
  touched(pass: PropagationPass): Set<number> | null {
    const rows = new Set<number>()
    for (const [index, { source, target }] of this.hops.entries()) {
      if (source.rebuiltIn(pass) || target.rebuiltIn(pass)) return null
      const moved = new Set<number>()
      for (const { slot } of source.movesIn(pass)) moved.add(slot)
      for (const group of target.groupsMovedIn(pass)) for (const slot of source.members.of(group)) moved.add(slot)
      for (const slot of index === 0 ? moved : this.leadingTo(moved, index)) rows.add(slot)
    }
    return rows
  }
}
