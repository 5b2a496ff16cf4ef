import type { ColumnOutcome, Engine } from '../../engine/index.js'
import type { FindingLedger } from '../diagnostics/index.js'
import type { Model } from '../model/index.js'
import type { ChangeSet } from '../transaction/index.js'
import { RecalculatedCells } from '../transaction/index.js'
import type { ChangeFeed } from './change-feed.js'
import { findingsNow, traced } from './findings-now.js'
import { later } from './later.js'

/** What calculating stale cells has done: no revision, but cells and findings are others than before. */
export type Flush = Pick<ChangeSet, 'recalculated' | 'changed' | 'findings'>

/** What telling of calculated cells takes. */
interface FlushState {
  readonly model: Model
  readonly engine: Engine
  readonly ledger: FindingLedger
  readonly feed: ChangeFeed
  readonly revision: number
  /** Tells of the cells, unless a call is at work, which then tells of them itself. */
  tellFlushed(): Flush | null
}

/**
 * Stale cells that were calculated since listeners last heard of any, by the one who read them. They are told of as soon as the
 * program at work is through, or before the next call.
 */
export class FlushedCells {
  readonly #state: FlushState
  #cells: RecalculatedCells | null = null

  constructor(state: FlushState) {
    this.#state = state
  }

  /** Notes what was calculated. */
  note(outcomes: readonly ColumnOutcome[]): void {
    if (outcomes.length === 0) return
    if (this.#cells === null) {
      this.#cells = new RecalculatedCells(this.#state.model)
      later(() => this.#state.tellFlushed())
    }
    this.#cells.note(outcomes)
  }

  /** Looks at the findings of what was calculated, and tells listeners. Returns what they were told; null for nothing. */
  tell(): Flush | null {
    const cells = this.#cells
    if (cells === null) return null
    this.#cells = null
    const { model, engine, ledger, feed, revision } = this.#state
    const findings = traced(model, engine, ledger.refresh(findingsNow(model, engine, new Map(cells.columns))))
    const { recalculated, changed } = cells.told()
    const none = { author: null, at: null, operations: [], inverse: [], stale: [], inserted: [], removed: [], units: [] }
    feed.tell({ ...none, revision, recalculated, changed, findings })
    return { recalculated, changed, findings }
  }
}
