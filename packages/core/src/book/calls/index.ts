/**
 * Runs the operations of a call, all or none: read, applied, recalculated, kept, told.
 *
 * In come operations, out goes a change set. Start reading at `run-operations.ts`.
 * @module
 */

export type {
  ApplyAsyncOptions,
  ApplyOptions,
  EndSignal,
  KeptRevision,
  Step,
  StepReader,
} from './call-options.js'
export { ChangeFeed } from './change-feed.js'
export { type RunOptions, runOperations, runOperationsAsync, tryEach, tryOperations } from './run-operations.js'
export type { Subscription } from './subscription.js'
export { UndoSteps } from './undo-steps.js'
export { type ViewedState, WorkbookState } from './workbook-state.js'
