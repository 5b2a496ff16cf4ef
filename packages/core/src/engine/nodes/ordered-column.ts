import type { Cell, Column } from '../../columns/index.js'
import type { FunctionRecord } from '../../functions/index.js'
import { CellFault, type ValueType } from '../../values/index.js'
import { faultOfKey, type Groups, isFaultyKey } from '../groups/index.js'
import type { NodeId, PropagationPass } from '../propagation/index.js'
import { CellsOfAll, ComputedCells, DeferrableRows, TABLE_END } from '../propagation/index.js'
import type { TableStore } from '../storage/index.js'
import {
  cellOf,
  everyRowOf,
  type GroupedSlots,
  type RowsByBlock,
  rowCountOf,
  rowsByBlock,
  type SortKey,
  slotsOf,
  sortInGroups,
  sortRows,
} from '../storage/index.js'

/** What an ordered function is made of. */
export interface OrderedParts {
  readonly record: FunctionRecord & { readonly form: 'ordered' }
  readonly store: TableStore
  /** Null where all rows are one group. */
  readonly groups: Groups | null
  readonly args: readonly NodeId[]
  readonly types: readonly ValueType[]
  readonly keys: readonly NodeId[]
  readonly descending: readonly boolean[]
  /** Rows around a row that its result can depend on; null for all before it. */
  readonly reach: number | null
}

/** Up to so many rows are computed group by group, each put in order by itself. */
const FEW_ROWS = 1000

/** More rows than this around changed ones, and all are computed. */
const MOST_NEAR = 10_000

/** A function that looks at neighbours: a group in which anything changed is put in order and computed again. */
export class OrderedNode extends DeferrableRows {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly #parts: OrderedParts
  readonly #end: () => void

  constructor(id: NodeId, parts: OrderedParts, end: () => void) {
    super(parts.store)
    this.id = id
    this.#end = end
    this.#parts = parts
    this.sources = [...parts.args, ...parts.keys, parts.store.rowsNode, ...(parts.groups === null ? [] : [parts.groups.id])]
  }

  end(): void {
    this.#end()
  }

  /** The rows that may get something else: whole groups, or those near a row that has changed. */
  protected rowsToCompute(pass: PropagationPass): RowsByBlock {
    const { store, groups, args, keys } = this.#parts
    const { everyRow, reordered, inserted, removed, successorsOfRemoved } = pass.rowsOf(store)
    if (pass.fresh.has(this.id) || everyRow || reordered) return everyRowOf(store)
    const changed = [...args, ...keys].flatMap((column) => [...slotsOf(pass.changedIn(column))])
    if (groups === null) {
      const { reach } = this.#parts
      const { rows } = store
      // Of a slot that is a row again, the new one is among those inserted; a row after one taken away may be gone itself.
      const gaps = [...successorsOfRemoved].flatMap((slot) =>
        slot === TABLE_END ? [rows.rowCount] : rows.isLive(slot) ? [rows.placeOf(slot)] : [],
      )
      const places = [...[...changed, ...slotsOf(inserted)].map((slot) => rows.placeOf(slot)), ...gaps]
      if (places.length === 0 && removed.size === 0) return new Map()
      if (reach === null || keys.length > 0 || places.length * reach > MOST_NEAR) return everyRowOf(store)
      return rowsByBlock(new Set(places.flatMap((place) => this.#rowsBetween(place - reach, place + reach))))
    }
    if (groups.rebuiltIn(pass)) return everyRowOf(store)
    const dirty = groups.groupsMovedIn(pass)
    for (const slot of changed) if (groups.groupOf(slot) >= 0) dirty.add(groups.groupOf(slot))
    const rows = new Set<number>()
    for (const group of dirty) for (const slot of groups.members.of(group)) rows.add(slot)
    for (const { slot, to } of groups.movesIn(pass)) if (isFaultyKey(to) && store.rows.isLive(slot)) rows.add(slot)
    return rowsByBlock(rows)
  }

  /** The rows from one place to another, in row order. */
  #rowsBetween(first: number, last: number): number[] {
    const { rows } = this.#parts.store
    const slots: number[] = []
    for (let at = Math.max(0, first); at <= Math.min(rows.rowCount - 1, last); at++) slots.push(rows.slotAt(at) as number)
    return slots
  }

  protected compute(pass: PropagationPass, wanted: RowsByBlock): void {
    const { store, groups, reach, keys } = this.#parts
    const count = rowCountOf(wanted)
    if (count === 0) return
    if (groups !== null && count === store.rows.rowCount && count > FEW_ROWS) return this.#computeAll(pass, groups)
    const results = new ComputedCells(store, this.id)
    if (groups === null) {
      if (reach === null || keys.length > 0 || count > MOST_NEAR) this.#computeGroup(store.rows.inOrder(), results)
      else this.#computeRuns([...slotsOf(wanted)], reach, results)
    } else {
      const dirty = new Set<number>()
      for (const slot of slotsOf(wanted)) {
        const group = groups.groupOf(slot)
        if (group >= 0) dirty.add(group)
        else if (isFaultyKey(group)) results.put(slot, faultOfKey(group))
      }
      for (const group of dirty) this.#computeGroup(groups.members.listOf(group), results)
    }
    results.write(pass)
  }

  /** Computes all groups, one after the other. */
  #computeAll(pass: PropagationPass, groups: Groups): void {
    const { store, record, args, types } = this.#parts
    const results = new CellsOfAll(store, this.id)
    const keys = this.#sortKeys()
    const { slots, starts } = groupedRows(store.rows.inOrder(), groups, keys, results)
    const cells = args.map((id) => cellsOf(store.column(id), slots))
    for (let group = 0; group < starts.length - 1; group++) {
      const [from, to] = [starts[group] as number, starts[group + 1] as number]
      if (from === to) continue
      const computed = record.inOrder({ args: cells.map((list) => list.slice(from, to)), types, count: to - from })
      for (let index = from; index < to; index++) results.put(slots[index] as number, computed[index - from] ?? null)
    }
    results.write(pass)
  }

  #sortKeys(): SortKey[] {
    const { store, keys, descending } = this.#parts
    return keys.map((id, index) => ({ column: store.column(id), descending: descending[index] === true }))
  }

