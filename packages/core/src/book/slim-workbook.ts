import { Engine } from '../engine/index.js'
import type { Finding } from '../findings/index.js'
import { refusal } from '../findings/index.js'
import type { ColumnId } from '../formula/index.js'
import { defaultSurroundings, type Surroundings, zonedWallClock } from '../values/index.js'
import type { ApplyAsyncOptions } from './calls/index.js'
import {
  type ApplyOptions,
  type KeptRevision,
  type RunOptions,
  runOperations,
  runOperationsAsync,
  type Step,
  type StepReader,
  UndoSteps,
  WorkbookState,
} from './calls/index.js'
import { readApplyOptions, readAsyncOptions, readOpenOptions, readWorkbookOptions } from './given-options.js'
import { CALCULATING_OPERATIONS } from './operations/index.js'
import type { Operation, OperationJson } from './schemas/index.js'
import { operationsOfCall } from './schemas/index.js'
import { SlimView } from './slim-view.js'
import {
  type BookSnapshot,
  definitionsOf,
  restoreCells,
  type SnapshotCells,
  type TakenSnapshot,
  takeSnapshot,
} from './snapshot/index.js'
import type { ChangeSet } from './transaction/index.js'
import type { OpenOptions, WorkbookOptions } from './workbook-options.js'

/** What runs the calls of a workbook; for those who call on behalf of someone, in this room. */
export interface BookCalls {
  readonly steps: UndoSteps
  /** Applies operations that were read as a list. */
  apply(operations: readonly OperationJson[], options: RunOptions & Pick<ApplyOptions, 'expects'>): ChangeSet
  /** Takes a step back, or does it again. */
  turn(kind: 'undo' | 'redo', step: Step, options: RunOptions): ChangeSet
}

/** The calls of a workbook. */
export let callsOf: (book: SlimWorkbook) => BookCalls

/**
 * A workbook that calculates, checks and previews, and leaves explaining to `Workbook`, which is the same with more answers: a
 * page that only shows what is calculated loads a sixth less.
 */
export class SlimWorkbook extends SlimView {
  readonly #state: WorkbookState
  readonly #steps: UndoSteps
  readonly #keep: WorkbookOptions['keep']

  static {
    callsOf = (book) => ({
      steps: book.#steps,
      apply: (operations, options) => book.#apply(operations, options),
      turn: (kind, step, options) => book.#turn(kind, step, options),
    })
  }

  /**
   * @param options - clock, seed, locale and zone (the clock of the machine, 1, `en` and UTC when left out), and how the
   *   workbook goes about its work
   * @throws Refusal for a zone or locale that there is not, a clock that is no time, and fields that no one knows
   */
  constructor(options: WorkbookOptions = {}) {
    const { surroundings, work } = readWorkbookOptions(options)
    const { mostAtOnce, undoLimit, keep, onListenerError } = work
    const state = new WorkbookState(new Engine(surroundingsOf(surroundings), mostAtOnce), onListenerError)
    super(state)
    this.#state = state
    this.#steps = new UndoSteps(undoLimit)
    this.#keep = keep
  }

