import { BLOCK_SHIFT, type Column, type Selection, type Vector } from '../columns/index.js'
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
import { foldName, Status, type Surroundings } from '../values/index.js'
import { everyRowOf } from './backlog.js'
import { type DirtyRows, rowsByBlock } from './dirty-rows.js'
import { Frames } from './frames.js'
import { DependencyGraph } from './graph.js'
import { CLOCK_NODE, type LoweredPlan } from './lowered-plan.js'
import { type LinkParts, Lowering, lagCount, type OverRows, type Surrounding } from './lowering.js'
import type { NodeId } from './node.js'
import { type Hold, NodeRegistry } from './node-registry.js'
import { RingColumn, RingNode, RingOrder } from './ring-node.js'
import { Round, type RowsByBlock, type TouchedRows } from './round.js'
import { RowColumn } from './row-column.js'
import { TableStore } from './table-store.js'
import { WatchMarks } from './watch-marks.js'

/** A column as the engine knows it: what computes it and where its watched places are counted. */
export interface ComputedColumn {
  readonly formula: CheckedFormula
  readonly plan: Plan
  readonly marks: WatchMarks
  readonly store: TableStore
  /** True when only whole numbers within ±2^53 fit, as in a column declared `integer`. */
  readonly wholeOnly: boolean
}

/** Rows of a column by block, in the order they were computed. */
export interface BlockRows {
  readonly block: number
  readonly selection: Selection
}

/** What recalculating did to one column. */
export interface ColumnOutcome {
  readonly column: ColumnId
  readonly computed: readonly BlockRows[]
  readonly changed: readonly BlockRows[]
  /** Rows left behind their sources, to be computed later. */
  readonly stale: readonly BlockRows[]
}

/** When calculated columns follow their sources: at once, or when somebody asks for it. */
export type CalculationMode = 'live' | 'on-demand'

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

/** Cells of a column that one edit computes before it returns. */
const MOST_AT_ONCE = 250_000
const NO_ROWS: Selection = { rows: null, count: 0 }

/** Keeps calculated columns in step with their sources. It knows columns, rows, links and plans, and nothing of their names. */
export class Engine {
  /** Which columns the formula of a column reads, over whatever way. */
  readonly graph: DependencyGraph = new DependencyGraph()
  /** Named values and tallies, which are calculated like the columns of a table with one row. */
  readonly singles: TableStore = new TableStore()
  readonly #registry: NodeRegistry = new NodeRegistry()
  readonly #computed: Map<ColumnId, ComputedColumn> = new Map()
  /** Keys of the shared nodes that each column uses. */
  readonly #held: Map<ColumnId, readonly string[]> = new Map()
  readonly #tables: Map<string, TableStore> = new Map()
  readonly #links: Map<LinkId, LinkParts> = new Map()
  readonly #frames: Frames = new Frames()
  #ringCount = 0
  readonly #mostAtOnce: number
  #clockMoved = false
  mode: CalculationMode = 'live'
  readonly #folding: Frame
  readonly #surrounding: Surrounding
  surroundings: Surroundings

  /** @param mostAtOnce - cells of a column that one edit computes at once; more are left behind and settled later */
  constructor(surroundings: Surroundings, mostAtOnce: number = MOST_AT_ONCE) {
    this.surroundings = surroundings
    this.#mostAtOnce = mostAtOnce
    this.#folding = new Frame(onlyConstants(surroundings))
    this.singles.rows.insert(1)
    this.#surrounding = {
      frames: this.#frames,
      surroundings: () => this.surroundings,
      singles: this.singles,
      compile: (expression) => compilePlan({ expression, watches: [] }, this.#folding),
      table: (name) => this.#known(this.#tables.get(foldName(name)), `table ${name}`),
      link: (id) => this.#known(this.#links.get(id), `link ${id}`),
    }
  }

