import type { RowsByBlock, TableStore } from '../storage/index.js'
import { rowCountOf } from '../storage/index.js'
import type { EngineNode } from './node.js'
import type { PropagationPass } from './propagation-pass.js'
import { StaleRows } from './stale-rows.js'

/** A node that computes a cell a row, now or later. Which rows a pass touches, and how they are computed, is left to the kinds. */
export abstract class DeferrableRows implements EngineNode {
  abstract readonly id: EngineNode['id']
  abstract readonly sources: EngineNode['sources']
  readonly isDeferrable = true
  /** Rows that are yet to be computed. */
  readonly stale: StaleRows = new StaleRows()
  protected readonly store: TableStore

  constructor(store: TableStore) {
    this.store = store
  }

  get isStale(): boolean {
    return !this.stale.isEmpty
  }

  update(pass: PropagationPass): void {
    const rows = this.rowsToCompute(pass)
    const isNew = pass.fresh.has(this.id) || pass.rowsOf(this.store).everyRow
    const count = rowCountOf(rows)
    if (this.isCostly(count) || (!isNew && count > pass.mostAtOnce)) this.#defer(pass, rows)
    else this.compute(pass, rows)
  }

  postpone(pass: PropagationPass): void {
    this.#defer(pass, this.rowsToCompute(pass))
  }

  flush(pass: PropagationPass, block?: number): void {
    this.compute(pass, this.stale.take(this.store, block))
  }

  staleRows(): RowsByBlock {
    return this.stale.rowsIn(this.store)
  }

  /** The rows that may get something else after a pass. */
  protected abstract rowsToCompute(pass: PropagationPass): RowsByBlock

  /** Computes rows; what has changed is noted in the pass. */
  protected abstract compute(pass: PropagationPass, rows: RowsByBlock): void

  /** True for so many rows that they wait even when they are new. */
  protected isCostly(_count: number): boolean {
    return false
  }

  #defer(pass: PropagationPass, rows: RowsByBlock): void {
    this.stale.add(rows)
    pass.noteStale(this.id, rows)
    pass.noteChanged(this.id, rows)
  }
}
