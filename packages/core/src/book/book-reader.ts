import { type Finding, Refusal, refusal } from '../findings/index.js'
import type { ColumnId } from '../formula/index.js'
import { foldName } from '../values/index.js'
import type { ApplyOptions, RunOptions, Step, Subscription, ViewedState, WorkbookState } from './calls/index.js'
import { tryEach, tryOperations } from './calls/index.js'
import { readApplyOptions } from './given-options.js'
import type { Model } from './model/index.js'
import { type OperationsPreview, previewOperations } from './preview/index.js'
import type { MemoryReport } from './queries/index.js'
import {
  columnsHiddenFrom,
  firstTouched,
  hasRole,
  leastRoleOf,
  marksOf,
  type Role,
  readReaderOptions,
  SeenHistory,
  type StepMark,
  seenChange,
  seenFindings,
  seenModel,
  toldRefusals,
} from './readers/index.js'
import type { JsonValue, Operation } from './schemas/index.js'
import { operationsOfCall } from './schemas/index.js'
import { stateOf, type WorkbookEvents } from './slim-view.js'
import { type BookCalls, callsOf, type SlimWorkbook } from './slim-workbook.js'
import { type Caller, type ChangeSet, changesDefinitions } from './transaction/index.js'
import type { Flushed } from './workbook-options.js'
import { WorkbookView } from './workbook-view.js'

/** Who reads a workbook. */
export interface ReaderOptions {
  /** What they may do; only looking when left out. */
  readonly role?: Role
  /** The groups they are in. */
  readonly groups?: readonly string[]
  /** Who they are: goes with all that they do. */
  readonly author?: string
}

/** What goes with a call of a reader. */
export type ReaderCallOptions = Omit<ApplyOptions, 'author'>

/** A step as a journal keeps it, as far as it matters who is told. */
export interface ToldStep {
  readonly operations: readonly Operation[]
  /** Calculated cells that followed, by column. */
  readonly recalculated: readonly { readonly table: string; readonly column: string; readonly rows: number }[]
}

/** What a change goes through, where a workbook is in a file. */
type Around = <Done>(change: () => Done) => Done

/**
 * A workbook as one reader has it: what they see, in `view`, and what they may do. Columns that are hidden from them are not
 * there: not in names, answers, findings, refusals, sizes or change sets. Hiding binds those who may not define; formulas that
 * others defined with hidden columns still give their results.
 */
export class BookReader {
  readonly role: Role
  readonly groups: readonly string[]
  readonly author: string | null
  /** What they see. Everything that takes a view of a workbook takes this one. */
  readonly view: WorkbookView
  readonly #seen: SeenState
  readonly #calls: BookCalls
  readonly #around: Around

