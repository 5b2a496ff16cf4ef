import type { Cell, Column } from '../columns/index.js'
import type { FunctionRecord } from '../functions/index.js'
import { CellFault, faultOfStatus, type ValueType } from '../values/index.js'
import { cellOf, compareKeys } from './cells.js'
import { writeChanged } from './changed-cells.js'
import { BLANK_KEY, type Groups } from './groups/index.js'
import type { EngineNode, NodeId } from './node.js'
import { type Round, slotsOf } from './round.js'
import type { TableStore } from './table-store.js'

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

/** More rows than this around changed ones, and all are computed. */
const MOST_NEAR = 10_000

/** A function that looks at neighbours: a group in which anything changed is put in order and computed again. */
export class OrderedNode implements EngineNode {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly #parts: OrderedParts
  readonly #end: () => void

  constructor(id: NodeId, parts: OrderedParts, end: () => void) {
    this.id = id
    this.#end = end
    this.#parts = parts
    this.sources = [...parts.args, ...parts.keys, parts.store.rowsNode, ...(parts.groups === null ? [] : [parts.groups.id])]
  }

  end(): void {
    this.#end()
  }

  update(round: Round): void {
    const { store, groups, args, keys } = this.#parts
    const { everyRow, inserted, removed } = round.rowsOf(store)
    const results = new Map<number, Cell>()
    const changed = [...args, ...keys].flatMap((column) => [...slotsOf(round.changedIn(column))])
    if (groups === null) {
      const inFull = round.fresh.has(this.id) || everyRow || removed.size > 0
      const touched = [...changed, ...slotsOf(inserted)]
      const { reach } = this.#parts
      if (!inFull && touched.length === 0) return
      if (inFull || reach === null || keys.length > 0 || touched.length * reach > MOST_NEAR)
        this.#compute([...store.rows.inOrder()], results)
      else for (const slot of touched) this.#computeNear(slot, reach, results)
    } else {
      const inFull = round.fresh.has(this.id) || groups.rebuiltIn(round)
      const dirty = inFull ? new Set(groups.members.groups()) : groups.groupsMovedIn(round)
      for (const slot of changed) if (groups.groupOf(slot) >= 0) dirty.add(groups.groupOf(slot))
      for (const group of dirty) this.#compute([...groups.members.of(group)], results)
      this.#leaveOut(round, inFull, results)
    }
    writeChanged(store, this.id, results.keys(), (slot) => results.get(slot) ?? null, round)
  }

  /** Rows whose key is an error get that error. */
  #leaveOut(round: Round, inFull: boolean, results: Map<number, Cell>): void {
    const { store, groups } = this.#parts
    if (groups === null || groups.faults === 0) return
    const slots = inFull ? store.rows.inOrder() : groups.movesIn(round).map(({ slot }) => slot)
    for (const slot of slots) {
      const group = groups.groupOf(slot)
      if (group < BLANK_KEY && store.rows.isLive(slot)) results.set(slot, new CellFault(faultOfStatus(-group)))
    }
  }

  /** Computes the rows near one that has changed, in row order: those that can see it, with all that they see. */
  #computeNear(slot: number, reach: number, results: Map<number, Cell>): void {
    const { rows } = this.#parts.store
    const place = rows.placeOf(slot)
    const first = Math.max(0, place - 2 * reach)
    const near: number[] = []
    for (let at = first; at <= Math.min(rows.rowCount - 1, place + 2 * reach); at++) near.push(rows.slotAt(at) as number)
    const seen = new Map<number, Cell>()
    this.#compute(near, seen)
    for (const [index, one] of near.entries())
      if (Math.abs(first + index - place) <= reach) results.set(one, seen.get(one) ?? null)
  }

  /** Computes the rows of one group. */
  #compute(slots: number[], results: Map<number, Cell>): void {
    const { store, record, args, keys, descending, types, groups } = this.#parts
    const { rows } = store
    const keyColumns = keys.map((id) => store.column(id))
    const keysOf = new Map<number, Cell[]>()
    const inOrder =
      keys.length === 0
        ? slots
        : slots.filter((slot) => {
            const of = keyColumns.map((column) => cellOf(column, slot))
            const fault = of.find((cell) => cell instanceof CellFault)
            if (fault !== undefined) results.set(slot, fault)
            keysOf.set(slot, of)
            return fault === undefined
          })
    // All rows come in row order already.
    if (keys.length > 0 || groups !== null)
      inOrder.sort(
        (a, b) => compareKeys(keysOf.get(a) ?? [], keysOf.get(b) ?? [], descending) || rows.placeOf(a) - rows.placeOf(b),
      )
    const columns = args.map((id): Column | undefined => store.column(id))
    const cells = columns.map((column) => inOrder.map((slot) => cellOf(column, slot)))
    const computed = record.inOrder({ args: cells, types, count: inOrder.length })
    for (const [index, slot] of inOrder.entries()) results.set(slot, computed[index] ?? null)
  }
}
