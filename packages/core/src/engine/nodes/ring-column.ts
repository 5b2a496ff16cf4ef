import { BLOCK_MASK, BLOCK_SHIFT, type Cell, type Selection, selectRows, type Vector } from '../../columns/index.js'
import type { Frame } from '../../formula/index.js'
import { CellFault, Status, statusOfFault } from '../../values/index.js'
import { faultOfKey, type Groups, isFaultyKey } from '../groups/index.js'
import type { AccessPath, CrossRowInput, LoweredPlan } from '../lowered-plans/index.js'
import type { EngineNode, NodeId, PropagationPass } from '../propagation/index.js'
import type { TableStore } from '../storage/index.js'
import { cellAt, cellOf, compareKeys, everyRowOf, putCell, rowsByBlock, slotsOf } from '../storage/index.js'
import { TextBudget } from './text-budget.js'
import type { WatchMarks } from './watch-marks.js'

/** The order that a ring runs in, row by row: where each row stands, and which rows are left out of it. */
export class RingOrder {
  #slots: readonly number[] = []
  readonly #places: Map<number, number> = new Map()
  readonly #faults: Map<number, CellFault> = new Map()

  /** Takes the rows of one group, in order, and the errors of those left out. */
  take(slots: readonly number[], faults: ReadonlyMap<number, CellFault>): void {
    this.#slots = slots
    this.#places.clear()
    for (const [place, slot] of slots.entries()) this.#places.set(slot, place)
    for (const [slot, fault] of faults) this.#faults.set(slot, fault)
  }

  /** The row so many rows before one; undefined where there is none. */
  before(slot: number, count: number): number | undefined {
    return this.#slots[(this.#places.get(slot) ?? Number.NaN) - count]
  }

  /** The error of a row that is left out of the order. */
  faultOf(slot: number): CellFault | undefined {
    return this.#faults.get(slot)
  }

  /** Forgets the errors of a former pass. */
  clearFaults(): void {
    this.#faults.clear()
  }
}

/** `lag` of a column of the ring: what an earlier row of the order has got already. */
export class RingLagInput implements CrossRowInput {
  readonly accessPath: AccessPath = { kind: 'ring' }
  readonly sources: readonly NodeId[] = []
  readonly #order: RingOrder
  readonly #store: TableStore
  readonly #value: LoweredPlan
  readonly #count: number

  /** @param value - what is read at the earlier row */
  constructor(order: RingOrder, store: TableStore, value: LoweredPlan, count: number) {
    this.#order = order
    this.#store = store
    this.#value = value
    this.#count = count
  }

  fill(block: number, out: Vector, { rows, count }: Selection): void {
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      const slot = (block << BLOCK_SHIFT) + row
      const fault = this.#order.faultOf(slot)
      const before = this.#order.before(slot, this.#count)
      if (fault !== undefined) out.status[row] = statusOfFault(fault.code)
      else if (before === undefined) out.status[row] = Status.blank
      else {
        const at = before & BLOCK_MASK
        this.#value.run(this.#store, before >> BLOCK_SHIFT, oneRow(at), (vector) => putCell(out, row, cellAt(vector, at)))
      }
    }
  }

  /** The ring itself knows which rows follow which. */
  touched(): Iterable<number> {
    return []
  }
}

const oneRow = (row: number): Selection => selectRows(Uint16Array.of(row))

/** A column of a ring. */
export interface RingMember {
  readonly id: NodeId
  readonly lowered: LoweredPlan
  readonly marks: WatchMarks | null
}

/** What a ring is made of. */
export interface RingParts {
  readonly store: TableStore
  /** In the order in which they are computed for one row. */
  readonly members: readonly RingMember[]
  readonly order: RingOrder
  readonly groups: Groups | null
  readonly keys: readonly NodeId[]
  readonly descending: readonly boolean[]
  /** The longest `lag` of the ring. */
  readonly reach: number
}

/** Columns that read each other's earlier rows: computed row by row in their order, from the first row that is touched. */
export class RingNode implements EngineNode {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly #parts: RingParts
  readonly isDeferrable = true
  readonly isStateless = true
  #isStale = false
  /** What each column has made of texts in the pass at hand. */
  readonly #budgets: Map<NodeId, TextBudget> = new Map()

