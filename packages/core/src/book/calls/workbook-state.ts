import type { Engine } from '../../engine/index.js'
import { FindingLedger } from '../diagnostics/index.js'
import { Model } from '../model/index.js'
import { ChangeFeed } from './change-feed.js'
import { FlushedCells } from './flushed-cells.js'

/** What a workbook is made of, shared by the workbook and its views; no one else gets hold of it. */
export class WorkbookState {
  readonly engine: Engine
  readonly model: Model
  readonly ledger: FindingLedger = new FindingLedger()
  readonly feed: ChangeFeed
  readonly flushed: FlushedCells
  /** How many calls have changed the workbook; undo and redo count too. */
  revision = 0
  /** True while a call is at work, during which no other may begin. */
  isBusy = false

  /** @param onListenerError - gets what listeners throw */
  constructor(engine: Engine, onListenerError?: (error: unknown) => void) {
    this.engine = engine
    this.model = new Model(engine)
    this.feed = new ChangeFeed(onListenerError)
    this.flushed = new FlushedCells(this)
    engine.recalculation.onFlush = (outcomes) => this.flushed.note(outcomes)
  }
}
