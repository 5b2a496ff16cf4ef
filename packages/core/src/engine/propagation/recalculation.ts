import { BLOCK_SHIFT, type Column, type Selection } from '../../columns/index.js'
import type { ColumnId } from '../../formula/index.js'
import type { TableStore } from '../storage/index.js'
import { everyRowOf, type RowsByBlock, rowsByBlock } from '../storage/index.js'
import type { DirtyRows } from './dirty-rows.js'
import type { EngineNode } from './node.js'
import type { NodeId } from './node-id.js'
import { CLOCK_NODE } from './node-id.js'
import { NodeRegistry } from './node-registry.js'
import { PropagationPass, type TouchedRows } from './propagation-pass.js'

/** What recalculating did to one column. */
export interface ColumnOutcome {
  readonly column: ColumnId
  readonly computed: RowsByBlock
  readonly changed: RowsByBlock
  /** Rows left stale, to be computed later. */
  readonly stale: RowsByBlock
}

/** When calculated columns follow their sources: at once, or when someone asks for it. */
export type CalculationMode = 'live' | 'on-demand'

const NO_ROWS: RowsByBlock = new Map()

/** Cells of a column that one edit computes before it returns. */
const MOST_AT_ONCE = 250_000

/** Brings the nodes of a workbook up to date with what was touched: at once, on demand, or later where it is too much at once. */
export class Recalculation {
  readonly registry: NodeRegistry = new NodeRegistry()
  /** The table of a calculated column; undefined for anything else. */
  readonly storeOf: (column: ColumnId) => TableStore | undefined
  readonly #mostAtOnce: number
  #clockMoved = false
  mode: CalculationMode = 'live'
  /** Told of stale cells that were computed because someone reads them. */
  onFlush: (outcomes: readonly ColumnOutcome[]) => void = () => undefined

  /** @param mostAtOnce - cells of a column that one edit computes at once; more are left stale and computed later */
  constructor(storeOf: (column: ColumnId) => TableStore | undefined, mostAtOnce: number = MOST_AT_ONCE) {
    this.storeOf = storeOf
    this.#mostAtOnce = mostAtOnce
  }

  /** Notes that the clock or the seed has moved: what reads them is computed with the next run. */
  noteClock(): void {
    this.#clockMoved = true
  }

  /**
   * Recalculates what depends on the rows and cells touched, sources before dependents; only cells that really changed are
   * passed on. In a workbook that calculates on demand, and where one edit would move very many cells of a column, the cells
   * touched are noted as stale instead.
   *
   * @param isLater - whether everything that can wait is to wait, for someone who flushes it step by step
   */
  run(dirty: ReadonlyMap<TableStore, DirtyRows>, isLater = false): ColumnOutcome[] {
    const seeds = new Set<ColumnId>()
    const tables = new Map<TableStore, TouchedRows>()
    const cells = new Map<ColumnId, ReadonlyMap<number, Selection>>()
    for (const [store, { inserted, removed, successorsOfRemoved, everyRow, reordered, cells: written }] of dirty) {
      tables.set(store, { inserted: rowsByBlock(inserted), removed, successorsOfRemoved, everyRow, reordered })
      if (everyRow || reordered || inserted.size > 0 || removed.size > 0) seeds.add(store.rowsNode)
      for (const [column, slots] of written) {
        seeds.add(column)
        cells.set(column, rowsByBlock(slots))
      }
    }
    return this.#visit(seeds, tables, cells, isLater)
  }