  constructor(id: NodeId, parts: RingParts) {
    this.id = id
    this.#parts = parts
    const own = new Set(parts.members.map((member) => member.id))
    const read = parts.members.flatMap(({ lowered }) => lowered.sources).filter((source) => !own.has(source))
    this.sources = [...read, ...parts.keys, ...(parts.groups === null ? [] : [parts.groups.id]), parts.store.rowsNode]
  }

  get isStale(): boolean {
    return this.#isStale
  }

  restoreStale(): void {
    this.#isStale = true
  }

  prime(): void {
    for (const { lowered } of this.#parts.members) for (const input of lowered.inputs) input.prime?.()
  }

  /** The plan of one of its columns. */
  loweredOf(column: NodeId): LoweredPlan | undefined {
    return this.#parts.members.find(({ id }) => id === column)?.lowered
  }

  update(pass: PropagationPass): void {
    this.#run(pass, this.#touched(pass))
  }

  /** One row leads to the next, so nothing is known of any until all are computed. */
  postpone(pass: PropagationPass): void {
    const { store, members } = this.#parts
    this.#isStale = true
    const rows = everyRowOf(store)
    for (const { id } of members) {
      pass.noteStale(id, rows)
      pass.noteChanged(id, rows)
    }
  }

  flush(pass: PropagationPass): void {
    if (!this.#isStale) return
    this.#isStale = false
    this.#run(pass, { inFull: true, dirty: new Set() })
  }

  #run(pass: PropagationPass, { inFull, dirty }: { readonly inFull: boolean; readonly dirty: ReadonlySet<number> }): void {
    const { store, groups, members, order } = this.#parts
    const touchedGroups = new Set<number>()
    if (groups !== null) {
      if (inFull) for (const group of [...groups.members.groups(), ...groups.faultyGroups()]) touchedGroups.add(group)
      else for (const slot of dirty) touchedGroups.add(groups.groupOf(slot))
      for (const group of inFull ? [] : groups.groupsMovedIn(pass)) touchedGroups.add(group)
      // A row whose key has changed stands elsewhere among its group, though its own sources may be as they were.
      for (const key of this.#parts.keys) for (const slot of slotsOf(pass.changedIn(key))) touchedGroups.add(groups.groupOf(slot))
    }
    const computed = new Map<NodeId, number[]>(members.map(({ id }) => [id, []]))
    const changed = new Map<NodeId, number[]>(members.map(({ id }) => [id, []]))
    order.clearFaults()
    for (const { id } of members) this.#budgets.set(id, new TextBudget(id))
    const whole = inFull || this.#isReordered(pass)
    const lists =
      groups === null
        ? [[...store.rows.inOrder()]]
        : [...touchedGroups].map((group) =>
            group >= 0 ? [...groups.members.of(group)] : [...groups.odd].filter((slot) => groups.groupOf(slot) === group),
          )
    for (const slots of lists) {
      const isMoved = groups !== null && slots.length > 0 && groups.groupsMovedIn(pass).has(groups.groupOf(slots[0] as number))
      this.#runGroup(slots, whole || isMoved ? null : dirty, computed, changed)
    }
    for (const { id } of members) {
      pass.noteComputed(id, rowsByBlock(computed.get(id) as number[]))
      pass.noteChanged(id, rowsByBlock(changed.get(id) as number[]))
    }
  }

  /** The rows that have to be computed whatever comes before them. */
  #touched(pass: PropagationPass): { inFull: boolean; dirty: Set<number> } {
    const { store, members, groups } = this.#parts
    const { everyRow, reordered, inserted } = pass.rowsOf(store)
    const dirty = new Set(slotsOf(inserted))
    if (everyRow || reordered || pass.fresh.has(this.id) || groups?.rebuiltIn(pass) === true) return { inFull: true, dirty }
    // A row without a group is on its own, so that group is not gone through for it.
    for (const { slot, to } of groups?.movesIn(pass) ?? []) if (to < 0 && store.rows.isLive(slot)) dirty.add(slot)
    for (const { lowered } of members) {
      const others = lowered.touched(pass)
      if (others === null) return { inFull: true, dirty }
      for (const part of others) for (const slot of slotsOf(part)) dirty.add(slot)
      for (const source of lowered.plan.sources) for (const slot of slotsOf(pass.changedIn(source))) dirty.add(slot)
    }
    return { inFull: false, dirty }
  }

  /** True when rows may follow others than before. */
  #isReordered(pass: PropagationPass): boolean {
    const { store, keys, groups } = this.#parts
    const { inserted, removed, reordered } = pass.rowsOf(store)
    if (reordered) return true
    if (keys.some((key) => pass.changedIn(key) !== undefined)) return true
    return (groups === null || keys.length > 0) && (inserted.size > 0 || removed.size > 0)
  }

