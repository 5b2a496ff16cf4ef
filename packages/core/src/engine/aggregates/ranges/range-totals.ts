import type { Cell, Column } from '../../../columns/index.js'
import { CellFault, faultOfStatus, storageKindOf } from '../../../values/index.js'
import type { EngineNode, IndexMemory, NodeId, PropagationPass } from '../../propagation/index.js'
import type { TableStore } from '../../storage/index.js'
import { slotsOf } from '../../storage/index.js'
import { type AggregateCall, GroupSums, summedResult } from '../incremental/index.js'
import type { RangeIndex } from './range-index.js'
import { NO_FAULT, SegmentTree, type StretchNeed, type StretchTotal } from './segment-tree.js'
import type { SortedRows } from './sorted-rows.js'

/** A tree over the rows of a group, good as long as these stand where they stood. */
interface KeptTree {
  readonly tree: SegmentTree
  readonly rows: SortedRows
  readonly version: number
}

/** What an aggregate needs to know of a segment of rows; null for one whose result does not follow from that. */
export function needOf({ record, types, descending }: AggregateCall): StretchNeed | null {
  const [type, ...others] = types
  if (type === undefined || others.length > 0 || descending.length > 0) return null
  if (record.name === 'count') return 'count'
  if (record.name === 'sum' || record.name === 'mean') return 'sum'
  return (record.name === 'min' || record.name === 'max') && storageKindOf(type) === 'number' ? 'ends' : null
}

/** Totals of a value over rows between two bounds of a sorted key: a result takes as long as the logarithm of the rows. */
export class RangeTotals implements EngineNode {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly isDeferrable = false
  readonly #store: TableStore
  readonly #index: RangeIndex
  readonly #value: NodeId
  readonly #need: StretchNeed
  readonly #trees: Map<number, KeptTree> = new Map()
  #storage: Column | undefined
  #isStale = false

  /** @param value - a column of the rows read */
  constructor(id: NodeId, store: TableStore, index: RangeIndex, value: NodeId, need: StretchNeed) {
    this.id = id
    this.#store = store
    this.#index = index
    this.#value = value
    this.#need = need
    this.sources = [index.id, value]
  }

  get isStale(): boolean {
    return this.#isStale
  }

  memory(): IndexMemory {
    let bytes = 0
    for (const { tree } of this.#trees.values()) bytes += tree.byteLength
    return { kind: 'kept sums', store: this.#store, columns: [this.#value], bytes }
  }

  update(pass: PropagationPass): void {
    const storage = this.#store.column(this.#value)
    const isSame = storage === this.#storage && !pass.fresh.has(this.id)
    this.#storage = storage
    if (!isSame || pass.rowsOf(this.#store).everyRow) return this.#trees.clear()
    const slots = [...slotsOf(pass.changedIn(this.#value))]
    if (slots.length > MOST_REFRESHED) return this.#trees.clear()
    for (const slot of slots) this.#refresh(slot)
  }

  #refresh(slot: number): void {
    const at = this.#index.keyOf(slot)
    const kept = at === null ? undefined : this.#trees.get(at.group)
    if (at === null || kept === undefined || kept.rows.version !== kept.version) return
    const place = kept.rows.placeOf(slot, at.key)
    // A row that the filter leaves out is not there.
    if (kept.rows.slots(place, place + 1)[0] === slot) kept.tree.refresh(place)
  }

  postpone(): void {
    this.#isStale = true
    this.#trees.clear()
  }

  flush(): void {
    this.#isStale = false
    this.#storage = this.#store.column(this.#value)
    this.#trees.clear()
  }

  /** What an aggregate gives over the rows of a group from one place to another. */
  resultOf(call: AggregateCall, group: number, from: number, to: number): Cell {
    const total: StretchTotal = {
      sums: new GroupSums(1),
      fault: NO_FAULT,
      lowest: Number.POSITIVE_INFINITY,
      highest: Number.NEGATIVE_INFINITY,
    }
    this.#treeOf(group).take(from, to, total)
    if (total.fault !== NO_FAULT) return new CellFault(faultOfStatus(total.fault))
    if (this.#need !== 'ends') return summedResult(call, total.sums, 0)
    if (total.sums.countOf(0) === 0) return null
    return call.record.name === 'min' ? total.lowest : total.highest
  }

  #treeOf(group: number): SegmentTree {
    const rows = this.#index.rowsOf(group)
    const known = this.#trees.get(group)
    if (known?.rows === rows && known.version === rows.version) return known.tree
    const tree = new SegmentTree(rows.slots(0, rows.count), this.#store.column(this.#value), this.#need)
    this.#trees.set(group, { tree, rows, version: rows.version })
    return tree
  }
}

/** More rows changed at once than this have the trees made anew. */
const MOST_REFRESHED = 1024