  #known<Thing>(thing: Thing | undefined, what: string): Thing {
    if (thing === undefined) throw new ReferenceError(`there is no ${what}`)
    return thing
  }

  /** Moves the clock and the seed; what reads them is computed with the next recalculation. */
  tick(now: number, seed: number): void {
    this.surroundings = { ...this.surroundings, now, seed }
    this.#clockMoved = true
  }

  /** Takes a table in, under the name that formulas read it by. */
  addTable(name: string, store: TableStore): void {
    this.#tables.set(foldName(name), store)
  }

  /** Lets a table go. */
  removeTable(name: string): void {
    this.#tables.delete(foldName(name))
  }

  /** Takes a link in. */
  addLink(id: LinkId, parts: LinkParts): void {
    this.#links.set(id, parts)
  }

  /** Lets a link go that no formula follows. */
  removeLink(id: LinkId): void {
    this.#links.delete(id)
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
      const lowering = new Lowering(this.#surrounding, inner)
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
    this.#computed.delete(column)
    this.graph.remove(column)
    this.#registry.drop(column)
    for (const key of this.#held.get(column) ?? []) this.#registry.release(key)
    this.#held.delete(column)
  }

  /** Compiles a formula with this engine's scratch space. */
  compile(formula: CheckedFormula): Plan {
    return compilePlan(formula, this.#folding)
  }

  /** Gives a plan its readings; the keys of the nodes it shares are to be given back. */
  #lower(plan: Plan, store: TableStore): { lowered: LoweredPlan; keys: string[] } {
    const keys: string[] = []
    const lowering = new Lowering(this.#surrounding, (key, make) => {
      keys.push(key)
      return this.#registry.acquire(key, make)
    })
    return { lowered: lowering.lower(plan, store), keys }
  }

  /**
   * Recalculates what depends on the rows and cells touched, sources before dependants; only cells that really changed are
   * passed on. In a workbook that calculates on demand, and where one edit would move very many cells of a column, the cells
   * touched are noted as behind instead.
   */
  recalculate(dirty: ReadonlyMap<TableStore, DirtyRows>): ColumnOutcome[] {
    const seeds = new Set<ColumnId>()
    const tables = new Map<TableStore, TouchedRows>()
    const cells = new Map<ColumnId, ReadonlyMap<number, Selection>>()
    for (const [store, { inserted, removed, everyRow, reordered, cells: written }] of dirty) {
      tables.set(store, { inserted: rowsByBlock(inserted), removed, everyRow, reordered })
      if (everyRow || reordered || inserted.size > 0 || removed.size > 0) seeds.add(store.rowsNode)
      for (const [column, slots] of written) {
        seeds.add(column)
        cells.set(column, rowsByBlock(slots))
      }
    }
    return this.#run(seeds, tables, cells)
  }

  #run(
    seeds: Set<ColumnId>,
    tables: ReadonlyMap<TableStore, TouchedRows>,
    cells: ReadonlyMap<ColumnId, ReadonlyMap<number, Selection>>,
  ): ColumnOutcome[] {
    const registry = this.#registry
    const fresh = registry.takeFresh()
    for (const id of fresh) seeds.add(id)
    if (this.#clockMoved) seeds.add(CLOCK_NODE)
    if (seeds.size === 0) return []
    // What is new is computed at once, so what it reads has to be there.
    const settled = this.mode === 'live' ? this.settle([...fresh].flatMap((id) => registry.node(id)?.sources ?? [])) : []
    const order = this.#downstream(seeds)
    const round = new Round(tables, fresh, this.#mostAtOnce, this.#clockMoved)
    this.#clockMoved = false
    for (const [column, rows] of cells) round.noteChanged(column, rows)
    for (const id of order) {
      const node = registry.node(id)
      if (node === undefined) continue
      const waits = (this.mode === 'on-demand' && node.canWait) || node.isBehind || registry.hasSourceBehind(node)
      if (waits) node.postpone(round)
      else node.update(round)
      registry.noteWhetherBehind(node)
    }
    round.end()
    return [...settled, ...this.#outcomes(round, order)]
  }

  #downstream(seeds: Iterable<NodeId>): NodeId[] {
    const walked = this.#registry.graph.downstream(seeds)
    if ('cycle' in walked) throw new Error(`a cycle reached the engine: ${walked.cycle.join(' → ')}`)
    return walked.order
  }

  #outcomes(round: Round, order: readonly NodeId[]): ColumnOutcome[] {
    const list = (rows: RowsByBlock | undefined): BlockRows[] =>
      [...(rows ?? [])].map(([block, selection]) => ({ block, selection }))
    return order.flatMap((column) => {
      if (!this.#computed.has(column)) return []
      const [computed, stale] = [round.computedIn(column), list(round.staleIn(column))]
      if (computed === undefined && stale.length === 0) return []
      const changed = computed === undefined ? [] : list(round.changedIn(column))
      return [{ column, computed: computed ?? [], changed, stale }]
    })
  }

  /** True when a column, or any if none is given, has rows that are yet to be computed. */
  isBehind(column?: ColumnId): boolean {
    return column === undefined ? this.#registry.behind.size > 0 : this.#registry.behind.has(column)
  }

  /** The rows of a column that are yet to be computed. */
  rowsBehind(column: ColumnId): BlockRows[] {
    const node = this.#registry.node(column)
    const store = this.#computed.get(column)?.store
    if (node?.isBehind !== true || store === undefined) return []
    const rows = node instanceof RowColumn ? node.backlog.rowsIn(store) : everyRowOf(store)
    return [...rows].map(([block, selection]) => ({ block, selection }))
  }

  /** Computes what is behind of some columns and of all they are made from; of everything when not given. */
  settle(columns?: Iterable<ColumnId>): ColumnOutcome[] {
    if (this.#registry.behind.size === 0) return []
    return this.#settleNodes(this.#registry.behindUpTo(columns), () => undefined)
  }

  /** What is behind now, so that what falls behind from here on can be told apart. */
  behindNow(): ReadonlySet<NodeId> {
    return new Set(this.#registry.behind)
  }

  /** Computes what has fallen behind since: after something that came to nothing, cells are not stale that were not before. */
  settleSince(before: ReadonlySet<NodeId>): void {
    this.settle([...this.#registry.behind].filter((id) => !before.has(id)))
  }

  /** Computes what is behind of a column in one block of its table, which is what somebody is about to look at. */
  settleBlock(column: ColumnId, block: number): void {
    const store = this.#computed.get(column)?.store
    if (store === undefined || !this.isBehind(column)) return
    const byBlock = this.#rowByRow(column, store)
    this.#settleNodes(this.#registry.behindUpTo([column]), (id) => (byBlock.has(id) ? block : undefined))
  }

  /** The columns behind a column, along formulas that look at their own row, of which one block alone can be computed. */
  #rowByRow(column: ColumnId, store: TableStore): Set<NodeId> {
    const whole = new Set<NodeId>()
    const found = new Set<NodeId>()
    const open = [column]
    for (let id = open.pop(); id !== undefined; id = open.pop()) {
      const node = this.#registry.node(id)
      if (found.has(id) || !(node instanceof RowColumn) || this.#computed.get(id)?.store !== store) continue
      found.add(id)
      const own = new Set(node.lowered.plan.sources)
      for (const source of node.sources) {
        if (own.has(source)) open.push(source)
        else whole.add(source)
      }
    }
    // What something reads from other rows has to be there in full, and all it is made from.
    for (const id of this.#registry.behindUpTo(whole)) found.delete(id)
    return found
  }

  #settleNodes(order: readonly NodeId[], blockOf: (id: NodeId) => number | undefined): ColumnOutcome[] {
    const round = new Round(new Map(), new Set())
    for (const id of order) {
      const node = this.#registry.node(id)
      if (node === undefined) continue
      node.settle(round, blockOf(id))
      this.#registry.noteWhetherBehind(node)
      const storage = this.#computed.get(id)?.store.column(id)
      if (storage !== undefined) round.clearAfterwards(storage)
    }
    round.end()
    return this.#outcomes(round, order)
  }

  /** Computes a little of what is behind: a block of a column, or an index. */
  settleStep(): ColumnOutcome[] {
    const [id] = this.#registry.behindUpTo()
    const node = id === undefined ? undefined : this.#registry.node(id)
    if (id === undefined || node === undefined) return []
    const block = node instanceof RowColumn ? node.backlog.firstBlock() : undefined
    return this.#settleNodes([id], () => block)
  }

  /**
   * The storage of a column, for somebody who is about to read some of its rows, or all: what is behind there is computed
   * first, unless the workbook calculates on demand and so shows what was last calculated.
   */
  storage(store: TableStore, column: ColumnId, slots?: Iterable<number>): Column | undefined {
    if (this.mode === 'live' && this.isBehind(column)) {
      if (slots === undefined) this.settle([column])
      else for (const block of new Set(Array.from(slots, (slot) => slot >> BLOCK_SHIFT))) this.settleBlock(column, block)
    }
    return store.column(column)
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
      this.#computeFresh(lowered)
      lowered.with(store, (frame, source) => {
        source.target = watch.target ?? 0
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

  /** Computes what a formula that is not kept needs besides what is there; on demand, from what is shown. */
  #computeFresh(lowered: LoweredPlan): void {
    const registry = this.#registry
    const fresh = registry.takeFresh()
    if (this.mode === 'live') this.settle([...lowered.sources, ...[...fresh].flatMap((id) => registry.node(id)?.sources ?? [])])
    if (fresh.size === 0) return
    const round = new Round(new Map(), fresh)
    for (const id of this.#downstream(fresh)) if (fresh.has(id)) registry.node(id)?.update(round)
    round.end()
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
    return store.rows.inOrder().filter((slot) => isTrue[slot] === 1)
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
    rowIdOf: refuse('a row'),
    fill: refuse('what is read from other rows'),
    holidays: refuse('a list of days'),
  }
}
