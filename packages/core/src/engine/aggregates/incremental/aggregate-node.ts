import {
  BLOCK_MASK,
  BLOCK_ROWS,
  BLOCK_SHIFT,
  type Cell,
  Column,
  makeVector,
  type Selection,
  type Vector,
} from '../../../columns/index.js'
import type { EngineNode, IndexMemory, NodeId, PropagationPass } from '../../propagation/index.js'
import { cellOf, copyCell, putCell, sameCell, slotsOf } from '../../storage/index.js'
import { Accumulator, isSummed, mindsOrder } from './accumulator.js'
import type { AggregateParts } from './aggregate-parts.js'
import type { IncrementalAggregate } from './incremental-aggregate.js'
import { IncrementalExtremes } from './incremental-extremes.js'
import { IncrementalLargeGroups } from './incremental-large-groups.js'
import { IncrementalOrderStatistics } from './incremental-order-statistics.js'
import { IncrementalSum } from './incremental-sum.js'
import { IncrementalTruthCounts } from './incremental-truth-counts.js'
import { IncrementalVariance } from './incremental-variance.js'

/** The results of an aggregate, one a group; groups whose rows or cells changed are computed again. */
export class AggregateNode implements EngineNode {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly parts: AggregateParts
  /** What there is over no rows. */
  readonly empty: Cell
  readonly #results: Column
  readonly #accumulator: Accumulator
  /** Rows of a block, while they are taken in. */
  readonly #rows: Uint16Array = new Uint16Array(BLOCK_ROWS)
  /** Texts of a few rows, by column. */
  readonly #fewTexts: Map<NodeId, Vector> = new Map()
  /** What follows single rows; null for aggregates that look at their rows again. */
  readonly #incremental: IncrementalAggregate | null
  #occupied = 0
  #pass: PropagationPass | null = null
  #changed: Set<number> | null = new Set()
  readonly isDeferrable = true
  /** Groups that are yet to be computed; null for all. */
  #deferred: Set<number> | null = new Set()

  constructor(id: NodeId, parts: AggregateParts) {
    this.id = id
    this.parts = parts
    const { args, where, keys, groups, store } = parts
    // Which rows there are, and in which order, reaches it even where the groups stay as they are.
    this.sources = [...args, ...(where === null ? [] : [where]), ...keys, ...(groups === null ? [] : [groups.id]), store.rowsNode]
    this.#accumulator = new Accumulator(parts)
    this.empty = this.#accumulator.result()
    this.#results = new Column(parts.type)
    this.#incremental = this.#incrementalOf(parts)
  }

