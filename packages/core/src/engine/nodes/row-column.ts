import type { Selection, Vector } from '../../columns/index.js'
import type { Frame } from '../../formula/index.js'
import { isFaultStatus, isWhole, Status, statusOfFault } from '../../values/index.js'
import type { LoweredPlan } from '../lowered-plans/index.js'
import type { NodeId, PropagationPass } from '../propagation/index.js'
import { DeferrableRows } from '../propagation/index.js'
import type { RowsByBlock, TableStore } from '../storage/index.js'
import { everyRowOf, liveIn, uniteRows } from '../storage/index.js'
import { TextBudget } from './text-budget.js'
import type { WatchMarks } from './watch-marks.js'

const MISFIT: number = statusOfFault('misfit')

/** A column that is calculated row by row, whatever its formula reads from elsewhere. */
export class RowColumn extends DeferrableRows {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly lowered: LoweredPlan
  readonly #marks: WatchMarks | null
  readonly #wholeOnly: boolean
  readonly #end: () => void

  /**
   * @param marks - where watched places are counted; null when no one asks
   * @param wholeOnly - whether only whole numbers within ±2^53 fit
   */
  constructor(
    id: NodeId,
    store: TableStore,
    lowered: LoweredPlan,
    marks: WatchMarks | null,
    wholeOnly: boolean,
    end: () => void,
  ) {
    super(store)
    this.id = id
    this.lowered = lowered
    this.#marks = marks
    this.#wholeOnly = wholeOnly
    this.#end = end
    this.sources = [...lowered.sources, store.rowsNode]
  }

  end(): void {
    this.#end()
  }

  prime(): void {
    for (const input of this.lowered.inputs) input.prime?.()
  }

  get sameRowSources(): readonly NodeId[] {
    return this.lowered.plan.sources
  }

  restoreStale(rows: RowsByBlock): void {
    this.stale.add(rows)
  }

  get stepsLeft(): number {
    return this.stale.blockCount
  }

  flushSome(pass: PropagationPass): void {
    this.flush(pass, this.stale.firstBlock())
  }

  protected compute(pass: PropagationPass, rows: RowsByBlock): void {
    if (rows.size === 0) return
    const changed = new Map<number, Selection>()
    const budget = new TextBudget(this.id)
    this.lowered.with(this.store, (frame, source) => {
      source.target = this.id
      for (const { count } of rows.values()) source.rowsAhead += count
      for (const [block, selection] of rows) {
        source.block = block
        const after = this.#computeBlock(frame, block, selection, budget)
        if (after.count > 0) changed.set(block, after)
      }
    })
    pass.noteComputed(this.id, rows)
    pass.noteChanged(this.id, changed)
  }

  protected rowsToCompute(pass: PropagationPass): RowsByBlock {
    const touched = pass.rowsOf(this.store)
    const others = pass.fresh.has(this.id) || touched.everyRow ? null : this.lowered.touched(pass)
    if (others === null) return everyRowOf(this.store)
    const parts: RowsByBlock[] = [touched.inserted]
    for (const source of this.lowered.plan.sources) {
      const changed = pass.changedIn(source)
      if (changed !== undefined) parts.push(changed)
    }
    for (const part of others) parts.push(liveIn(this.store, part))
    return uniteRows(parts)
  }

  #computeBlock(frame: Frame, block: number, selection: Selection, budget: TextBudget): Selection {
    frame.marks = this.#marks === null ? null : frame.lendFlags(selection)
    const result = frame.run(this.lowered.plan.root, selection)
    if (frame.marks !== null) {
      this.#marks?.replace(block, selection, frame.marks)
      frame.giveBackFlags(frame.marks)
      frame.marks = null
    }
    budget.takeBlock(result, selection)
    const conforming = this.#wholeOnly ? wholeNumbers(result, selection, frame) : result
    const storage = this.store.column(this.id)
    if (storage === undefined) throw new ReferenceError(`column ${this.id} has no storage`)
    const after = storage.absorb(block, conforming, selection)
    frame.giveBack(conforming)
    return after
  }
}

/** A column declared `integer` never truncates: what is not whole is a misfit. */
function wholeNumbers(result: Vector, selection: Selection, frame: Frame): Vector {
  if (result.kind !== 'number') throw new TypeError('only numbers can be whole')
  const out = frame.lend('number')
  for (let k = 0; k < selection.count; k++) {
    const row = selection.rows === null ? k : (selection.rows[k] as number)
    const status = result.status[row] as number
    const value = result.values[row] as number
    const fits = status !== Status.value || isWhole(value)
    out.status[row] = fits || isFaultStatus(status) ? status : MISFIT
    out.values[row] = value
  }
  frame.giveBack(result)
  return out
}
