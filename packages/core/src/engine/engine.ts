import { BLOCK_SHIFT, type Selection, type Vector } from '../columns/index.js'
import { type CheckedFormula, type ColumnId, compilePlan, Frame, type Plan } from '../formula/index.js'
import { isFaultStatus, Status, type Surroundings, statusOfFault } from '../values/index.js'
import { type DirtyRows, rowsByBlock, uniteSelections } from './dirty-rows.js'
import { DependencyGraph } from './graph.js'
import { BlockSource, type TableStore } from './table-store.js'
import { WatchMarks } from './watch-marks.js'

/** A column as the engine knows it: what computes it and where its watched places are counted. */
export interface ComputedColumn {
  readonly formula: CheckedFormula
  readonly plan: Plan
  readonly marks: WatchMarks
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
  readonly computed: BlockRows[]
  readonly changed: BlockRows[]
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

const NO_ROWS: Selection = { rows: null, count: 0 }

const MISFIT: number = statusOfFault('misfit')
const LARGEST_WHOLE = 2 ** 53

/** Keeps calculated columns in step with their sources. It knows columns, rows and plans, and nothing of names. */
export class Engine {
  readonly graph: DependencyGraph = new DependencyGraph()
  readonly #computed: Map<ColumnId, ComputedColumn> = new Map()
  readonly #frame: Frame
  surroundings: Surroundings

