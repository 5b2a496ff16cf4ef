import type { Selection, Vector } from '../../columns/index.js'
import type { Frame, Plan } from '../../formula/index.js'
import type { Surroundings } from '../../values/index.js'
import type { PropagationPass } from '../propagation/index.js'
import { CLOCK_NODE, type NodeId } from '../propagation/index.js'
import type { TableStore } from '../storage/index.js'
import { type RowsByBlock, rowsByBlock } from '../storage/index.js'
import { BlockSource } from './block-source.js'
import type { CrossRowInput, PlanSupply } from './cross-row-input.js'
import type { Frames } from './frames.js'

const NONE: readonly RowsByBlock[] = []

/** A plan with all it reads: it can be run over the rows of its table. */
export class LoweredPlan {
  readonly plan: Plan
  readonly inputs: readonly CrossRowInput[]
  /** Columns of its own table, and whatever its inputs follow. */
  readonly sources: readonly NodeId[]
  readonly #supply: PlanSupply
  readonly #frames: Frames
  readonly #surroundings: () => Surroundings

  constructor(plan: Plan, supply: PlanSupply, frames: Frames, surroundings: () => Surroundings) {
    this.plan = plan
    this.inputs = supply.inputs
    this.#supply = supply
    this.#frames = frames
    this.#surroundings = surroundings
    const clock = plan.movesWithClock ? [CLOCK_NODE] : []
    this.sources = [...plan.sources, ...clock, ...[...supply.inputs, ...supply.lists].flatMap((one) => one.sources)]
  }

  /** Reads for another row from now on. */
  at(slot: number): void {
    for (const outer of this.#supply.outers) outer.slot = slot
  }

  /** Runs something with a frame that reads blocks of a table for this plan. */
  with<Result>(store: TableStore, run: (frame: Frame, source: BlockSource) => Result): Result {
    const source = new BlockSource(store, this.#surroundings(), this.#supply)
    return this.#frames.with(source, (frame) => run(frame, source))
  }

  /** Computes some rows of one block; `visit` gets the result, valid during the call. */
  run(store: TableStore, block: number, rows: Selection, visit: (vector: Vector) => void): void {
    this.with(store, (frame, source) => {
      source.block = block
      visit(frame.run(this.plan.root, rows))
    })
  }

  /** The rows that may have another result after this pass because of other rows, in parts; null when all may. */
  touched(pass: PropagationPass): readonly RowsByBlock[] | null {
    if (this.plan.movesWithClock && pass.clockMoved) return null
    if (this.inputs.length === 0 && this.#supply.lists.length === 0) return NONE
    const parts: RowsByBlock[] = []
    for (const list of this.#supply.lists) if (list.hasChangedIn(pass)) return null
    for (const input of this.inputs) {
      const touched = input.touched(pass)
      if (touched === null) return null
      parts.push(touched instanceof Map ? (touched as RowsByBlock) : rowsByBlock(new Set(touched as Iterable<number>)))
    }
    return parts
  }
}
