import type { CalculationMode } from '../engine/index.js'
import type { Finding } from '../findings/index.js'
import { refusal } from '../findings/index.js'
import type { Surroundings, ValueType } from '../values/index.js'
import { type BookFunction, functionsOf } from './book-function.js'
import type { ApplyOptions, Subscription, ViewedState } from './calls/index.js'
import { tryOperations } from './calls/index.js'
import { type AcceptedFinding, acceptingOperation, findingsOfBook } from './diagnostics/index.js'
import { readApplyOptions } from './given-options.js'
import type { ShownValue } from './model/index.js'
import { type AddressedName, findColumn, KIND_OF_ROLE } from './model/index.js'
import { type OperationsPreview, previewOperations } from './preview/index.js'
import type { Query, QueryResult } from './queries/index.js'
import { type Evaluated, evaluateFormula, runQuery, singleValue } from './queries/index.js'
import { openWindow, type RowWindow, readWindow, type WindowQuery, type WindowRows } from './row-window.js'
import type { AcceptFinding, JsonValue, Operation } from './schemas/index.js'
import { operationsOfCall } from './schemas/index.js'
import { TableView } from './table-view.js'
import { type ChangeSet, type ColumnCells, columnCells } from './transaction/index.js'
import type { Flushed } from './workbook-options.js'

/** What a workbook tells of, by the name of the event. */
export interface WorkbookEvents {
  /** A revision, or stale cells that were calculated because they were read. */
  readonly change: ChangeSet
}

/** What a view shows is kept in; for what answers questions about it in this room. */
export let stateOf: (view: SlimView) => ViewedState

/**
 * A workbook to look at and to listen to: everything it shows, and nothing that changes it. What is asked of it is always of
 * now. It calculates and checks; what explains formulas and cells to people is `WorkbookView`.
 */
export class SlimView {
  readonly #state: ViewedState

  static {
    stateOf = (view) => view.#state
  }

  /**
   * @param state - what the workbook is made of; only a workbook has one to give
   * @internal
   */
  constructor(state: ViewedState) {
    this.#state = state
  }

  /** How many calls have changed the workbook; undo and redo count too. */
  get revision(): number {
    return this.#state.revision
  }

  /**
   * Calls a listener after every change, until the subscription returned is ended: by calling it, or by `using`. Change sets come in the order of their
   * revisions. What a listener throws is its own: it is reported later, outside the call. A listener may apply operations;
   * they run at once, and are told of when this change has reached everybody. Calculating stale cells is told of too, with the
   * revision of now and no operations.
   *
   * @throws Refusal for an event that there is not, or a listener that is no function
   */
  on<Name extends keyof WorkbookEvents>(event: Name, listener: (told: WorkbookEvents[Name]) => void): Subscription {
    if (event !== 'change')
      throw refusal('bad-operation', { place: 'on', reason: `there is no event ${JSON.stringify(event)}; there is 'change'.` })
    if (typeof listener !== 'function') throw refusal('bad-operation', { place: 'on', reason: 'expected a function to call.' })
    return this.#state.feed.add(listener)
  }

  /**
   * Opens a window on some rows of a table, which follows every edit until it is ended.
   *
   * @param query - the table, its columns, and which rows by their numbers: `from` (1 when left out) up to but without `to`
   * @param listener - called with what the window shows, each time that has changed
   * @returns what ends the window when it is called; `current` is what it shows, `show` moves it
   * @throws Refusal for a table or column that there is not
   */
  subscribe(query: WindowQuery, listener: (shown: WindowRows) => void): RowWindow {
    return openWindow(this, query, listener)
  }

  /**
   * What a window would show now.
   *
   * @param former - what it showed before: given back where nothing differs, and its rows where they are the same
   * @throws Refusal for a table or column that there is not
   */
  window(query: WindowQuery, former: WindowRows | null = null): WindowRows {
    const isGone = former !== null && this.#state.model.find(query.table) === undefined
    return readWindow(isGone ? null : this.table(query.table), query, former)
  }

  /** Names of the tables, in the order they were added. */
  get tables(): readonly string[] {
    return this.#state.model.tables.map((table) => table.name)
  }

