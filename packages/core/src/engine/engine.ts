import { BLOCK_SHIFT, type Cell, type Selection, type Vector } from '../columns/index.js'
import {
  type Checked,
  type CheckedFormula,
  type CheckedOrderKey,
  type ColumnId,
  compilePlan,
  Frame,
  type FrameSource,
  type LinkId,
  type Plan,
  somePart,
} from '../formula/index.js'
import { CellFault, foldName, Status, type Surroundings } from '../values/index.js'
import type { KeyGroups, LinkWatch } from './groups/index.js'
import type { AccessPath, LoweredPlan } from './lowered-plans/index.js'
import { Frames } from './lowered-plans/index.js'
import { callOf, type LinkParts, Lowering, type LoweringContext, lagCount, type OverRows } from './lowering/index.js'
import { RingColumn, RingNode, RingOrder, RowColumn, WatchMarks } from './nodes/index.js'
import type { Hold, IndexMemory, NodeRegistry } from './propagation/index.js'
import { DependencyGraph, Recalculation } from './propagation/index.js'
import { rowsByBlock, TableStore } from './storage/index.js'

/** A column as the engine knows it: what computes it and where its watched places are counted. */
export interface ComputedColumn {
  readonly formula: CheckedFormula
  readonly plan: Plan
  readonly marks: WatchMarks
  readonly store: TableStore
  /** True when only whole numbers within ±2^53 fit, as in a column declared `integer`. */
  readonly wholeOnly: boolean
}

/** What an evaluation that keeps nothing may note on the way. */
export interface EvaluationWatch {
  /** Told the first row of each block that a branch takes. */
  readonly probe?: (branch: number, block: number, row: number) => void
  /** Counts the rows of the formula's watched places. */
  readonly marks?: WatchMarks
  /** The rows to evaluate, by block; all when not given. */
  readonly rows?: ReadonlyMap<number, Selection>
  /** The column that the results are for. */
  readonly target?: ColumnId
}

/** A column of a ring as the book defines it. */
export interface RingDefinition {
  readonly column: ColumnId
  readonly formula: CheckedFormula
  readonly plan: Plan
}

/** True for a `lag` that reads any of some columns. */
export function isLagOf(read: Checked, columns: ReadonlySet<ColumnId>): boolean {
  if (read.kind !== 'over-rows' || read.record.name !== 'lag') return false
  return somePart(read.args[0] as Checked, (part) => part.kind === 'column' && columns.has(part.column))
}

/** An index that rows of a table are looked up by. */
interface Lookup {
  readonly store: TableStore
  readonly columns: readonly ColumnId[]
  readonly groups: KeyGroups
  /** Keys of the shared nodes it holds. */
  readonly keys: readonly string[]
}

const NO_ROWS: Selection = { rows: null, count: 0 }

/** Keeps calculated columns in step with their sources. It knows columns, rows, links and plans, and nothing of their names. */
export class Engine {
  /** Which columns the formula of a column reads, by whatever access path. */
  readonly columnGraph: DependencyGraph = new DependencyGraph()
  /** Named values and tallies, which are calculated like the columns of a table with one row. */
  readonly singles: TableStore = new TableStore()
  /** Brings columns up to date with what they are made from. */
  readonly recalculation: Recalculation
  readonly #computed: Map<ColumnId, ComputedColumn> = new Map()
  /** Keys of the shared nodes that each column uses. */
  readonly #held: Map<ColumnId, readonly string[]> = new Map()
  readonly #tables: Map<string, TableStore> = new Map()
  readonly #links: Map<LinkId, LinkParts> = new Map()
  /** Keys of what watches a link. */
  readonly #watched: Map<LinkId, readonly string[]> = new Map()
  /** Indexes that rows are looked up by, by their columns. */
  readonly #lookups: Map<string, Lookup> = new Map()
  readonly #frames: Frames = new Frames()
  #ringCount = 0
  #folding: Frame
  readonly #context: LoweringContext
  surroundings: Surroundings

  /** @param mostAtOnce - cells of a column that one edit computes at once; more are left stale and computed later */
  constructor(surroundings: Surroundings, mostAtOnce?: number) {
    this.surroundings = surroundings
    this.recalculation = new Recalculation((column) => this.#computed.get(column)?.store, mostAtOnce)
    this.#folding = new Frame(onlyConstants(surroundings))
    this.singles.rows.insert(1)
    this.#context = {
      frames: this.#frames,
      surroundings: () => this.surroundings,
      singles: this.singles,
      compile: (expression) => compilePlan({ expression, watches: [] }, this.#folding),
      table: (name) => this.#known(this.#tables.get(foldName(name)), `table ${name}`),
      link: (id) => this.#known(this.#links.get(id), `link ${id}`),
    }
  }

  get #registry(): NodeRegistry {
    return this.recalculation.registry
  }