  #visit(
    seeds: Set<ColumnId>,
    tables: ReadonlyMap<TableStore, TouchedRows>,
    cells: ReadonlyMap<ColumnId, ReadonlyMap<number, Selection>>,
    isLater: boolean,
  ): ColumnOutcome[] {
    const { registry } = this
    const fresh = registry.takeFresh()
    for (const id of fresh) seeds.add(id)
    if (this.#clockMoved) seeds.add(CLOCK_NODE)
    if (seeds.size === 0) return []
    // What is new is computed at once, so what it reads has to be there.
    const flushed =
      this.mode === 'live' && !isLater ? this.flush([...fresh].flatMap((id) => registry.node(id)?.sources ?? [])) : []
    const order = registry.downstream(seeds)
    this.#materializeFor(order, fresh)
    const pass = new PropagationPass(tables, fresh, this.#mostAtOnce, this.#clockMoved)
    this.#clockMoved = false
    for (const [column, rows] of cells) pass.noteChanged(column, rows)
    for (const id of order) {
      const node = registry.node(id)
      if (node === undefined) continue
      const waits = ((isLater || this.mode === 'on-demand') && node.isDeferrable) || node.isStale || registry.hasStaleSource(node)
      if (waits) node.postpone(pass)
      else node.update(pass)
      registry.noteStaleness(node)
    }
    const outcomes = this.#outcomes(pass, order)
    pass.end()
    return [...flushed, ...outcomes]
  }

  /** Materializes what a visit needs: nodes to be visited are computed in full, as if they were new; nodes only read, first. */
  #materializeFor(order: readonly NodeId[], fresh: Set<NodeId>): void {
    const { registry } = this
    if (!registry.hasUnmaterialized) return
    const visited = new Set(order)
    for (const id of registry.unmaterializedFor(order)) {
      if (visited.has(id)) fresh.add(id)
      else this.#materialize([id])
      registry.noteMaterialized(id)
    }
  }

  #outcomes(pass: PropagationPass, order: readonly NodeId[]): ColumnOutcome[] {
    const outcomes: ColumnOutcome[] = []
    for (const column of order) {
      const [computed, stale] = [pass.computedIn(column), pass.staleIn(column)]
      if ((computed === undefined && stale === undefined) || this.storeOf(column) === undefined) continue
      const changed = computed === undefined ? undefined : pass.changedIn(column)
      outcomes.push({ column, computed: computed ?? NO_ROWS, changed: changed ?? NO_ROWS, stale: stale ?? NO_ROWS })
    }
    return outcomes
  }

  /** True when a column, or any if none is given, has rows that are yet to be computed. */
  isStale(column?: ColumnId): boolean {
    return column === undefined ? this.registry.stale.size > 0 : this.registry.stale.has(column)
  }

  /** The rows of a column that are yet to be computed. */
  staleRowsOf(column: ColumnId): RowsByBlock {
    const node = this.registry.node(column)
    const store = this.storeOf(column)
    if (node?.isStale !== true || store === undefined) return NO_ROWS
    return node.staleRows?.() ?? everyRowOf(store)
  }

  /** Computes what is stale of some columns and of all they are made from; of everything when not given. */
  flush(columns?: Iterable<ColumnId>): ColumnOutcome[] {
    if (this.registry.stale.size === 0) return []
    return this.#flushNodes(this.registry.staleUpTo(columns), (node, pass) => node.flush(pass))
  }

  /** What is stale now, so that what becomes stale from here on can be told apart. */
  staleNow(): ReadonlySet<NodeId> {
    return new Set(this.registry.stale)
  }

  /** Computes what has become stale since: after something that came to nothing, cells are not stale that were not before. */
  flushSince(before: ReadonlySet<NodeId>): void {
    // In a live workbook no one sees a stale cell: it is calculated when it is read.
    if (this.mode === 'on-demand') this.flush([...this.registry.stale].filter((id) => !before.has(id)))
  }

  /** Computes what is stale of a column in one block of its table, which is what someone is about to look at. */
  flushBlock(column: ColumnId, block: number): void {
    const store = this.storeOf(column)
    if (store === undefined || !this.isStale(column)) return
    const byBlock = this.#rowByRow(column, store)
    const outcomes = this.#flushNodes(this.registry.staleUpTo([column]), (node, pass) =>
      node.flush(pass, byBlock.has(node.id) ? block : undefined),
    )
    this.onFlush(outcomes)
  }

  /** The stale columns that a column is made from, along formulas that look at their own row, of which one block alone can be computed. */
  #rowByRow(column: ColumnId, store: TableStore): Set<NodeId> {
    const whole = new Set<NodeId>()
    const found = new Set<NodeId>()
    const open = [column]
    for (let id = open.pop(); id !== undefined; id = open.pop()) {
      const node = this.registry.node(id)
      if (found.has(id) || node?.sameRowSources === undefined || this.storeOf(id) !== store) continue
      found.add(id)
      const own = new Set(node.sameRowSources)
      for (const source of node.sources) {
        if (own.has(source)) open.push(source)
        else whole.add(source)
      }
    }
    // What something reads from other rows has to be there in full, and all it is made from.
    for (const id of this.registry.staleUpTo(whole)) found.delete(id)
    return found
  }

  #flushNodes(order: readonly NodeId[], flush: (node: EngineNode, pass: PropagationPass) => void): ColumnOutcome[] {
    const fresh = new Set<NodeId>()
    this.#materializeFor(order, fresh)
    const pass = new PropagationPass(new Map(), fresh)
    for (const id of order) {
      const node = this.registry.node(id)
      if (node === undefined) continue
      if (fresh.has(id)) node.update(pass)
      else flush(node, pass)
      this.registry.noteStaleness(node)
      const storage = this.storeOf(id)?.column(id)
      if (storage !== undefined) pass.clearAfterwards(storage)
    }
    const outcomes = this.#outcomes(pass, order)
    pass.end()
    return outcomes
  }

  /** Steps of flushing that are left, for some columns and all they are made from; for everything when not given. */
  stepsLeft(columns?: Iterable<ColumnId>): number {
    return this.registry.staleUpTo(columns).reduce((sum, id) => sum + (this.registry.node(id)?.stepsLeft ?? 1), 0)
  }

  /** Computes a little of what is stale: a block of a column, or an index. */
  flushStep(columns?: Iterable<ColumnId>): ColumnOutcome[] {
    const [id] = this.registry.staleUpTo(columns)
    const node = id === undefined ? undefined : this.registry.node(id)
    if (id === undefined || node === undefined) return []
    return this.#flushNodes([id], (one, pass) => {
      if (one.flushSome === undefined) one.flush(pass)
      else one.flushSome(pass)
    })
  }

  /** Computes what a formula that is not kept needs besides what is there; on demand, from what is shown. */
  computeFresh(needed: readonly NodeId[]): void {
    const { registry } = this
    const fresh = registry.takeFresh()
    if (this.mode === 'live')
      this.onFlush(this.flush([...needed, ...[...fresh].flatMap((id) => registry.node(id)?.sources ?? [])]))
    this.#materialize(registry.unmaterializedFor([...needed, ...fresh]))
    if (fresh.size > 0) this.#compute(registry.downstream(fresh).filter((id) => fresh.has(id)))
  }

  /** Computes nodes in full, sources first. */
  #compute(ids: readonly NodeId[]): void {
    const pass = new PropagationPass(new Map(), new Set(ids))
    for (const id of ids) this.registry.node(id)?.update(pass)
    pass.end()
  }

  /** Computes unmaterialized nodes in full; what is made from something stale stays stale with it. */
  #materialize(ids: readonly NodeId[]): void {
    const pass = new PropagationPass(new Map(), new Set(ids))
    for (const id of ids) {
      const node = this.registry.node(id)
      this.registry.noteMaterialized(id)
      if (node === undefined) continue
      if (this.registry.hasStaleSource(node)) node.postpone(pass)
      else node.update(pass)
      this.registry.noteStaleness(node)
    }
    pass.end()
    const readers = new Set(ids.flatMap((id) => [...this.registry.nodeGraph.dependentsOf(id)]))
    for (const id of readers) this.registry.node(id)?.prime?.()
  }

  /** Takes columns as they come from a file; `stale` are the rows of them that were yet to be computed. */
  open(stale: ReadonlyMap<ColumnId, readonly number[]>): void {
    const { registry } = this
    registry.unmaterialize()
    const seeds = new Set<NodeId>(stale.keys())
    for (const [column, slots] of stale) {
      const node = registry.node(column)
      node?.restoreStale?.(rowsByBlock(slots))
      // A column of a ring waits for the ring, which is a node of its own.
      for (const source of node?.sources ?? []) if (registry.node(source)?.isStale === true) seeds.add(source)
    }
    for (const id of registry.downstream(seeds)) {
      const node = registry.node(id)
      if (node !== undefined) registry.noteStaleness(node)
    }
  }

  /**
   * Makes what a file does not hold of all that some columns, or rows of tables, have to do with, while they are as they were:
   * so an edit is followed row by row. Of everything when nothing is given.
   */
  prepare(touched?: () => Iterable<NodeId>): void {
    const { registry } = this
    if (!registry.hasUnmaterialized) return
    this.#materialize(
      touched === undefined ? registry.allUnmaterialized() : registry.unmaterializedFor(registry.downstream(new Set(touched()))),
    )
  }

  /**
   * The storage of a column, for someone who is about to read some of its rows, or all: what is stale there is computed
   * first, unless the workbook calculates on demand and so shows what was last calculated.
   */
  storage(store: TableStore, column: ColumnId, slots?: Iterable<number>): Column | undefined {
    if (this.mode === 'live' && this.isStale(column)) {
      if (slots === undefined) this.onFlush(this.flush([column]))
      else for (const block of new Set(Array.from(slots, (slot) => slot >> BLOCK_SHIFT))) this.flushBlock(column, block)
    }
    return store.column(column)
  }
}