  /**
   * @param around - what each change goes through, where the workbook is kept in a file
   * @throws Refusal for a role that there is not
   */
  constructor(book: SlimWorkbook, options: ReaderOptions = {}, around: Around = (change) => change()) {
    const { role, groups, author } = readReaderOptions(options)
    this.role = role
    this.groups = groups
    this.author = author ?? null
    this.#seen = new SeenState(stateOf(book).whole, hasRole(role, 'define') ? [] : groups)
    this.#calls = callsOf(book)
    this.#around = around
    this.view = hasRole(role, 'define') ? new WorkbookView(this.#seen.whole) : new SeenView(this.#seen)
  }

  /** True where something is hidden from them. */
  get isBound(): boolean {
    return this.#seen.isBound
  }

  /** Ids of the columns that are hidden from them: for those who serve readers, and have to know when that changes. */
  get hidden(): ReadonlySet<number> {
    return this.#seen.hidden
  }

  /**
   * What they see of a change of the workbook.
   *
   * @returns null for a change of which nothing is to be seen
   */
  seen(change: ChangeSet): ChangeSet | null {
    return this.isBound ? seenChange(this.#seen.model, this.#seen.engine, change) : change
  }

  /**
   * What they may be told of steps that were made, the newest first: of each the operations that name nothing hidden from them,
   * and the cells that followed. A step of which nothing may be told is left out.
   */
  *told<Step extends ToldStep>(steps: Iterable<Step>): Generator<Step> {
    if (!this.isBound) return yield* steps
    const history = new SeenHistory(this.#seen.model)
    for (const step of steps) {
      const recalculated = step.recalculated.filter(({ table, column }) => history.isSeen(table, column))
      const operations = history.told(step.operations)
      if (operations.length > 0) yield { ...step, operations, recalculated }
    }
  }

  /** True when they may do what takes a role. */
  may(least: Role): boolean {
    return hasRole(this.role, least)
  }

  /**
   * Applies operations as `Workbook.apply` does, on behalf of the reader.
   *
   * @throws Refusal `needs-role` for what they may not do, and as `apply`; what is hidden from them is refused as what there is not
   */
  apply(operations: Operation | readonly Operation[], options: ReaderCallOptions = {}): ChangeSet {
    return this.applyJson(operations, options)
  }

  /** Applies operations that came from outside as JSON; see `apply`. */
  applyJson(json: unknown, options: ReaderCallOptions = {}): ChangeSet {
    const { strict, ...given } = readApplyOptions(options)
    const list = this.#allowed(json)
    return this.#answer(
      () => this.#around(() => this.#calls.apply(list, { ...given, ...this.#calling(), strict: this.#counting(strict) })),
      strict,
    )
  }

  /**
   * What operations would do, without doing them.
   *
   * @throws Refusal as `apply` would
   */
  previewJson(json: unknown, options: Pick<ReaderCallOptions, 'strict'> = {}): OperationsPreview {
    const { strict } = readApplyOptions(options)
    const list = this.#allowed(json)
    const given = { ...this.#calling(), strict: this.#counting(strict) }
    const { whole, engine } = this.#seen
    return this.#tell(
      () =>
        previewOperations(this.#seen.model, engine, (look) =>
          tryOperations(whole, list, given, (change) => look(this.#told(change))),
        ),
      strict,
    )
  }

  /**
   * Looks at the workbook as it was after earlier steps: the last ones are taken back one after the other, with a look after each, and
   * then all is as it is. One from whom something is hidden cannot look behind a step that defined something: what was not
   * hidden then may be now.
   *
   * @param inverses - what takes the last steps back, the newest first
   * @returns what was seen after each step that was taken back, as far as it goes
   */
  lookBack<Seen>(inverses: Iterable<readonly Operation[]>, look: (view: WorkbookView) => Seen): Seen[] {
    const { isBound } = this
    function* allowed(): Generator<readonly Operation[]> {
      for (const inverse of inverses) {
        if (isBound && changesDefinitions(inverse)) return
        yield inverse
      }
    }
    return tryEach(this.#seen.whole, allowed(), { isUndoRedo: true }, () => look(this.view))
  }

  /**
   * Takes the last step of their own back that is not taken back yet; null when there is none.
   *
   * @throws Refusal `step-overtaken` where others have touched since what it did
   */
  undo(options: Omit<ReaderCallOptions, 'expects' | 'strict'> = {}): ChangeSet | null {
    return this.#turn('undo', options)
  }

  /** Does again what they last took back; null when there is nothing. Throws as `undo`. */
  redo(options: Omit<ReaderCallOptions, 'expects' | 'strict'> = {}): ChangeSet | null {
    return this.#turn('redo', options)
  }

  #turn(kind: 'undo' | 'redo', options: ReaderCallOptions): ChangeSet | null {
    const given = readApplyOptions(options)
    this.#refuseBelow('edit', kind === 'undo' ? 'Taking a step back' : 'Doing a step again')
    const { undo, redo } = this.#calls.steps.all
    const step = (kind === 'undo' ? undo : redo).findLast((one) => one.author === this.author)
    if (step === undefined) return null
    this.#refuseTouched(step, undo)
    const { author } = this
    const options_: RunOptions = { ...given, ...(author !== null && { author }) }
    return this.#answer(() => this.#around(() => this.#calls.turn(kind, step, options_)))
  }

  /** Refuses to turn a step where something that it did was touched since, or is hidden by now. */
  #refuseTouched(step: Step, undo: readonly Step[]): void {
    const marks = marksOf(step.operations())
    const hidden = this.#seen.hiddenNames()
    const isHidden = ({ table, column }: StepMark): boolean => column !== null && hidden.has(JSON.stringify([table, column]))
    if (marks.some(isHidden)) throw refusal('withheld-reason')
    for (const later of undo.toReversed()) {
      if (later.revision <= step.revision || later === step) break
      const operations = later.operations()
      // Before it got the name that it has now, a hidden column had another one.
      for (const one of operations)
        if (one.op === 'rename-column' && hidden.has(hiddenName(one.table, one.column))) hidden.add(hiddenName(one.table, one.to))
      const touched = firstTouched(
        marks,
        marksOf(operations).filter((mark) => !isHidden(mark)),
      )
      if (touched === undefined) continue
      const what = touched.column === null ? touched.table : `${touched.table}.${touched.column}`
      throw refusal('step-overtaken', { revision: step.revision, what, later: later.revision, who: later.author ?? 'someone' })
    }
  }

  /** The operations of a call, as callers may write them, all of which the reader may do. */
  #allowed(json: unknown): Operation[] {
    const { operations } = this.#seen.whole
    const list = operationsOfCall(json).map((one) => operations.given(one))
    for (const operation of list) this.#refuseBelow(leastRoleOf(operation), operation.op, operation)
    return list
  }

  #refuseBelow(least: Role, what: string, operation?: Operation): void {
    if (this.may(least)) return
    throw new Refusal(refusal('needs-role', { what, least, role: this.role }).findings as [Finding], operation)
  }

  /** What runs a call on behalf of the reader. */
  #calling(): { readonly author?: string; readonly caller?: Caller } {
    const mayDefine = this.may('define')
    return {
      ...(this.author !== null && { author: this.author }),
      ...(!mayDefine && { caller: { names: this.#seen.model, mayDefine } }),
    }
  }

  /** Which warnings count: those that they would be told of. */
  #counting(strict: boolean | undefined): NonNullable<RunOptions['strict']> {
    if (strict !== true || !this.isBound) return strict ?? false
    return (found) => seenFindings(this.#seen.model, [found]).length > 0
  }

  #answer(change: () => ChangeSet, isStrict = false): ChangeSet {
    return this.#tell(() => this.#told(change()), isStrict)
  }

  /** A change as the reader is told of their own one, also where nothing of it is to be seen. */
  #told(change: ChangeSet): ChangeSet {
    if (!this.isBound) return change
    const { model, engine } = this.#seen
    const nothing = {
      operations: [],
      inverse: [],
      recalculated: [],
      changed: [],
      stale: [],
      inserted: [],
      removed: [],
      units: [],
    }
    return seenChange(model, engine, change) ?? { ...change, ...nothing, findings: { added: [], removed: [] } }
  }

  /** Does something whose refusal is to say nothing of what is hidden. */
  #tell<Done>(work: () => Done, isStrict = false): Done {
    try {
      return work()
    } catch (error) {
      if (!this.isBound || !(error instanceof Refusal)) throw error
      const [first, ...others] = toldRefusals(this.#seen.model, error.findings, isStrict)
      throw first === undefined ? refusal('withheld-reason') : new Refusal([first, ...others], error.operation)
    }
  }
}

/** A model made for a reader. */
interface Made {
  /** How often definitions had changed by then. */
  readonly definitions: number
  readonly hidden: ReadonlySet<ColumnId>
  readonly model: Model
}

/** What a reader has of the state of a workbook: the model without what is hidden from them, made anew when definitions change. */
class SeenState implements ViewedState {
  readonly whole: WorkbookState
  readonly #groups: readonly string[]
  #made: Made | null = null

