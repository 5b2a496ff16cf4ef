import {
  BLOCK_MASK,
  BLOCK_ROWS,
  BLOCK_SHIFT,
  type Cell,
  rowsMarked,
  type Selection,
  type Vector,
} from '../../../columns/index.js'
import { type AggregateNode, lastTarget, linkFault, type NestedLoopScan } from '../../aggregates/index.js'
import { type Groups, isFaultyKey, type Members, type PathGroups, statusOfGroup } from '../../groups/index.js'
import type { AccessPath, CrossRowInput } from '../../lowered-plans/index.js'
import type { NodeId, PropagationPass } from '../../propagation/index.js'
import { putCell, type RowsByBlock, rowsByBlock, slotsOf, uniteRows } from '../../storage/index.js'

/** How a row finds its group among those of an aggregate. */
export type ReaderGroups =
  /** All rows of the table read are one group. */
  | { readonly kind: 'whole' }
  /** The group of the row itself: `by`. */
  | { readonly kind: 'own'; readonly groups: Groups }
  /** The rows whose links lead to this row. */
  | { readonly kind: 'linked'; readonly groups: PathGroups }
  /** The rows with equal keys. Their errors and blanks are looked at pair by pair. */
  | {
      readonly kind: 'keys'
      readonly members: Groups
      readonly readers: Groups
      readonly pairs: NestedLoopScan
      readonly filter: NodeId | null
    }

/** More readers than this are not listed one by one. */
const MOST_LISTED = 4096

/** The rows of some groups, marked by block. */
function rowsOfGroups(members: Members, groups: Iterable<number>): Map<number, Selection> {
  const marks = new Map<number, Uint8Array>()
  for (const group of groups)
    for (const slot of members.of(group)) {
      let block = marks.get(slot >> BLOCK_SHIFT)
      if (block === undefined) {
        block = new Uint8Array(BLOCK_ROWS)
        marks.set(slot >> BLOCK_SHIFT, block)
      }
      block[slot & BLOCK_MASK] = 1
    }
  return new Map([...marks].map(([block, flags]) => [block, rowsMarked(flags)]))
}

/** The result of an aggregate for the group that a row belongs to. */
export class AggregateInput implements CrossRowInput {
  readonly accessPath: AccessPath
  readonly sources: readonly NodeId[]
  readonly #aggregate: AggregateNode
  readonly #by: ReaderGroups
  /** Whether errors in keys or conditions mattered since the last time all rows were looked at. */
  #hadFaults = false

  constructor(aggregate: AggregateNode, by: ReaderGroups) {
    this.#aggregate = aggregate
    this.#by = by
    this.accessPath = { kind: 'groups', readers: by.kind, followsRows: aggregate.followsRows }
    const groups = by.kind === 'whole' ? [] : by.kind === 'keys' ? [by.readers.id, by.members.id] : [by.groups.id]
    this.sources = [aggregate.id, ...groups, ...(by.kind === 'keys' ? by.pairs.sources : [])]
  }

  fill(block: number, out: Vector, { rows, count }: Selection): void {
    const hasFaults = this.#hasFaults
    if (hasFaults) this.#hadFaults = true
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      this.#fillRow((block << BLOCK_SHIFT) + row, out, row, hasFaults)
    }
  }

  #fillRow(slot: number, out: Vector, row: number, hasFaults: boolean): void {
    const by = this.#by
    if (by.kind === 'whole') return this.#aggregate.fill(0, out, row)
    if (by.kind === 'linked') {
      const fault = linkFault(by.groups, slot)
      if (fault !== null) return putCell(out, row, fault)
      return this.#aggregate.fill(slot, out, row)
    }
    const groups = by.kind === 'own' ? by.groups : by.readers
    const group = groups.groupOf(slot)
    if (by.kind === 'own') {
      // A row whose own key is an error belongs to no group, and shows the error.
      if (group < 0) out.status[row] = statusOfGroup(group)
      else this.#aggregate.fill(group, out, row)
      return
    }
    if (hasFaults || isFaultyKey(group)) putCell(out, row, this.#pairwise(by, slot, group))
    else if (group >= 0) this.#aggregate.fill(group, out, row)
    else putCell(out, row, this.#aggregate.empty)
  }

  /** Looks at rows one by one, where a condition may be an error on rows of other groups, or for a row without a group. */
  #pairwise({ members, pairs }: ReaderGroups & { kind: 'keys' }, slot: number, group: number): Cell {
    const rows = group < 0 ? null : [...members.members.of(group), ...members.odd]
    return pairs.aggregate(this.#aggregate.parts, slot, rows)
  }

  /** True when some key or condition of the rows read is an error, which can reach other groups. */
  get #hasFaults(): boolean {
    const by = this.#by
    if (by.kind !== 'keys') return false
    const filterFaults = by.filter === null ? 0 : (by.members.store.column(by.filter)?.faultCount() ?? 0)
    return by.members.faults > 0 || filterFaults > 0
  }

  prime(): void {
    if (this.#hasFaults) this.#hadFaults = true
  }

  touched(pass: PropagationPass): Iterable<number> | RowsByBlock | null {
    const by = this.#by
    const changed = this.#aggregate.changedIn(pass)
    if (changed === null) return null
    if (by.kind === 'whole') return changed.size > 0 ? null : []
    // Errors of a filter that is yet to be computed can reach every row.
    if (by.kind === 'keys' && by.filter !== null && pass.staleIn(by.filter) !== undefined) return null
    const hasFaults = this.#hasFaults
    const hadFaults = this.#hadFaults
    this.#hadFaults = hasFaults
    if (hasFaults || hadFaults) return null
    const rows = new Set<number>()
    const readers = by.kind === 'keys' ? by.readers : by.groups
    if (readers.rebuiltIn(pass)) return null
    if (by.kind === 'linked') {
      for (const slot of changed) rows.add(slot)
      const target = lastTarget(by.groups)
      if (target.rebuiltIn(pass)) return null
      for (const { slot } of target.movesIn(pass)) rows.add(slot)
      for (const group of target.groupsMovedIn(pass)) for (const slot of target.members.of(group)) rows.add(slot)
      return rows
    }
    for (const { slot } of readers.movesIn(pass)) rows.add(slot)
    if (by.kind === 'keys' && readers.faults > 0) for (const slot of this.#failedReaders(by, pass)) rows.add(slot)
    let size = 0
    for (const group of changed) size += readers.members.sizeOf(group)
    if (size > MOST_LISTED) return uniteRows([rowsOfGroups(readers.members, changed), rowsByBlock(rows)])
    for (const group of changed) for (const slot of readers.members.of(group)) rows.add(slot)
    return rows
  }

  /** Rows with an error in their key that may have another result: what else is in the key, and all rows read, have a say. */
  *#failedReaders(by: ReaderGroups & { kind: 'keys' }, pass: PropagationPass): Generator<number> {
    const { readers } = by
    const isFailed = (slot: number): boolean => isFaultyKey(readers.groupOf(slot))
    if (this.#hasOtherRows(by, pass)) for (const slot of readers.odd) if (isFailed(slot)) yield slot
    for (const column of readers.columns) for (const slot of slotsOf(pass.changedIn(column))) if (isFailed(slot)) yield slot
  }

  /** True when anything about the rows read has changed, which a row with an error in its key sees all of. */
  #hasOtherRows({ members, pairs }: ReaderGroups & { kind: 'keys' }, pass: PropagationPass): boolean {
    const { everyRow, reordered, inserted, removed } = pass.rowsOf(members.store)
    return everyRow || reordered || inserted.size > 0 || removed.size > 0 || pairs.hasChangedIn(pass)
  }
}