  /** Computes rows in row order, neighbours together, with all that they see. */
  #computeRuns(slots: readonly number[], reach: number, results: Results): void {
    const { rows } = this.#parts.store
    const places = Int32Array.from(slots, (slot) => rows.placeOf(slot)).sort()
    for (let from = 0; from < places.length; ) {
      let to = from
      while (to + 1 < places.length && (places[to + 1] as number) - (places[to] as number) <= 2 * reach) to++
      const seen = new Map<number, Cell>()
      const around = this.#rowsBetween((places[from] as number) - reach, (places[to] as number) + reach)
      this.#computeGroup(Int32Array.from(around), { put: (slot, cell) => seen.set(slot, cell) })
      for (; from <= to; from++) {
        const slot = rows.slotAt(places[from] as number) as number
        results.put(slot, seen.get(slot) ?? null)
      }
    }
  }

  /** Computes the rows of one group; those of the whole table come in row order. */
  #computeGroup(slots: Int32Array, results: Results): void {
    const { store, record, args, keys, types, groups } = this.#parts
    const sortKeys = this.#sortKeys()
    const sound = hasFaults(sortKeys) ? withoutFaults(slots, sortKeys, results) : slots
    const isInOrder = keys.length === 0 && groups === null
    const inOrder = isInOrder ? sound : sortRows(sound, sortKeys, groups === null ? null : store.rows)
    const cells = args.map((id) => cellsOf(store.column(id), inOrder))
    const computed = record.inOrder({ args: cells, types, count: inOrder.length })
    for (let index = 0; index < inOrder.length; index++) results.put(inOrder[index] as number, computed[index] ?? null)
  }
}

/** Where results go. */
interface Results {
  put(slot: number, cell: Cell): void
}

/** The rows of each group in order; those whose group is an error get that. */
function groupedRows(rows: Int32Array, { bySlot }: Groups, keys: readonly SortKey[], results: Results): GroupedSlots {
  const slots = new Int32Array(rows.length)
  const groups = new Int32Array(rows.length)
  const mayFail = hasFaults(keys)
  let [count, most] = [0, -1]
  for (let index = 0; index < rows.length; index++) {
    const slot = rows[index] as number
    const group = bySlot[slot] as number
    if (group >= 0) {
      const fault = mayFail ? faultAt(slot, keys) : undefined
      if (fault !== undefined) {
        results.put(slot, fault)
        continue
      }
      slots[count] = slot
      groups[count++] = group
      if (group > most) most = group
    } else if (isFaultyKey(group)) results.put(slot, faultOfKey(group))
  }
  return sortInGroups(slots.subarray(0, count), groups.subarray(0, count), most + 1, keys)
}

function hasFaults(keys: readonly SortKey[]): boolean {
  return keys.some(({ column }) => (column?.faultCount() ?? 0) > 0)
}

/** The rows whose keys are no errors; the others get the error of their first. */
function withoutFaults(slots: Int32Array, keys: readonly SortKey[], results: Results): Int32Array {
  return slots.filter((slot) => {
    const fault = faultAt(slot, keys)
    if (fault !== undefined) results.put(slot, fault)
    return fault === undefined
  })
}

/** The first error among the keys of a row. */
function faultAt(slot: number, keys: readonly SortKey[]): CellFault | undefined {
  return keys.map(({ column }) => cellOf(column, slot)).find((cell) => cell instanceof CellFault)
}

function cellsOf(column: Column | undefined, slots: Int32Array): Cell[] {
  const cells: Cell[] = []
  for (let index = 0; index < slots.length; index++) cells.push(cellOf(column, slots[index] as number))
  return cells
}