  constructor(whole: WorkbookState, groups: readonly string[]) {
    this.whole = whole
    this.#groups = groups
  }

  get model(): Model {
    return this.#now().model
  }

  get hidden(): ReadonlySet<ColumnId> {
    return this.#now().hidden
  }

  get isBound(): boolean {
    return this.hidden.size > 0
  }

  get engine(): ViewedState['engine'] {
    return this.whole.engine
  }

  get ledger(): ViewedState['ledger'] {
    return this.whole.ledger
  }

  get feed(): ViewedState['feed'] {
    return this.whole.feed
  }

  get revision(): number {
    return this.whole.revision
  }

  noteFlushed(...outcomes: Parameters<WorkbookState['noteFlushed']>): void {
    this.whole.noteFlushed(...outcomes)
  }

  tellFlushed(): ReturnType<WorkbookState['tellFlushed']> {
    return this.whole.tellFlushed()
  }

  /** The names of the columns that are hidden from the reader, each with its table. */
  hiddenNames(): Set<string> {
    const { hidden } = this.#now()
    return new Set(
      [...hidden].map((id) => this.whole.model.columnOf(id)).map(({ table, column }) => hiddenName(table.name, column.name)),
    )
  }

  #now(): Made {
    const { model: whole, engine, definitions } = this.whole
    if (this.#made?.definitions === definitions) return this.#made
    const hidden = columnsHiddenFrom(whole, this.#groups)
    const model = hidden.size === 0 ? whole : seenModel(whole, engine, hidden)
    this.#made = { definitions, hidden, model }
    return this.#made
  }
}

function hiddenName(table: string, column: string): string {
  return JSON.stringify([foldName(table), foldName(column)])
}

/** A view for someone from whom columns are hidden. */
class SeenView extends WorkbookView {
  readonly #state: SeenState

  constructor(state: SeenState) {
    super(state)
    this.#state = state
  }

  override on<Name extends keyof WorkbookEvents>(event: Name, listener: (told: WorkbookEvents[Name]) => void): Subscription {
    return super.on(event, (change) => {
      const { isBound, model, engine } = this.#state
      const seen = isBound ? seenChange(model, engine, change) : change
      if (seen !== null) listener(seen)
    })
  }

  /** What the program around the workbook noted may name anything. */
  override get metadata(): Readonly<Record<string, JsonValue>> {
    return this.#state.isBound ? Object.create(null) : super.metadata
  }

  /** What columns take; what is kept besides them may be kept for what is hidden. */
  override memory(): MemoryReport {
    const all = super.memory()
    if (!this.#state.isBound) return all
    return { columns: all.columns, indexes: [], bytes: all.columns.reduce((sum, { bytes }) => sum + bytes, 0) }
  }

  override flush(milliseconds?: number): Flushed {
    const done = super.flush(milliseconds)
    const { isBound, model, engine, revision } = this.#state
    if (!isBound) return done
    const none = {
      revision,
      author: null,
      at: null,
      operations: [],
      inverse: [],
      stale: [],
      inserted: [],
      removed: [],
      units: [],
    }
    const nothing = { recalculated: [], changed: [], findings: { added: [], removed: [] } }
    const { recalculated, changed, findings } = seenChange(model, engine, { ...none, ...done }) ?? nothing
    return { recalculated, changed, findings, isLeft: done.isLeft }
  }

  override previewJson(): never {
    throw refusal('bad-operation', { place: 'preview', reason: 'what a reader would do is previewed by the reader.' })
  }
}
