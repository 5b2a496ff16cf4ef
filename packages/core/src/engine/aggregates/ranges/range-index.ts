import type { Cell, Column } from '../../../columns/index.js'
import { CellFault, Status } from '../../../values/index.js'
import type { Groups } from '../../groups/index.js'
import type { EngineNode, IndexMemory, NodeId, PropagationPass } from '../../propagation/index.js'
import type { TableStore } from '../../storage/index.js'
import { cellOf, slotsOf } from '../../storage/index.js'
import { type RangeOperator, SortedRows } from './sorted-rows.js'

/** One end of a range. */
export interface RangeTest {
  readonly operator: RangeOperator
  /** Column of the row itself that the key is compared with. */
  readonly reader: NodeId
}

/** A key that a row has or had, with its group; all rows are one group, 0, where there are none. */
export interface KeyInGroup {
  readonly group: number
  readonly key: Cell
}

/** A row that has changed: its key before and now, each null for a blank or an error, undefined where there was, or is, no row. */
interface TouchedRow {
  readonly slot: number
  readonly before: Cell | undefined
  readonly now: Cell | undefined
}

/**
 * Rows in the order of a key, group by group, so that those between two bounds are found by bisection. Only rows with a key
 * for which the filter holds are in it. Where there are no groups, a row that changes is put in its new place; a group is
 * sorted when it is next asked for after something in it has changed.
 */
export class RangeIndex implements EngineNode {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly #store: TableStore
  readonly #groups: Groups | null
  readonly #key: NodeId
  readonly #filter: NodeId | null
  readonly #sorted: Map<number, SortedRows> = new Map()
  readonly isDeferrable = false
  #isStale = false
  #keyStorage: Column | undefined
  #pass: PropagationPass | null = null
  #touched: readonly KeyInGroup[] | null | undefined = null
  #hasTouchedOdd = false
  /** Rows left out that no bound keeps out, by group; as they were asked for since something last changed. */
  readonly #odd: Map<number, readonly number[]> = new Map()

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
   * Keys, old and new, of the rows that changed in this pass; null when they are too many to tell, undefined when no row did.
   * A row without a key adds none, and still matters to readers whose bound is an error.
   */
  keysTouchedIn(pass: PropagationPass): readonly KeyInGroup[] | null | undefined {
    return this.#pass === pass ? this.#touched : undefined
  }

  /** True when a row that changed in this pass is or was one of those that the index leaves out though no bound keeps them out. */
  oddTouchedIn(pass: PropagationPass): boolean {
    return this.#pass === pass && this.#hasTouchedOdd
  }

