import type { Cell, Column } from '../../columns/index.js'
import { CellFault, Status } from '../../values/index.js'
import { cellOf, compareKeys } from '../cells.js'
import type { Groups } from '../groups/index.js'
import type { EngineNode, IndexMemory, NodeId } from '../node.js'
import { type Round, slotsOf } from '../round.js'
import type { TableStore } from '../table-store.js'

/** Comparisons of a key of the rows read with something of the row they are read for. */
export type RangeOperator = 'less' | 'less-equal' | 'greater' | 'greater-equal'

/** One end of a range. */
export interface RangeTest {
  readonly operator: RangeOperator
  /** Column of the row itself that the key is compared with. */
  readonly reader: NodeId
}

/** The rows of one group by their key. */
interface SortedRows {
  readonly keys: readonly Cell[]
  readonly slots: Int32Array
}

/**
 * Rows in the order of a key, group by group, so that those between two bounds are found by bisection. Only rows with a key
 * for which the filter holds are in it; a group is sorted when it is next asked for after something in it has changed.
 */
export class RangeIndex implements EngineNode {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly #store: TableStore
  readonly #groups: Groups | null
  readonly #key: NodeId
  readonly #filter: NodeId | null
  readonly #sorted: Map<number, SortedRows> = new Map()
  readonly canWait = false
  #isBehind = false
  #keyStorage: Column | undefined
  #round: Round | null = null
  #touched: readonly Cell[] | null | undefined = null

  constructor(id: NodeId, store: TableStore, groups: Groups | null, key: NodeId, filter: NodeId | null) {
    this.id = id
    this.#store = store
    this.#groups = groups
    this.#key = key
    this.#filter = filter
    this.sources = [key, ...(filter === null ? [] : [filter]), store.rowsNode, ...(groups === null ? [] : [groups.id])]
  }

  /** True when a key or a filter is an error on some row, which a condition may show for every row. */
  get hasFaults(): boolean {
    const columns = [this.#key, ...(this.#filter === null ? [] : [this.#filter])]
    return columns.some((id) => (this.#store.column(id)?.faultCount() ?? 0) > 0) || (this.#groups?.faults ?? 0) > 0
  }

  /**
   * Keys, old and new, of the rows that changed in this round; null when they are too many to tell, undefined when no row did.
   * A row without a key adds none, and still matters to readers whose bound is an error.
   */
  keysTouchedIn(round: Round): readonly Cell[] | null | undefined {
    return this.#round === round ? this.#touched : undefined
  }

  memory(): IndexMemory {
    let rows = 0
    for (const { slots } of this.#sorted.values()) rows += slots.length
    // A key and a slot a row.
    return { kind: 'sorted keys', store: this.#store, columns: [this.#key], bytes: rows * 12 }
  }

  get isBehind(): boolean {
    return this.#isBehind
  }

  postpone(round: Round): void {
    this.#round = round
    this.#touched = null
    this.#keyStorage = undefined
    this.#isBehind = true
    this.#sorted.clear()
  }

  settle(): void {
    this.#isBehind = false
    this.#sorted.clear()
  }

  update(round: Round): void {
    const { everyRow, inserted, removed } = round.rowsOf(this.#store)
    this.#noteKeys(round)
    const groups = this.#groups
    const changed = [this.#key, this.#filter].flatMap((id) => (id === null ? [] : [...slotsOf(round.changedIn(id))]))
    if (groups === null) {
      if (everyRow || inserted.size > 0 || removed.size > 0 || changed.length > 0) this.#sorted.clear()
      return
    }
    if (everyRow || groups.rebuiltIn(round)) return this.#sorted.clear()
    for (const group of groups.groupsMovedIn(round)) this.#sorted.delete(group)
    for (const slot of changed) this.#sorted.delete(groups.groupOf(slot))
    for (const slot of slotsOf(inserted)) this.#sorted.delete(groups.groupOf(slot))
  }

  #noteKeys(round: Round): void {
    const { everyRow, inserted, removed } = round.rowsOf(this.#store)
    const key = this.#store.column(this.#key)
    const isKnown =
      key !== undefined && key === this.#keyStorage && key.former().isKnown && !everyRow && !round.fresh.has(this.id)
    this.#keyStorage = key
    this.#round = round
    this.#touched = null
    if (key === undefined) return
    const former = key.former()
    round.clearAfterwards(key)
    const moved = this.#groups === null ? [] : this.#groups.movesIn(round).map(({ slot }) => slot)
    const slots = new Set([...slotsOf(inserted), ...removed, ...moved])
    for (const id of [this.#key, this.#filter]) if (id !== null) for (const slot of slotsOf(round.changedIn(id))) slots.add(slot)
    if (!isKnown || slots.size > MOST_KEYS || this.#groups?.rebuiltIn(round) === true) return
    if (slots.size === 0) {
      this.#touched = undefined
      return
    }
    const keys: Cell[] = []
    for (const slot of slots) {
      if (this.#store.rows.isLive(slot)) keys.push(cellOf(key, slot))
      if (former.statusOf(slot) === Status.value) keys.push(former.valueOf(slot) as Cell)
    }
    this.#touched = keys
  }

  /** The rows of a group whose key meets all tests against the bounds given, none of which may be blank or an error. */
  rowsWithin(group: number, tests: readonly { readonly operator: RangeOperator; readonly bound: Cell }[]): Int32Array {
    const { keys, slots } = this.#rowsOf(group)
    let [from, to] = [0, keys.length]
    for (const { operator, bound } of tests) {
      if (operator === 'greater' || operator === 'greater-equal')
        from = Math.max(from, firstAt(keys, bound, operator === 'greater'))
      else to = Math.min(to, firstAt(keys, bound, operator === 'less-equal'))
    }
    return slots.subarray(from, Math.max(from, to))
  }

  #rowsOf(group: number): SortedRows {
    const known = this.#sorted.get(group)
    if (known !== undefined) return known
    const [key, filter] = [this.#store.column(this.#key), this.#filter === null ? null : this.#store.column(this.#filter)]
    const rows: { slot: number; key: Cell }[] = []
    for (const slot of this.#groups === null ? this.#store.rows.inOrder() : this.#groups.members.of(group)) {
      const of = cellOf(key, slot)
      if (of === null || of instanceof CellFault || (filter !== null && cellOf(filter, slot) !== true)) continue
      rows.push({ slot, key: of })
    }
    rows.sort((a, b) => compareKeys([a.key], [b.key], []))
    const sorted = { keys: rows.map((row) => row.key), slots: Int32Array.from(rows, (row) => row.slot) }
    this.#sorted.set(group, sorted)
    return sorted
  }
}

/** Keys of more rows than this are not looked for one by one. */
const MOST_KEYS = 32

/** True when a key meets a test. */
export function meets(key: Cell, operator: RangeOperator, bound: Cell): boolean {
  const order = compareKeys([key], [bound], [])
  if (operator === 'less') return order < 0
  if (operator === 'less-equal') return order <= 0
  return operator === 'greater' ? order > 0 : order >= 0
}

/** The first place of sorted keys whose key is not below a bound; with `isAbove` the first whose key is above it. */
function firstAt(keys: readonly Cell[], bound: Cell, isAbove: boolean): number {
  let [low, high] = [0, keys.length]
  while (low < high) {
    const middle = (low + high) >> 1
    const order = compareKeys([keys[middle] as Cell], [bound], [])
    if (order < 0 || (isAbove && order === 0)) low = middle + 1
    else high = middle
  }
  return low
}
