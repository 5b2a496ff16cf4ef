import type { ColumnOutcome, Engine } from '../../engine/index.js'
import { refusal } from '../../findings/index.js'
import { FindingLedger } from '../diagnostics/index.js'
import { Model } from '../model/index.js'
import { CALCULATING_OPERATIONS, type OperationSet } from '../operations/index.js'
import type { RecalculatedCells } from '../transaction/index.js'
import { ChangeFeed } from './change-feed.js'
import { type Flush, FlushedCells } from './flushed-cells.js'

/** What is looked at: a workbook, or what a reader has of one. */
export interface ViewedState
  extends Pick<WorkbookState, 'engine' | 'model' | 'ledger' | 'feed' | 'revision' | 'noteFlushed' | 'tellFlushed'> {
  /** All of it, which operations change. */
  readonly whole: WorkbookState
}

/** What a workbook is made of, shared by the workbook and its views; no one else gets hold of it. */
export class WorkbookState {
  readonly engine: Engine
  /** The operations that it knows; a workbook that does more than calculate knows more. */
  operations: OperationSet = CALCULATING_OPERATIONS
  readonly model: Model
  readonly ledger: FindingLedger = new FindingLedger()
  readonly feed: ChangeFeed
  readonly flushed: FlushedCells
  /** How many calls have changed the workbook; undo and redo count too. */
  revision = 0
  /** How often what is defined may have changed: what is made of definitions is made anew when it has moved on. */
  definitions = 0
  /** What the call at work has done to cells so far, while it is suspended; null otherwise. */
  calculating: RecalculatedCells | null = null
  /** True while a call is at work, during which no other may begin. */
  #isBusy = false

  get whole(): this {
    return this
  }

  /** @param onListenerError - gets what listeners throw */
  constructor(engine: Engine, onListenerError?: (error: unknown) => void) {
    this.engine = engine
    this.model = new Model(engine)
    this.feed = new ChangeFeed(onListenerError)
    this.flushed = new FlushedCells(this)
    engine.recalculation.onFlush = (outcomes) => this.noteFlushed(outcomes)
  }

  /** Notes stale cells that were calculated; those calculated during a call are told of with it. */
  noteFlushed(outcomes: readonly ColumnOutcome[]): void {
    if (this.calculating === null) this.flushed.note(outcomes)
    else this.calculating.note(outcomes)
  }

  /** Looks at the findings of cells that were calculated, and tells listeners; during a call, nothing. */
  tellFlushed(): Flush | null {
    return this.calculating === null ? this.flushed.tell() : null
  }

  /**
   * Does something as the only call at work.
   *
   * @throws Refusal while another one is
   */
  exclusively<Done>(work: () => Done): Done {
    this.#begin()
    try {
      return work()
    } finally {
      this.#isBusy = false
    }
  }

  /** The same for a call that lets the rest of the program have its turn. */
  async exclusivelyAsync<Done>(work: () => Promise<Done>): Promise<Done> {
    this.#begin()
    try {
      return await work()
    } finally {
      this.#isBusy = false
    }
  }

  #begin(): void {
    if (this.#isBusy) throw refusal('bad-operation', { place: 'apply', reason: 'another call is at work on this workbook.' })
    this.#isBusy = true
  }
}