  /**
   * Rows of a group whose key or filter is blank. A condition that goes by the index alone drops them; one that asks more can
   * still be an error there, which a blank does not outweigh.
   */
  oddRowsOf(group: number): readonly number[] {
    const columns = [this.#key, this.#filter].flatMap((id) => (id === null ? [] : [this.#store.column(id)]))
    if (columns.every((column) => column?.blankCount === 0)) return []
    const known = this.#odd.get(group)
    if (known !== undefined) return known
    const members = this.#groups === null ? this.#store.rows.inOrder() : this.#groups.members.of(group)
    const rows = [...members].filter((slot) => columns.some((column) => cellOf(column, slot) === null))
    this.#odd.set(group, rows)
    return rows
  }

  /** The key of a row, with its group; null for one that has none. */
  keyOf(slot: number): KeyInGroup | null {
    const key = cellOf(this.#store.column(this.#key), slot)
    const group = this.#groups === null ? 0 : this.#groups.groupOf(slot)
    return key === null || key instanceof CellFault || group < 0 ? null : { group, key }
  }

  memory(): IndexMemory {
    let rows = 0
    for (const { count } of this.#sorted.values()) rows += count
    // A key and a slot a row.
    return { kind: 'sorted keys', store: this.#store, columns: [this.#key], bytes: rows * 12 }
  }

  get isStale(): boolean {
    return this.#isStale
  }

  postpone(pass: PropagationPass): void {
    this.#pass = pass
    this.#touched = null
    this.#keyStorage = undefined
    this.#isStale = true
    this.#forget()
  }

  flush(): void {
    this.#isStale = false
    this.#forget()
  }

  #forget(): void {
    this.#sorted.clear()
    this.#odd.clear()
  }

  update(pass: PropagationPass): void {
    const rows = this.#rowsTouched(pass)
    this.#pass = pass
    this.#touched = rows === null ? null : rows.length === 0 ? undefined : this.#keysOf(rows, pass)
    const hasOtherFilter = this.#filter !== null && pass.changedIn(this.#filter) !== undefined
    this.#hasTouchedOdd = hasOtherFilter || rows?.some(({ before, now }) => before === null || now === null) === true
    if (rows === null) return this.#forget()
    if (rows.length > 0) this.#odd.clear()
    const groups = this.#groups
    if (groups === null) return this.#move(rows)
    for (const group of groups.groupsMovedIn(pass)) this.#sorted.delete(group)
    for (const { slot } of rows) this.#sorted.delete(groups.groupOf(slot))
  }

  /** The rows that came, went or changed; null when they are too many to tell. */
  #rowsTouched(pass: PropagationPass): TouchedRow[] | null {
    const { everyRow, inserted, removed } = pass.rowsOf(this.#store)
    const key = this.#store.column(this.#key)
    const former = key?.beforeImages()
    const isKnown = key === this.#keyStorage && former?.isKnown !== false && !everyRow && !pass.fresh.has(this.id)
    this.#keyStorage = key
    if (key !== undefined) pass.clearAfterwards(key)
    if (!isKnown || this.#groups?.rebuiltIn(pass) === true) return null
    const moved = this.#groups === null ? [] : this.#groups.movesIn(pass).map(({ slot }) => slot)
    const slots = new Set([...slotsOf(inserted), ...removed, ...moved])
    for (const id of [this.#key, this.#filter]) if (id !== null) for (const slot of slotsOf(pass.changedIn(id))) slots.add(slot)
    if (slots.size > MOST_TOUCHED) return null
    const fresh = new Set([...slotsOf(inserted)].filter((slot) => !removed.has(slot)))
    return Array.from(slots, (slot) => {
      const now = this.#store.rows.isLive(slot) ? valueOrNull(cellOf(key, slot)) : undefined
      const was = former?.statusOf(slot)
      const known = was === undefined ? now : was === Status.value ? (former?.valueOf(slot) as Cell) : null
      return { slot, before: fresh.has(slot) ? undefined : known, now }
    })
  }

  #keysOf(rows: readonly TouchedRow[], pass: PropagationPass): KeyInGroup[] {
    const groups = this.#groups
    const from = new Map(groups?.movesIn(pass).map((move) => [move.slot, move.from]))
    return rows.flatMap(({ slot, before, now }) => {
      const group = groups === null ? 0 : groups.groupOf(slot)
      const keys = now == null ? [] : [{ group, key: now }]
      if (before != null) keys.push({ group: from.get(slot) ?? group, key: before })
      return keys
    })
  }

  /** Puts rows in their new places. */
  #move(rows: readonly TouchedRow[]): void {
    const sorted = this.#sorted.get(0)
    if (sorted === undefined) return
    const filter = this.#filter === null ? null : this.#store.column(this.#filter)
    for (const { slot, before } of rows) if (before != null) sorted.remove(slot, before)
    for (const { slot, now } of rows)
      if (now != null && (filter === null || cellOf(filter, slot) === true)) sorted.insert(slot, now)
  }

  /** The rows of a group in the order of their key. */
  rowsOf(group: number): SortedRows {
    const known = this.#sorted.get(group)
    if (known !== undefined) return known
    const [key, filter] = [this.#store.column(this.#key), this.#filter === null ? null : this.#store.column(this.#filter)]
    const rows: { slot: number; key: Cell }[] = []
    for (const slot of this.#groups === null ? this.#store.rows.inOrder() : this.#groups.members.of(group)) {
      const of = cellOf(key, slot)
      if (of === null || of instanceof CellFault || (filter !== null && cellOf(filter, slot) !== true)) continue
      rows.push({ slot, key: of })
    }
    const sorted = new SortedRows(rows)
    this.#sorted.set(group, sorted)
    return sorted
  }
}

const valueOrNull = (cell: Cell): Cell => (cell instanceof CellFault ? null : cell)

/** More rows than this are not followed one by one. */
const MOST_TOUCHED = 64