  /** Computes the rows of one group: those that are dirty, and those near rows that have changed; all for null. */
  #runGroup(
    slots: readonly number[],
    dirty: ReadonlySet<number> | null,
    computed: ReadonlyMap<NodeId, number[]>,
    changed: ReadonlyMap<NodeId, number[]>,
  ): void {
    const { members, reach, order, groups } = this.#parts
    const group = groups === null || slots[0] === undefined ? 0 : groups.groupOf(slots[0])
    const { list, left } = this.#inOrder(slots, group)
    order.take(group < 0 ? [] : list, left)
    const run = (frames: readonly ((slot: number) => boolean)[]): void => {
      let lastChange = Number.NEGATIVE_INFINITY
      for (const [place, slot] of [...list, ...left.keys()].entries()) {
        if (dirty !== null && !dirty.has(slot) && place - lastChange > reach) continue
        for (const [index, member] of members.entries()) {
          computed.get(member.id)?.push(slot)
          if ((frames[index] as (slot: number) => boolean)(slot)) {
            changed.get(member.id)?.push(slot)
            lastChange = place
          }
        }
      }
    }
    this.#withFrames(0, [], run)
  }

  /** The rows in order, and those left out because a key is an error. */
  #inOrder(slots: readonly number[], group: number): { list: number[]; left: Map<number, CellFault> } {
    const { store, keys, descending } = this.#parts
    const columns = keys.map((id) => store.column(id))
    const left = new Map<number, CellFault>()
    const keysOf = new Map<number, Cell[]>()
    for (const slot of slots) {
      const of = columns.map((column) => cellOf(column, slot))
      const fault = isFaultyKey(group) ? faultOfKey(group) : of.find((cell) => cell instanceof CellFault)
      if (fault instanceof CellFault) left.set(slot, fault)
      else keysOf.set(slot, of)
    }
    const list = [...keysOf.keys()].sort(
      (a, b) =>
        compareKeys(keysOf.get(a) as Cell[], keysOf.get(b) as Cell[], descending) ||
        store.rows.placeOf(a) - store.rows.placeOf(b),
    )
    return { list, left }
  }

  /** Opens a frame for each member, and gives what computes one row of it and says whether it changed. */
  #withFrames(
    index: number,
    open: readonly ((slot: number) => boolean)[],
    run: (frames: readonly ((slot: number) => boolean)[]) => void,
  ): void {
    const member = this.#parts.members[index]
    if (member === undefined) return run(open)
    member.lowered.with(this.#parts.store, (frame, source) => {
      source.target = member.id
      const compute = (slot: number): boolean => {
        source.block = slot >> BLOCK_SHIFT
        return this.#computeRow(member, frame, slot)
      }
      this.#withFrames(index + 1, [...open, compute], run)
    })
  }

  #computeRow({ id, lowered, marks }: RingMember, frame: Frame, slot: number): boolean {
    const selection = oneRow(slot & BLOCK_MASK)
    frame.marks = marks === null ? null : frame.lendFlags(selection)
    const result = frame.run(lowered.plan.root, selection)
    if (frame.marks !== null) {
      marks?.replace(slot >> BLOCK_SHIFT, selection, frame.marks)
      frame.giveBackFlags(frame.marks)
      frame.marks = null
    }
    this.#budgets.get(id)?.takeBlock(result, selection)
    const after = this.#parts.store.column(id)?.absorb(slot >> BLOCK_SHIFT, result, selection)
    frame.giveBack(result)
    return after !== undefined && after.count > 0
  }
}

/** One column of a ring, which is calculated with the others of it. */
export class RingColumn implements EngineNode {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly isDeferrable = true
  readonly #ring: RingNode

  constructor(id: NodeId, ring: RingNode) {
    this.id = id
    this.#ring = ring
    this.sources = [ring.id]
  }

  get isStale(): boolean {
    return this.#ring.isStale
  }

  restoreStale(): void {
    this.#ring.restoreStale()
  }

  get lowered(): LoweredPlan | undefined {
    return this.#ring.loweredOf(this.id)
  }

  update(): void {
    // The ring has computed it.
  }

  postpone(): void {
    // The ring has noted its rows.
  }

  flush(): void {
    // The ring has computed it.
  }
}