  #incrementalOf(parts: AggregateParts): IncrementalAggregate | null {
    if (isSummed(parts)) return new IncrementalSum(parts)
    const lookAgain = (group: number): Cell => this.#resultOver(group)
    if (IncrementalVariance.canKeep(parts)) return new IncrementalVariance(parts, lookAgain)
    if (IncrementalExtremes.canKeep(parts)) return new IncrementalExtremes(parts, lookAgain)
    if (IncrementalTruthCounts.canKeep(parts)) return new IncrementalTruthCounts(parts, lookAgain)
    return IncrementalOrderStatistics.canKeep(parts) ? new IncrementalOrderStatistics(parts, lookAgain) : null
  }

  /** True when its results follow single rows; otherwise a group in which something has changed is looked at again. */
  get followsRows(): boolean {
    return this.#incremental !== null
  }

  /** The result of a group. */
  resultOf(group: number): Cell {
    return this.#sizeOf(group) === 0 ? this.empty : cellOf(this.#results, group)
  }

  /** Writes the result of a group into a row of a vector. */
  fill(group: number, out: Vector, row: number): void {
    putCell(out, row, this.resultOf(group))
  }

  /** The groups whose result changed in this pass; null when all may have. */
  changedIn(pass: PropagationPass): Set<number> | null {
    return this.#pass === pass ? this.#changed : new Set()
  }

  memory(): IndexMemory {
    const { store, args } = this.parts
    const kind = this.#incremental instanceof IncrementalLargeGroups ? 'kept values' : 'kept sums'
    return { kind, store, columns: args, bytes: this.#results.byteLength() + (this.#incremental?.byteLength ?? 0) }
  }

  get isStale(): boolean {
    return this.#deferred === null || this.#deferred.size > 0
  }

  update(pass: PropagationPass): void {
    const inFull = this.#isInFull(pass)
    this.#pass = pass
    this.#changed = inFull ? null : new Set()
    const kept = this.#incremental?.follow(pass, inFull)
    // Sums that were all accumulator anew may all be others; what is looked at again is so only where something was touched.
    const isAll = inFull || (kept === null && !(this.#incremental instanceof IncrementalLargeGroups))
    if (isAll) this.#changed = null
    this.#compute(isAll ? this.#allGroups() : (kept ?? this.#touched(pass)))
  }

  postpone(pass: PropagationPass): void {
    const touched = this.#isInFull(pass) || pass.rowsOf(this.parts.store).everyRow ? null : this.#touched(pass)
    this.#pass = pass
    this.#changed = touched
    this.#incremental?.passOver(pass)
    if (touched === null || this.#deferred === null) this.#deferred = null
    else for (const group of touched) this.#deferred.add(group)
  }

  flush(pass: PropagationPass): void {
    const waiting = this.#deferred
    this.#incremental?.passOver(pass)
    this.#deferred = new Set()
    if (waiting === null) this.#incremental?.rebuild()
    else if (this.#incremental?.recompute(waiting) === false) return this.#compute(this.#allGroups())
    this.#compute(waiting ?? this.#allGroups())
  }

  #isInFull(pass: PropagationPass): boolean {
    const isReordered = pass.rowsOf(this.parts.store).reordered && mindsOrder(this.parts)
    return isReordered || pass.fresh.has(this.id) || this.parts.groups?.rebuiltIn(pass) === true
  }

  #compute(dirty: Iterable<number>): void {
    for (const group of dirty) {
      const result = this.#resultNow(group)
      while (this.#occupied <= group) this.#results.occupy(this.#occupied++)
      // A group that has lost its last row is computed too, so what is kept is always what is seen.
      if (sameCell(cellOf(this.#results, group), result)) continue
      this.#results.write(group, result)
      this.#changed?.add(group)
    }
  }

  #resultNow(group: number): Cell {
    if (this.#sizeOf(group) === 0) return this.empty
    return this.#incremental === null ? this.#resultOver(group) : this.#incremental.resultOf(group)
  }

  #sizeOf(group: number): number {
    const { groups, store } = this.parts
    return groups === null ? store.rows.rowCount : groups.members.sizeOf(group)
  }

  /** Groups with rows, and those that had some: what is kept of them is to be the result over none. */
  *#allGroups(): Generator<number> {
    const { groups } = this.parts
    if (groups === null) return yield 0
    yield* groups.members.groups()
    for (let group = 0; group < this.#occupied; group++) if (groups.members.sizeOf(group) === 0) yield group
  }

  #touched(pass: PropagationPass): Set<number> {
    const { groups, args, where, keys, store } = this.parts
    const { inserted, removed, everyRow } = pass.rowsOf(store)
    if (groups === null) {
      const isTouched =
        everyRow || inserted.size > 0 || removed.size > 0 || this.sources.some((id) => pass.changedIn(id) !== undefined)
      return new Set(isTouched ? [0] : [])
    }
    const dirty = groups.groupsMovedIn(pass)
    for (const column of [...args, ...(where === null ? [] : [where]), ...keys]) {
      for (const slot of slotsOf(pass.changedIn(column))) {
        const group = groups.groupOf(slot)
        if (group >= 0) dirty.add(group)
      }
    }
    return dirty
  }

  #resultOver(group: number): Cell {
    const { groups, store } = this.parts
    if (groups !== null) return this.#resultOverList(groups.members.listOf(group))
    this.#accumulator.clear()
    for (let block = 0; block < store.blockCount; block++) this.#takeBlock(this.#accumulator, block, store.liveRows(block))
    return this.#accumulator.result()
  }

  /** The result over some rows, whatever their groups; nothing of it is kept. */
  resultOver(slots: Iterable<number>): Cell {
    return this.#resultOverList(Int32Array.from(slots).sort())
  }

  /** The same over rows by slot. */
  #resultOverList(inOrder: Int32Array): Cell {
    this.#accumulator.clear()
    for (let from = 0; from < inOrder.length; ) {
      const block = (inOrder[from] as number) >> BLOCK_SHIFT
      let count = 0
      for (; from < inOrder.length && (inOrder[from] as number) >> BLOCK_SHIFT === block; from++)
        this.#rows[count++] = (inOrder[from] as number) & BLOCK_MASK
      this.#takeBlock(this.#accumulator, block, { rows: this.#rows, count })
    }
    return this.#accumulator.result()
  }

  /** The block of a column, valid on some rows until the next is asked for. */
  #vectorOf(id: NodeId, block: number, { rows, count }: Selection): Vector {
    const column = this.parts.store.column(id)
    if (column?.type !== 'text' || rows === null || count > FEW_TEXTS) return column?.block(block, BLOCK_ROWS) ?? NOTHING
    const few = this.#fewTexts.get(id) ?? makeVector('text', BLOCK_ROWS)
    this.#fewTexts.set(id, few)
    for (let k = 0; k < count; k++) copyCell(column, (block << BLOCK_SHIFT) + (rows[k] as number), few, rows[k] as number)
    return few
  }

  #takeBlock(accumulator: Accumulator, block: number, rows: Selection): void {
    const { store, where, args, keys } = this.parts
    const vectorOf = (id: NodeId): Vector => this.#vectorOf(id, block, rows)
    const kept = where === null ? rows : accumulator.holding(rows, vectorOf(where))
    if (kept.count > 0) accumulator.takeBlock(store, block, kept, args.map(vectorOf), keys.map(vectorOf))
  }
}

/** Rows of a block up to which texts are looked up one by one, where the block is not accumulator as a whole. */
const FEW_TEXTS = 256

/** A block of a column that has no values yet. */
const NOTHING: Vector = makeVector('number', BLOCK_ROWS)