  /** A table to read; refused when there is none of this name. */
  table(name: string): TableView {
    return new TableView(this.#state.model, this.#state.model.table(name), this.#state.engine)
  }

  /**
   * Everything there is to say about the workbook as it is: about formulas and about data, with row counts. A workbook that
   * calculates on demand is told of as it was last calculated.
   */
  check(): Finding[] {
    const { engine } = this.#state
    engine.recalculation.prepare()
    if (engine.recalculation.mode === 'live') this.#state.noteFlushed(engine.recalculation.flush())
    this.#state.tellFlushed()
    return this.findings()
  }

  /** The same of the cells that are up to date, without calculating any: to be asked before long work. */
  findings(): Finding[] {
    return findingsOfBook(this.#state.model, this.#state.engine).open
  }

  /** Findings that were accepted, as long as the rows behind them stay as they are. */
  accepted(): readonly AcceptedFinding[] {
    return findingsOfBook(this.#state.model, this.#state.engine).accepted
  }

  /** The operation that accepts a finding, with a reason; refused when the finding is not there now. */
  accepting(found: Finding, because: string): AcceptFinding {
    return acceptingOperation(this.#state.model, this.#state.engine, found, because)
  }

  /** A named value; refused when there is none of this name. */
  value(name: string): ShownValue {
    return singleValue(this.#state.engine, this.#state.model.values, name)
  }

  /** The formula of a named value; null for one that was typed. Refused when there is none of this name. */
  valueFormula(name: string): string | null {
    return this.#state.model.values.column(name).formula?.text ?? null
  }

  /** The type of a named value; null where it has none yet. */
  valueType(name: string): ValueType | null {
    return this.#state.model.values.column(name).type
  }

  /** Clock, seed, zone and locale that formulas find around them. */
  get surroundings(): Surroundings {
    return this.#state.engine.surroundings
  }

  /** What an address names: `table.column`, `value:name`, `tally:table.name` or `rule:name`; refused for none. */
  addressed(address: string): AddressedName {
    const { table, column } = findColumn(this.#state.model, address)
    return { kind: KIND_OF_ROLE[table.role], table: table.name, name: column.name }
  }

  /** What the program around the workbook noted (operation `set-metadata`), by name; an object without a prototype. */
  get metadata(): Readonly<Record<string, JsonValue>> {
    return Object.assign(Object.create(null), Object.fromEntries(this.#state.model.metadata))
  }

  /** Names of the named values, in order. */
  get values(): readonly string[] {
    return this.#state.model.values.columns.map((column) => column.name)
  }

  /** The functions that are defined in the workbook, in order. */
  get functions(): readonly BookFunction[] {
    return functionsOf(this.#state.model)
  }

  /** Rows of a table: filtered, ordered, some columns, at most so many. Formulas are never affected by a filter. */
  query(query: Query): QueryResult {
    return runQuery(this.#state.model, this.#state.engine, query)
  }

  /** What a formula gives on every row of a table, without defining anything. Refused where it has mistakes. */
  evaluate(table: string, formula: string): Evaluated {
    return evaluateFormula(this.#state.model, this.#state.engine, table, formula)
  }

  /**
   * What operations would do, without doing them: the change set, and of each calculated column they reach rows that tell most.
   *
   * @throws Refusal as `apply` would.
   */
  preview(operations: Operation | readonly Operation[], options: Pick<ApplyOptions, 'strict'> = {}): OperationsPreview {
    return this.previewJson(operations, options)
  }

  /**
   * Previews operations that came from outside as JSON: the same as `preview`, for what no compiler has seen.
   *
   * @throws Refusal as `applyJson` would
   */
  previewJson(json: unknown, options: Pick<ApplyOptions, 'strict'> = {}): OperationsPreview {
    const given = readApplyOptions(options)
    return previewOperations(this.#state.model, this.#state.engine, (look) =>
      tryOperations(this.#state.whole, operationsOfCall(json), given, look),
    )
  }

  /** When calculated columns follow their sources; changed by the operation `set-mode`. */
  get mode(): CalculationMode {
    return this.#state.engine.recalculation.mode
  }

  /** Cells out of step with their sources, by column. */
  get stale(): ColumnCells[] {
    return [...this.#state.model.columns()].flatMap(({ table, column }) => {
      const rows = this.#state.engine.recalculation.staleRowsOf(column.id)
      return rows.size === 0 ? [] : [columnCells(table, column, [rows])]
    })
  }

  /**
   * Calculates some of what a large edit has left stale, in a workbook that calculates live: to be called while there is
   * nothing else to do. Reading a cell calculates it too, so no one has to wait for this.
   *
   * @param milliseconds - after which it stops; a block of a column or an index is always finished
   * @returns what was calculated, and whether something is left
   */
  flush(milliseconds: number = Number.POSITIVE_INFINITY): Flushed {
    const { engine } = this.#state
    const { recalculation } = engine
    const isLeft = (): boolean => recalculation.mode === 'live' && recalculation.isStale()
    const until = Date.now() + milliseconds
    while (isLeft()) {
      this.#state.noteFlushed(recalculation.flushStep())
      if (Date.now() >= until) break
    }
    const done = this.#state.tellFlushed() ?? { recalculated: [], changed: [], findings: { added: [], removed: [] } }
    return { ...done, isLeft: isLeft() }
  }
}