  #known<Thing>(thing: Thing | undefined, what: string): Thing {
    if (thing === undefined) throw new ReferenceError(`there is no ${what}`)
    return thing
  }

  /** Moves the clock and the seed; what reads them is computed with the next recalculation. */
  tick(now: number, seed: number): void {
    this.surroundings = { ...this.surroundings, now, seed }
    this.recalculation.noteClock()
  }

  /** Gives formulas other surroundings; those that go by them are to be compiled again. */
  surround(set: Partial<Surroundings>): void {
    this.surroundings = { ...this.surroundings, ...set }
    this.#folding = new Frame(onlyConstants(this.surroundings))
  }

  /** Takes a table in, under the name that formulas read it by. */
  addTable(name: string, store: TableStore): void {
    this.#tables.set(foldName(name), store)
  }

  /** The cells of a table that formulas read by this name. */
  tableNamed(name: string): TableStore | undefined {
    return this.#tables.get(foldName(name))
  }

  /** Lets a table go. */
  removeTable(name: string): void {
    const store = this.#tables.get(foldName(name))
    this.#dropLookups((lookup) => lookup.store === store)
    this.#tables.delete(foldName(name))
  }

  /** Takes a link in. */
  addLink(id: LinkId, parts: LinkParts): void {
    this.#links.set(id, parts)
  }

  /** Lets a link go that no formula follows. */
  removeLink(id: LinkId): void {
    this.#links.delete(id)
    for (const key of this.#watched.get(id) ?? []) this.#registry.release(key)
    this.#watched.delete(id)
  }

  /** Counts of what is wrong with the keys of a link; kept from the first time they are asked for. */
  linkWatch(id: LinkId): LinkWatch {
    const { lowering, keys } = this.#lowering()
    const watch = lowering.linkWatch(id)
    if (this.#watched.has(id)) for (const key of keys) this.#registry.release(key)
    else this.#watched.set(id, keys)
    this.recalculation.computeFresh([watch.id])
    return watch
  }

  /**
   * Slots of the rows with some cells in some columns, in no certain order. The index they are found by is kept from the first
   * time they are asked for, and follows every edit.
   */
  rowsWithKey(store: TableStore, columns: readonly ColumnId[], cells: readonly Cell[]): number[] {
    const key = columns.join(',')
    let lookup = this.#lookups.get(key)
    if (lookup === undefined) {
      const { lowering, keys } = this.#lowering()
      lookup = { store, columns, groups: lowering.lookup(store, columns), keys }
      this.#lookups.set(key, lookup)
    }
    const { groups } = lookup
    this.recalculation.computeFresh([groups.id])
    const group = groups.groupWith(cells)
    return group === undefined ? [] : [...groups.members.of(group)]
  }

  /** Lets the indexes go that some lookups were answered by. */
  #dropLookups(isGone: (lookup: Lookup) => boolean): void {
    for (const [key, lookup] of this.#lookups) {
      if (!isGone(lookup)) continue
      this.#lookups.delete(key)
      for (const held of lookup.keys) this.#registry.release(held)
    }
  }

  /** How a column is calculated; undefined for source columns. */
  computed(column: ColumnId): ComputedColumn | undefined {
    return this.#computed.get(column)
  }

  /** Makes a column of a table calculated by a checked formula without errors; it is computed in full next. */
  define(column: ColumnId, store: TableStore, formula: CheckedFormula, plan: Plan, wholeOnly: boolean): void {
    const marks = new WatchMarks(formula.watches.length)
    const former = this.#held.get(column) ?? []
    const { lowered, keys } = this.#lower(plan, store)
    this.#computed.set(column, { formula, plan, marks, store, wholeOnly })
    this.#held.set(column, keys)
    this.#registry.put(new RowColumn(column, store, lowered, formula.watches.length > 0 ? marks : null, wholeOnly, () => {}))
    for (const key of former) this.#registry.release(key)
  }

  /** Gives a calculated column other findings of its formula, which is computed as before. */
  renewFindings(column: ColumnId, findings: CheckedFormula['findings']): void {
    const computed = this.#computed.get(column)
    if (computed !== undefined) this.#computed.set(column, { ...computed, formula: { ...computed.formula, findings } })
  }

  /**
   * Makes columns of a table calculated that read each other's earlier rows; they come in the order in which they are computed
   * for one row.
   */
  defineRing(
    store: TableStore,
    members: readonly RingDefinition[],
    by: readonly Checked[],
    order: readonly CheckedOrderKey[],
  ): void {
    const former = members.flatMap(({ column }) => this.#held.get(column) ?? [])
    const ids = new Set(members.map(({ column }) => column))
    const [first, ...others] = members.map(({ column }) => column)
    if (first === undefined) return
    const keys: string[] = []
    const hold: Hold = (key, make) => {
      keys.push(key)
      return this.#registry.acquire(key, make)
    }
    const ring = hold(`ring ${[...ids].join(',')} ${++this.#ringCount}`, (id, inner) => {
      const lowering = new Lowering(this.#context, inner)
      const running = { order: new RingOrder(), isOwnLag: (read: Checked) => isLagOf(read, ids) }
      const made = members.map(({ column, formula, plan }) => {
        const marks = new WatchMarks(formula.watches.length)
        this.#computed.set(column, { formula, plan, marks, store, wholeOnly: false })
        const lowered = lowering.lower(plan, store, undefined, running)
        return { id: column, lowered, marks: formula.watches.length > 0 ? marks : null }
      })
      const reach = Math.max(
        ...members.flatMap(({ plan }) =>
          plan.reads.filter((read) => isLagOf(read, ids)).map((read) => lagCount(read as OverRows)),
        ),
      )
      return new RingNode(id, { store, members: made, order: running.order, ...lowering.orderOf(by, order, store), reach })
    })
    for (const column of ids) this.#registry.put(new RingColumn(column, ring))
    this.#held.set(first, keys)
    for (const column of others) this.#held.delete(column)
    for (const key of former) this.#registry.release(key)
  }

  /** Makes a column a source column again, or forgets it. */
  forget(column: ColumnId): void {
    this.#dropLookups(({ columns }) => columns.includes(column))
    this.#computed.delete(column)
    this.columnGraph.remove(column)
    this.#registry.drop(column)
    for (const key of this.#held.get(column) ?? []) this.#registry.release(key)
    this.#held.delete(column)
  }

  /** Compiles a formula with this engine's scratch space. */
  compile(formula: Parameters<typeof compilePlan>[0]): Plan {
    return compilePlan(formula, this.#folding)
  }

  /** What lowers something for a while; `end` gives the nodes back that it takes. */
  borrow(): { readonly lowering: Lowering; readonly end: () => void } {
    const { lowering, keys } = this.#lowering()
    return {
      lowering,
      end: () => {
        for (const key of keys) this.#registry.release(key)
      },
    }
  }

  /** What lowers something, with the keys of the nodes it takes, which are to be given back. */
  #lowering(): { readonly lowering: Lowering; readonly keys: string[] } {
    const keys: string[] = []
    const lowering = new Lowering(this.#context, (key, make) => {
      keys.push(key)
      return this.#registry.acquire(key, make)
    })
    return { lowering, keys }
  }

  /** Gives a plan its inputs; the keys of the nodes it shares are to be given back. */
  #lower(plan: Plan, store: TableStore): { lowered: LoweredPlan; keys: string[] } {
    const { lowering, keys } = this.#lowering()
    return { lowered: lowering.lower(plan, store), keys }
  }

  /** What is kept besides columns: groups, sorted keys, sums. */
  memory(): IndexMemory[] {
    return [...this.#registry.memory()]
  }

  /** Ends rows, and what was counted of them. */
  removeRows(store: TableStore, slots: readonly number[]): void {
    const blocks = rowsByBlock(slots)
    for (const { marks, store: of } of this.#computed.values()) {
      if (of === store) for (const [block, selection] of blocks) marks.clear(block, selection)
    }
    store.vacate(slots)
  }

  /** Runs a plan over all rows of a table without keeping anything; `visit` gets each block's result, valid during the call. */
  evaluate(
    store: TableStore,
    plan: Plan,
    visit: (block: number, result: Vector, selection: Selection) => void,
    watch: EvaluationWatch = {},
  ): void {
    const { lowered, keys } = this.#lower(plan, store)
    try {
      // What the plan shares with no formula has to be computed first.
      this.recalculation.computeFresh(lowered.sources)
      lowered.with(store, (frame, source) => {
        source.target = watch.target ?? 0
        source.rowsAhead = watch.rows === undefined ? store.rows.slotCount : 0
        for (let block = 0; block < store.blockCount; block++) {
          source.block = block
          const selection = watch.rows === undefined ? store.liveRows(block) : (watch.rows.get(block) ?? NO_ROWS)
          if (selection.count === 0) continue
          const { probe, marks } = watch
          frame.probe = probe === undefined ? null : (branch, row) => probe(branch, block, row)
          frame.marks = marks === undefined ? null : frame.lendFlags(selection)
          const result = frame.run(plan.root, selection)
          frame.probe = null
          if (frame.marks !== null) {
            marks?.replace(block, selection, frame.marks)
            frame.giveBackFlags(frame.marks)
            frame.marks = null
          }
          visit(block, result, selection)
          frame.giveBack(result)
        }
      })
    } finally {
      for (const key of keys) this.#registry.release(key)
    }
  }

  /** The parts of a column's formula that other rows decide, each with its access path and the pairs of rows it tries. */
  accessPathsOf(column: ColumnId): { readonly read: Checked; readonly accessPath: AccessPath; readonly pairs: number }[] {
    const lowered = this.#loweredOf(column)
    return (lowered?.inputs ?? []).map(({ accessPath, pairs = 0 }, index) => {
      return { read: lowered?.plan.reads[index] as Checked, accessPath, pairs }
    })
  }

  /** True when other rows have a say in a column. */
  readsOtherRows(column: ColumnId): boolean {
    return (this.#computed.get(column)?.plan.reads.length ?? 0) > 0
  }

  #loweredOf(column: ColumnId): LoweredPlan | undefined {
    const node = this.#registry.node(column)
    return node instanceof RowColumn || node instanceof RingColumn ? node.lowered : undefined
  }

  /** The rows that an aggregate takes in for one row of a table; none while they are yet to be found, on demand. */
  rowsTaken(store: TableStore, read: OverRows, slot: number): number[] {
    return this.#withLowering((lowering) => {
      const { candidates, scan } = lowering.finder(read, store)
      return (): number[] => {
        if (!candidates.isPlaced(slot)) return []
        const found = candidates.rowsFor(slot)
        return found instanceof CellFault ? [] : scan.taken(callOf(read), slot, found.rows)
      }
    })
  }

  /** Pairs of rows that a formula tries on all rows of a table. */
  pairsOf(store: TableStore, plan: Plan): number {
    return this.#withLowering((lowering) => {
      const { inputs } = lowering.lower(plan, store)
      return () => inputs.reduce((sum, { pairs = 0 }) => sum + pairs, 0)
    })
  }

  /** The row that links lead to from a row of a table; undefined where there is none, or more than one. */
  rowLinked(links: readonly LinkId[], slot: number): number | undefined {
    return this.#withLowering((lowering) => {
      const path = lowering.path(links)
      return () => {
        const found = path.follow(slot)
        return found < 0 ? undefined : found
      }
    })
  }

  /** Lowers something for one look, and looks once what it needs is there. */
  #withLowering<Seen>(prepare: (lowering: Lowering) => () => Seen): Seen {
    const { lowering, keys } = this.#lowering()
    try {
      const look = prepare(lowering)
      this.recalculation.computeFresh([...keys.map((key) => this.#registry.shared(key))])
      return look()
    } finally {
      for (const key of keys) this.#registry.release(key)
    }
  }

  /** Slots of the rows for which a condition is true, in row order. */
  select(store: TableStore, plan: Plan): Int32Array {
    const isTrue = new Uint8Array(store.rows.slotCount)
    this.evaluate(store, plan, (block, result, selection) => {
      for (let k = 0; k < selection.count; k++) {
        const row = selection.rows === null ? k : (selection.rows[k] as number)
        if (result.status[row] === Status.value && result.values[row] === 1) isTrue[(block << BLOCK_SHIFT) + row] = 1
      }
    })
    // A loop of one's own takes a third of the time of `filter`.
    const kept = store.rows.inOrder()
    let count = 0
    for (let at = 0; at < kept.length; at++) if (isTrue[kept[at] as number] === 1) kept[count++] = kept[at] as number
    return kept.slice(0, count)
  }
}

/** What constants are folded over: anything that would depend on rows is a fault of the checker. */
function onlyConstants(surroundings: Surroundings): FrameSource {
  const refuse = (what: string) => (): never => {
    throw new ReferenceError(`${what} is not constant`)
  }
  return {
    surroundings,
    target: 0,
    column: refuse('a column'),
    statusOf: refuse('a column'),
    encoded: refuse('a column'),
    rowIdOf: refuse('a row'),
    fill: refuse('what is read from other rows'),
    holidays: refuse('a list of days'),
  }
}
