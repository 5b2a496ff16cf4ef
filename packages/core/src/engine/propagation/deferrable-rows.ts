import type { RowsByBlock, TableStore } from '../storage/index.js'
import { rowCountOf } from '../storage/index.js'
import type { EngineNode } from './node.js'
import type { Round } from './propagation-pass.js'
import { StaleRows } from './stale-rows.js'

/** A node that computes a cell a row, now or later. Which rows a round touches, and how they are computed, is left to the kinds. */
export abstract class WaitingRows implements EngineNode {
  abstract readonly id: EngineNode['id']
  abstract readonly sources: EngineNode['sources']
  readonly canWait = true
  /** Rows that are yet to be computed. */
  readonly stale: StaleRows = new StaleRows()
  protected readonly store: TableStore

  constructor(store: TableStore) {
    this.store = store
  }

  get isStale(): boolean {
    return !this.stale.isEmpty
  }

  update(round: Round): void {
    const rows = this.rowsToCompute(round)
    const isNew = round.fresh.has(this.id) || round.rowsOf(this.store).everyRow
    const count = rowCountOf(rows)
    if (this.isCostly(count) || (!isNew && count > round.mostAtOnce)) this.#wait(round, rows)
    else this.compute(round, rows)
  }

  postpone(round: Round): void {
    this.#wait(round, this.rowsToCompute(round))
  }

  flush(round: Round, block?: number): void {
    this.compute(round, this.stale.take(this.store, block))
  }

  staleRows(): RowsByBlock {
    return this.stale.rowsIn(this.store)
  }

  /** The rows that may get something else after a round. */
  protected abstract rowsToCompute(round: Round): RowsByBlock

  /** Computes rows; what has changed is noted in the round. */
  protected abstract compute(round: Round, rows: RowsByBlock): void

  /** True for so many rows that they wait even when they are new. */
  protected isCostly(_count: number): boolean {
    return false
  }

  #wait(round: Round, rows: RowsByBlock): void {
    this.stale.add(rows)
    round.noteStale(this.id, rows)
    round.noteChanged(this.id, rows)
  }
}
