import { BLOCK_SHIFT, type Cell, type Selection, type Vector } from '../../../columns/index.js'
import type { LoweredPlan } from '../../lowered-plans/index.js'
import type { NodeId, PropagationPass } from '../../propagation/index.js'
import type { TableStore } from '../../storage/index.js'
import { rowsByBlock, slotsOf } from '../../storage/index.js'
import { Accumulator, type AggregateCall } from '../incremental/index.js'

/** Expressions over pairs of rows: those read, and the one they are read for. */
export interface NestedLoopPlans {
  readonly where: LoweredPlan | null
  readonly args: readonly LoweredPlan[]
  readonly keys: readonly LoweredPlan[]
}

/** Evaluates an aggregate for one row by looking at rows one after the other: always right, and as slow as it sounds. */
export class NestedLoopScan {
  readonly #store: TableStore
  readonly #plans: NestedLoopPlans
  readonly sources: readonly NodeId[]
  #call: AggregateCall | null = null
  #rows: Accumulator | null = null

  constructor(store: TableStore, plans: NestedLoopPlans) {
    this.#store = store
    this.#plans = plans
    this.sources = this.#all.flatMap((plan) => plan.sources)
  }

  get #all(): readonly LoweredPlan[] {
    const { where, args, keys } = this.#plans
    return [...(where === null ? [] : [where]), ...args, ...keys]
  }

  /** True when something about the rows read has changed in this pass, other than which rows there are. */
  hasChangedIn(pass: PropagationPass): boolean {
    return this.#all.some((lowered) => {
      if (lowered.plan.sources.some((column) => pass.changedIn(column) !== undefined)) return true
      const touched = lowered.touched(pass)
      return touched === null || touched.some(({ size }) => size > 0)
    })
  }

  /**
   * Rows read of which a value or key that the aggregate goes by has changed in this pass; null when they are too many to tell.
   *
   * @param withCondition - whether its condition counts too
   */
  rowsChangedIn(pass: PropagationPass, withCondition: boolean): Set<number> | null {
    const rows = new Set<number>()
    const { where, args, keys } = this.#plans
    for (const lowered of withCondition && where !== null ? [where, ...args, ...keys] : [...args, ...keys]) {
      const touched = lowered.touched(pass)
      if (touched === null) return null
      for (const part of [...touched, ...lowered.plan.sources.map((source) => pass.changedIn(source))])
        for (const slot of slotsOf(part)) {
          rows.add(slot)
          if (rows.size > MOST_CHANGED) return null
        }
    }
    return rows
  }

  /** What the aggregate gives for a row, over some rows or all. */
  aggregate(call: AggregateCall, slot: number, rows: Iterable<number> | null): Cell {
    const accumulator = this.#accumulator(call)
    this.#at(slot)
    for (const [block, candidates] of this.#blocks(rows)) this.#takeBlock(accumulator, block, candidates)
    return accumulator.result()
  }

  #accumulator(call: AggregateCall): Accumulator {
    if (this.#call !== call || this.#rows === null) this.#rows = new Accumulator(call)
    else this.#rows.clear()
    this.#call = call
    return this.#rows
  }

  #takeBlock(accumulator: Accumulator, block: number, candidates: Selection): void {
    const { where, args, keys } = this.#plans
    if (where !== null)
      return where.run(this.#store, block, candidates, (condition) => {
        const kept = accumulator.holding(candidates, condition)
        if (kept.count > 0) this.#takeValues(accumulator, block, kept, [...args, ...keys], [])
      })
    this.#takeValues(accumulator, block, candidates, [...args, ...keys], [])
  }

  /** Evaluates arguments and keys one inside the other, since a result is valid during its call alone. */
  #takeValues(
    accumulator: Accumulator,
    block: number,
    rows: Selection,
    plans: readonly LoweredPlan[],
    vectors: readonly Vector[],
  ): void {
    const [next, ...others] = plans
    if (next === undefined) {
      const count = this.#plans.args.length
      return accumulator.takeBlock(this.#store, block, rows, vectors.slice(0, count), vectors.slice(count))
    }
    next.run(this.#store, block, rows, (vector) => this.#takeValues(accumulator, block, rows, others, [...vectors, vector]))
  }

  /** Reads for another row from now on. */
  #at(slot: number): void {
    for (const plan of this.#all) plan.at(slot)
  }

  /** The rows that the aggregate takes in for a row, of some rows or all: those for which its condition is true. */
  taken(call: AggregateCall, slot: number, rows: Iterable<number> | null): number[] {
    const { where } = this.#plans
    const accumulator = this.#accumulator(call)
    const slots: number[] = []
    const list = (block: number, kept: Selection): void => {
      for (let k = 0; k < kept.count; k++)
        slots.push((block << BLOCK_SHIFT) + (kept.rows === null ? k : (kept.rows[k] as number)))
    }
    this.#at(slot)
    for (const [block, candidates] of this.#blocks(rows)) {
      if (where === null) list(block, candidates)
      else where.run(this.#store, block, candidates, (condition) => list(block, accumulator.holding(candidates, condition)))
    }
    return slots
  }

  *#blocks(rows: Iterable<number> | null): IterableIterator<[number, Selection]> {
    if (rows !== null) yield* rowsByBlock(rows)
    else for (let block = 0; block < this.#store.blockCount; block++) yield [block, this.#store.liveRows(block)]
  }
}

/** More changed rows than this are not told one by one. */
const MOST_CHANGED = 64
