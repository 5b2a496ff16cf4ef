import { BLOCK_SHIFT, type Cell, type Selection, type Vector } from '../../columns/index.js'
import { CellFault } from '../../values/index.js'
import { cellAt } from '../cells.js'
import { rowsByBlock } from '../dirty-rows.js'
import type { LoweredPlan } from '../lowered-plan.js'
import type { NodeId } from '../node.js'
import type { Round } from '../round.js'
import type { TableStore } from '../table-store.js'
import { type AggregateCall, aggregateOf, type TakenRow, worse } from './taken-rows.js'

/** Expressions over pairs of rows: those read, and the one they are read for. */
export interface PairPlans {
  readonly where: LoweredPlan | null
  readonly args: readonly LoweredPlan[]
  readonly keys: readonly LoweredPlan[]
}

/** Evaluates an aggregate for one row by looking at rows one after the other: always right, and as slow as it sounds. */
export class PairScan {
  readonly #store: TableStore
  readonly #plans: PairPlans
  readonly sources: readonly NodeId[]

  constructor(store: TableStore, plans: PairPlans) {
    this.#store = store
    this.#plans = plans
    this.sources = this.#all.flatMap((plan) => plan.sources)
  }

  get #all(): readonly LoweredPlan[] {
    const { where, args, keys } = this.#plans
    return [...(where === null ? [] : [where]), ...args, ...keys]
  }

  /** True when something about the rows read has changed in this round, other than which rows there are. */
  hasChangedIn(round: Round): boolean {
    return this.#all.some((lowered) => {
      if (lowered.plan.sources.some((column) => round.changedIn(column) !== undefined)) return true
      const touched = lowered.touched(round)
      return touched === null || touched.size > 0
    })
  }

  /** What the aggregate gives for a row, over some rows or all. */
  aggregate(call: AggregateCall, slot: number, rows: Iterable<number> | null): Cell {
    const taken: TakenRow[] = []
    let fault: CellFault | null = null
    for (const [block, candidates] of this.#blocks(rows)) {
      const { kept, fault: found } = this.#hold(slot, block, candidates)
      fault = worse(fault, found)
      if (kept.count === 0) continue
      const args = this.#plans.args.map((plan) => this.#cells(plan, slot, block, kept))
      const keys = this.#plans.keys.map((plan) => this.#cells(plan, slot, block, kept))
      for (let k = 0; k < kept.count; k++) {
        const row = kept.rows === null ? k : (kept.rows[k] as number)
        const place = this.#store.rows.placeOf((block << BLOCK_SHIFT) + row)
        taken.push({ place, args: args.map((cells) => cells[k] as Cell), keys: keys.map((cells) => cells[k] as Cell) })
      }
    }
    return aggregateOf(call, taken, fault)
  }

  /** The rows that the aggregate takes in for a row, of some rows or all: those for which its condition is true. */
  taken(slot: number, rows: Iterable<number> | null): number[] {
    const taken: number[] = []
    for (const [block, candidates] of this.#blocks(rows)) {
      const { kept } = this.#hold(slot, block, candidates)
      for (let k = 0; k < kept.count; k++)
        taken.push((block << BLOCK_SHIFT) + (kept.rows === null ? k : (kept.rows[k] as number)))
    }
    return taken
  }

  *#blocks(rows: Iterable<number> | null): IterableIterator<[number, Selection]> {
    if (rows !== null) yield* rowsByBlock(rows)
    else for (let block = 0; block < this.#store.blockCount; block++) yield [block, this.#store.liveRows(block)]
  }

  /** The rows of a block for which the condition is true, and the error it gives on any. */
  #hold(slot: number, block: number, candidates: Selection): { kept: Selection; fault: CellFault | null } {
    const { where } = this.#plans
    if (where === null) return { kept: candidates, fault: null }
    const kept = new Uint16Array(candidates.count)
    let count = 0
    let fault: CellFault | null = null
    this.#run(where, slot, block, candidates, (row, vector) => {
      const holds = cellAt(vector, row)
      if (holds === true) kept[count++] = row
      else if (holds instanceof CellFault) fault = worse(fault, holds)
    })
    return { kept: { rows: kept.subarray(0, count), count }, fault }
  }

  #cells(plan: LoweredPlan, slot: number, block: number, rows: Selection): Cell[] {
    const cells: Cell[] = []
    this.#run(plan, slot, block, rows, (row, vector) => cells.push(cellAt(vector, row)))
    return cells
  }

  #run(plan: LoweredPlan, slot: number, block: number, rows: Selection, visit: (row: number, vector: Vector) => void): void {
    plan.at(slot)
    plan.run(this.#store, block, rows, (vector) => {
      for (let k = 0; k < rows.count; k++) visit(rows.rows === null ? k : (rows.rows[k] as number), vector)
    })
  }
}
