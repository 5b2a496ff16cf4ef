import type { Cell } from '../../columns/index.js'
import { CellFault, faultOfStatus } from '../../values/index.js'
import { writeChanged } from '../changed-cells.js'
import type { Groups, PathGroups } from '../groups/index.js'
import type { EngineNode, NodeId } from '../node.js'
import { type Round, slotsOf } from '../round.js'
import type { TableStore } from '../table-store.js'
import type { PairScan } from './pairs.js'
import type { AggregateCall } from './taken-rows.js'

/** Which rows are looked at for a row: all, those with equal keys, those its links lead from, or all below it. */
export type Candidates =
  | { readonly kind: 'all' }
  | { readonly kind: 'keys'; readonly members: Groups; readonly readers: Groups }
  /** Those with the same keys of `by`. */
  | { readonly kind: 'own'; readonly groups: Groups }
  | { readonly kind: 'linked'; readonly groups: PathGroups }
  | { readonly kind: 'below'; readonly groups: PathGroups }

/** An aggregate whose condition or values depend on both rows at once: for each row, rows are looked at one after the other. */
export class ScanNode implements EngineNode {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly #store: TableStore
  readonly #read: TableStore
  readonly #call: AggregateCall
  readonly #scan: PairScan
  readonly #candidates: Candidates
  readonly #outer: readonly NodeId[]
  readonly #end: () => void

  /** @param outer - the columns of the row itself that the scan goes by */
  constructor(
    id: NodeId,
    store: TableStore,
    read: TableStore,
    call: AggregateCall,
    scan: PairScan,
    candidates: Candidates,
    outer: readonly NodeId[],
    end: () => void,
  ) {
    this.id = id
    this.#store = store
    this.#read = read
    this.#call = call
    this.#scan = scan
    this.#candidates = candidates
    this.#outer = outer
    this.#end = end
    const groups =
      candidates.kind === 'all'
        ? []
        : candidates.kind === 'keys'
          ? [candidates.members.id, candidates.readers.id]
          : [candidates.groups.id]
    this.sources = [store.rowsNode, read.rowsNode, ...scan.sources, ...outer, ...groups]
  }

  end(): void {
    this.#end()
  }

  update(round: Round): void {
    const { everyRow, inserted } = round.rowsOf(this.#store)
    const slots = new Set<number>()
    if (round.fresh.has(this.id) || everyRow || this.#hasOtherRows(round))
      for (const slot of this.#store.rows.inOrder()) slots.add(slot)
    else {
      for (const slot of slotsOf(inserted)) slots.add(slot)
      for (const column of this.#outer) for (const slot of slotsOf(round.changedIn(column))) slots.add(slot)
    }
    writeChanged(this.#store, this.id, slots, (slot) => this.#resultFor(slot), round)
  }

  /** True when anything about the rows looked at has changed, so that every row may have another result. */
  #hasOtherRows(round: Round): boolean {
    const { everyRow, inserted, removed } = round.rowsOf(this.#read)
    if (everyRow || inserted.size > 0 || removed.size > 0) return true
    if (this.#scan.hasChangedIn(round)) return true
    return this.#groups().some((one) => one.rebuiltIn(round) || one.movesIn(round).length > 0)
  }

  #groups(): readonly Groups[] {
    const candidates = this.#candidates
    if (candidates.kind === 'all') return []
    if (candidates.kind === 'keys') return [candidates.members, candidates.readers]
    // Rows that share a key with a new one are led to no longer for certain.
    return candidates.kind === 'own' ? [candidates.groups] : [candidates.groups, lastTarget(candidates.groups)]
  }

  #resultFor(slot: number): Cell {
    const candidates = this.#candidates
    switch (candidates.kind) {
      case 'all':
        return this.#scan.aggregate(this.#call, slot, null)
      case 'keys': {
        const { members, readers } = candidates
        const group = readers.groupOf(slot)
        // A blank or an error in a key can make the condition an error, so those rows are looked at too.
        const rows =
          group < 0 ? null : members.odd.size === 0 ? members.members.of(group) : [...members.members.of(group), ...members.odd]
        return this.#scan.aggregate(this.#call, slot, rows)
      }
      case 'own': {
        const group = candidates.groups.groupOf(slot)
        if (group < 0) return new CellFault(faultOfStatus(-group))
        return this.#scan.aggregate(this.#call, slot, candidates.groups.members.of(group))
      }
      case 'linked':
        return linkFault(candidates.groups, slot) ?? this.#scan.aggregate(this.#call, slot, candidates.groups.members.of(slot))
      case 'below': {
        const below = rowsBelow(candidates.groups, slot)
        if (below === null) return new CellFault('loop')
        return linkFault(candidates.groups, slot) ?? this.#scan.aggregate(this.#call, slot, below)
      }
    }
  }
}

/** The error of a row that other rows cannot lead to for certain, since it shares its key with another one. */
export function linkFault(groups: PathGroups, slot: number): CellFault | null {
  const target = lastTarget(groups)
  const group = target.groupOf(slot)
  return group >= 0 && target.members.sizeOf(group) > 1 ? new CellFault('many-matches') : null
}

/** The groups of the table that a path ends in. */
export function lastTarget({ path }: PathGroups): Groups {
  return (path.hops.at(-1) as (typeof path.hops)[number]).target
}

/** All rows that lead to a row over one link or several times over it; null when the row is one of them itself. */
export function rowsBelow({ members }: PathGroups, slot: number): Set<number> | null {
  const found = new Set<number>()
  const open = [slot]
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    for (const child of members.of(at)) {
      if (child === slot) return null
      if (found.has(child)) continue
      found.add(child)
      open.push(child)
    }
  }
  return found
}