  /**
   * Opens a workbook that was stored: its cells are read when they are first touched, and what is kept besides them is made
   * when something it has to do with changes.
   */
  static open<Book extends SlimWorkbook>(
    this: new (
      options?: WorkbookOptions,
    ) => Book,
    snapshot: BookSnapshot,
    cells: SnapshotCells,
    options: OpenOptions = {},
  ): Book {
    const { undo, redo, ...work } = readOpenOptions(options)
    const book = new this({ ...snapshot.surroundings, ...work })
    const { model, engine, ledger, operations } = book.#state
    const views = [...(snapshot.reports ?? []), ...(snapshot.charts ?? [])]
    const takesViews = operations !== CALCULATING_OPERATIONS
    if (!takesViews) model.carriedViews = views
    // A formula put aside may not fit its sources any more; it did when it was.
    runOperations(book.#state, [...definitionsOf(snapshot), ...(takesViews ? views : [])], { isUndoRedo: true })
    restoreCells(model, engine, snapshot, cells)
    ledger.refresh(new Map(snapshot.findings as [ColumnId, Finding[]][]))
    book.#steps.restore(undo, redo)
    book.#state.revision = snapshot.revision
    return book
  }

  /** What `undo` and `redo` would do, the next one last; to be stored with an snapshot. */
  get steps(): { readonly undo: readonly Step[]; readonly redo: readonly Step[] } {
    return this.#steps.all
  }

  /** The workbook as a file keeps it, with the cells changed since it was last written: all go to one store. */
  snapshot(): TakenSnapshot {
    return takeSnapshot(this.#state.model, this.#state.engine, this.#state.ledger, this.revision)
  }

  /** The same workbook for someone who is to look at it and not to change it, in types and at run time. */
  get view(): SlimView {
    return new SlimView(this.#state)
  }

  /**
   * Applies operations, all or none: one revision, undo step and change set. Inside a call definitions come in any order.
   * Listeners have heard of it when this returns, but where it is called by a listener.
   *
   * @throws Refusal with everything found; the workbook is then as it was
   */
  apply(operations: Operation | readonly Operation[], options: ApplyOptions = {}): ChangeSet {
    return this.applyJson(operations, options)
  }

  /**
   * Applies operations that came from outside as JSON: the same as `apply`, for what no compiler has seen.
   *
   * @param json - an operation or a list of them
   * @throws Refusal naming the field that is not as it should be, and for all that `apply` refuses
   */
  applyJson(json: unknown, options: ApplyOptions = {}): ChangeSet {
    const given = readApplyOptions(options)
    return this.#apply(operationsOfCall(json), given)
  }

  #apply(list: readonly OperationJson[], { expects, ...given }: RunOptions & Pick<ApplyOptions, 'expects'>): ChangeSet {
    this.#refuseOther(expects)
    return this.#run('apply', list, given, (step) => this.#steps.add(step))
  }

  /**
   * Applies operations as `apply` does, in slices of some milliseconds between which the rest of the program has its turn, so
   * that a page stays alive while millions of cells are calculated. What is sliced is calculation; reading the operations and
   * writing their cells is one piece. Until it is done no other call may begin, and cells that are read are those the call is
   * about to leave.
   *
   * @param options - also `progress`, and a `signal` that ends the call
   * @throws Refusal as `apply` does, and `cancelled`; the workbook is then as it was
   */
  async applyAsync(operations: Operation | readonly Operation[], options: ApplyAsyncOptions = {}): Promise<ChangeSet> {
    const { expects, sliceMs, ...given } = readAsyncOptions(options)
    const list = operationsOfCall(operations)
    this.#refuseOther(expects)
    this.#state.tellFlushed()
    const kept = this.#keeping('apply')
    const change = await runOperationsAsync(this.#state, list, { ...given, keep: kept.keep }, sliceMs)
    this.#steps.add(kept.step(change))
    this.#state.feed.tell(change)
    return change
  }

  #refuseOther(expects: number | undefined): void {
    if (expects !== undefined && expects !== this.revision)
      throw refusal('unexpected-revision', { revision: this.revision, expected: expects })
  }

  /** Keeps the change set of a call before it counts, and remembers what reads its inverse again. */
  #keeping(
    kind: KeptRevision['kind'],
    of?: number,
  ): { readonly keep: (made: ChangeSet) => void; readonly step: (made: ChangeSet) => Step } {
    let read: StepReader | undefined
    return {
      keep: (change) => {
        read = this.#keep?.({ kind, change, ...(of !== undefined && { of }) })
      },
      step: ({ revision, author, inverse }) => ({ revision, author, operations: read ?? (() => inverse) }),
    }
  }

  /** Takes the last step back; null when none is left. Its change set is a revision of its own. */
  undo(options: Omit<ApplyOptions, 'expects' | 'strict'> = {}): ChangeSet | null {
    return this.turnStep('undo', null, options)
  }

  /** Does the last undone step again; null when none is left. */
  redo(options: Omit<ApplyOptions, 'expects' | 'strict'> = {}): ChangeSet | null {
    return this.turnStep('redo', null, options)
  }

  /**
   * Takes back, or does again, a step that need not be the last one, as a journal that is repeated says.
   *
   * @param revision - that the step takes back; null for the last one
   * @returns null when there is no such step
   */
  turnStep(
    kind: 'undo' | 'redo',
    revision: number | null,
    options: Omit<ApplyOptions, 'expects' | 'strict'> = {},
  ): ChangeSet | null {
    const given = readApplyOptions(options)
    const steps = this.#steps.all[kind]
    const step = revision === null ? steps.at(-1) : steps.findLast((one) => one.revision === revision)
    return step === undefined || (revision === null && step.isOvertaken === true) ? null : this.#turn(kind, step, given)
  }

  #turn(kind: 'undo' | 'redo', step: Step, options: RunOptions): ChangeSet {
    // What anyone would take next needs no name; one that is overtaken is next for its author alone.
    const isNext = step === this.#steps.all[kind].at(-1) && step.isOvertaken !== true
    // Done again, or taken back, it is still the step of the one who made it.
    const remember = (back: Step): void => this.#steps.turn(kind, step, { ...back, author: step.author })
    return this.#run(kind, step.operations(), options, remember, isNext ? undefined : step.revision)
  }

  /** Runs one call: the change set is kept before anybody is told. */
  #run(
    kind: KeptRevision['kind'],
    operations: readonly OperationJson[],
    options: RunOptions,
    remember: (step: Step) => void,
    of?: number,
  ): ChangeSet {
    this.#state.tellFlushed()
    const kept = this.#keeping(kind, of)
    const change = runOperations(this.#state, operations, { ...options, isUndoRedo: kind !== 'apply', keep: kept.keep })
    remember(kept.step(change))
    this.#state.feed.tell(change)
    return change
  }
}

/** The surroundings of a new workbook: its clock shows the time of the machine in its zone, unless given. */
function surroundingsOf(given: Partial<Surroundings>): Surroundings {
  const { zone } = { ...defaultSurroundings, ...given }
  return { ...defaultSurroundings, now: zonedWallClock(zone)(Date.now()), ...given }
}