  constructor(surroundings: Surroundings) {
    this.surroundings = surroundings
    const notConstant = (id: ColumnId): never => {
      throw new ReferenceError(`column ${id} is not constant`)
    }
    this.#frame = new Frame({
      surroundings,
      column: notConstant,
      statusOf: notConstant,
      target: 0,
      rowIdOf: notConstant as () => never,
    })
  }

  /** How a column is calculated; undefined for source columns. */
  computed(column: ColumnId): ComputedColumn | undefined {
    return this.#computed.get(column)
  }

  /** Makes a column calculated by a checked formula without errors. Its sources are told to `graph` apart. */
  define(column: ColumnId, formula: CheckedFormula, plan: Plan, wholeOnly: boolean): void {
    this.#computed.set(column, { formula, plan, marks: new WatchMarks(formula.watches.length), wholeOnly })
  }

  /** Makes a column a source column again, or forgets it. */
  forget(column: ColumnId): void {
    this.#computed.delete(column)
    this.graph.remove(column)
  }

  /** Compiles a formula with this engine's scratch space. */
  compile(formula: CheckedFormula): Plan {
    return compilePlan(formula, this.#frame)
  }

  /**
   * Recalculates what depends on the rows and columns touched in one table, sources before dependants, block by block; only
   * cells that really changed are passed on.
   */
  recalculate(store: TableStore, dirty: DirtyRows): ColumnOutcome[] {
    const order = this.#affected(store, dirty)
    if (order.length === 0) return []
    const inFull = dirty.everyRow ? new Set(order) : dirty.columns
    const outcomes = new Map(order.map((column) => [column, { column, computed: [], changed: [] } as ColumnOutcome]))
    const inserted = rowsByBlock(dirty.inserted)
    const cells = new Map([...dirty.cells].map(([column, slots]) => [column, rowsByBlock(slots)]))
    const source = new BlockSource(store, this.surroundings)
    this.#frame.open(source)
    for (const block of blocksToVisit(store, inFull, inserted, cells)) {
      source.block = block
      const fresh = inserted.get(block)
      const changed = new Map<ColumnId, Selection>()
      for (const [column, blocks] of cells) {
        const selection = blocks.get(block)
        if (selection !== undefined) changed.set(column, selection)
      }
      for (const column of order) {
        const outcome = outcomes.get(column) as ColumnOutcome
        const selection = inFull.has(column) ? store.liveRows(block) : this.#touchedRows(column, changed, fresh)
        if (selection.count === 0) continue
        source.target = column
        const after = this.#computeBlock(store, column, block, selection)
        outcome.computed.push({ block, selection })
        if (after.count === 0) continue
        outcome.changed.push({ block, selection: after })
        changed.set(column, after)
      }
    }
    this.#frame.close()
    return order.flatMap((column) => {
      const outcome = outcomes.get(column) as ColumnOutcome
      return outcome.computed.length > 0 ? [outcome] : []
    })
  }

  /** Ends rows, and what was counted of them. */
  removeRows(store: TableStore, slots: readonly number[]): void {
    const blocks = rowsByBlock(slots)
    for (const [column, { marks }] of this.#computed) {
      if (store.column(column) !== undefined) for (const [block, selection] of blocks) marks.clear(block, selection)
    }
    store.vacate(slots)
  }

  #affected(store: TableStore, dirty: DirtyRows): ColumnId[] {
    const seeds = new Set<ColumnId>([...dirty.cells.keys(), ...dirty.columns])
    if (dirty.everyRow || dirty.inserted.size > 0)
      for (const column of this.#computed.keys()) if (store.column(column) !== undefined) seeds.add(column)
    const walked = this.graph.downstream(seeds)
    if ('cycle' in walked) throw new Error(`a cycle reached the engine: ${walked.cycle.join(' → ')}`)
    return walked.order.filter((column) => this.#computed.has(column))
  }

  #touchedRows(column: ColumnId, changed: ReadonlyMap<ColumnId, Selection>, fresh: Selection | undefined): Selection {
    const parts = this.graph.sourcesOf(column).flatMap((source) => changed.get(source) ?? [])
    if (fresh !== undefined) parts.push(fresh)
    return uniteSelections(parts)
  }

  #computeBlock(store: TableStore, column: ColumnId, block: number, selection: Selection): Selection {
    const computed = this.#computed.get(column) as ComputedColumn
    const frame = this.#frame
    const isWatched = computed.formula.watches.length > 0
    frame.marks = isWatched ? frame.lendFlags(selection) : null
    const result = frame.run(computed.plan.root, selection)
    this.#keepMarks(computed.marks, block, selection)
    const conforming = computed.wholeOnly ? wholeNumbers(result, selection, frame) : result
    const storage = store.column(column)
    if (storage === undefined) throw new ReferenceError(`column ${column} has no storage`)
    const after = storage.absorb(block, conforming, selection)
    frame.giveBack(conforming)
    return after
  }

  /**
   * Runs a plan over all rows of a table without keeping anything; `visit` gets each block's result, valid during the call.
   *
   */
  evaluate(
    store: TableStore,
    plan: Plan,
    visit: (block: number, result: Vector, selection: Selection) => void,
    watch: EvaluationWatch = {},
  ): void {
    const source = new BlockSource(store, this.surroundings)
    const frame = this.#frame
    frame.open(source)
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
      if (marks !== undefined) this.#keepMarks(marks, block, selection)
      visit(block, result, selection)
      frame.giveBack(result)
    }
    frame.close()
  }

  /** Counts what a run has marked, in place of what stood there. */
  #keepMarks(marks: WatchMarks, block: number, selection: Selection): void {
    const fresh = this.#frame.marks
    this.#frame.marks = null
    if (fresh === null) return
    marks.replace(block, selection, fresh)
    this.#frame.giveBackFlags(fresh)
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

function blocksToVisit(
  store: TableStore,
  inFull: ReadonlySet<ColumnId>,
  inserted: ReadonlyMap<number, Selection>,
  cells: ReadonlyMap<ColumnId, ReadonlyMap<number, Selection>>,
): number[] {
  if (inFull.size > 0) return Array.from({ length: store.blockCount }, (_, block) => block)
  const blocks = new Set(inserted.keys())
  for (const touched of cells.values()) for (const block of touched.keys()) blocks.add(block)
  return [...blocks].sort((a, b) => a - b)
}

/** A column declared `integer` never truncates: what is not whole is a misfit. */
function wholeNumbers(result: Vector, selection: Selection, frame: Frame): Vector {
  if (result.kind !== 'number') throw new TypeError('only numbers can be whole')
  const out = frame.lend('number')
  for (let k = 0; k < selection.count; k++) {
    const row = selection.rows === null ? k : (selection.rows[k] as number)
    const status = result.status[row] as number
    const value = result.values[row] as number
    const fits = status !== Status.value || (Number.isInteger(value) && Math.abs(value) <= LARGEST_WHOLE)
    out.status[row] = fits || isFaultStatus(status) ? status : MISFIT
    out.values[row] = value
  }
  frame.giveBack(result)
  return out
}
