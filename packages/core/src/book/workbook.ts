import { type CalculationMode, Engine } from '../engine/index.js'
import type { Finding } from '../findings/index.js'
import { Refusal, refusal } from '../findings/index.js'
import type { ColumnId, Explanation } from '../formula/index.js'
import { defaultSurroundings, type Surroundings, type ValueType } from '../values/index.js'
import { type AcceptedFinding, acceptingOperation, findingsOfBook, openFindings } from './accepted.js'
import { type AddressedName, findColumn, KIND_OF_ROLE } from './address.js'
import { bindFormulas } from './bind.js'
import type { ShownValue } from './cell-values.js'
import { type ChangeSet, type ColumnCells, columnCells, insertedRows } from './change-set.js'
import { type Evaluated, evaluateFormula } from './evaluate.js'
import { addToldOf, FindingLedger } from './findings-of.js'
import { type GroupQuery, runGroupQuery } from './group-query.js'
import { type BookImage, definitionsOf, type ImageCells, restoreCells, type TakenImage, takeImage } from './image/index.js'
import { type MemoryReport, memoryReport } from './memory.js'
import { type ColumnModel, formulaOf, Model, type TableModel } from './model.js'
import { applyOperation, type OperationInput } from './operations/index.js'
import { touchedBy } from './operations-touch.js'
import { type ColumnPreview, previewColumn } from './preview.js'
import { type OperationsPreview, previewOperations } from './preview-operations.js'
import { type Query, type QueryResult, runQuery } from './query.js'
import { RecalculatedCells } from './recalculated-cells.js'
import { stampRows } from './stamping.js'
import { type TableLanguage, tableLanguage } from './table-language.js'
import { singleValue, TableView } from './table-view.js'
import { type Derivation, deriveCell, type Trace, traceColumn } from './tracing/index.js'
import { Transaction } from './transaction.js'
import { type ApplyOptions, listOf, operationsOf, type Settlement, type Step, type WorkbookOptions } from './workbook-options.js'

/**
 * A workbook: tables whose calculated columns follow every edit. Everything that changes it is an operation; everything it
 * shows is derived. Two workbooks share nothing.
 */
export class Workbook {
  readonly #model: Model
  readonly #engine: Engine
  readonly #ledger: FindingLedger = new FindingLedger()
  readonly #listeners: Set<(change: ChangeSet) => void> = new Set()
  readonly #undoSteps: Step[] = []
  readonly #redoSteps: Step[] = []
  #revision = 0

  /**
   * @param surroundings - clock, seed, locale and zone; what is not given is `defaultSurroundings`
   * @param options - how much is calculated at once
   */
  constructor(surroundings: Partial<Surroundings> = {}, options: WorkbookOptions = {}) {
    this.#engine = new Engine({ ...defaultSurroundings, ...surroundings }, options.mostAtOnce)
    this.#model = new Model(this.#engine)
  }

  /**
   * Opens a workbook that was stored: its cells are read when they are first touched, and what is kept besides them is made
   * when something it has to do with changes.
   *
   * @param steps - undo steps, the last one last, and redo steps, the next one last
   */
  static open(
    image: BookImage,
    cells: ImageCells,
    { undo = [], redo = [] }: Partial<Workbook['steps']> = {},
    options: WorkbookOptions = {},
  ): Workbook {
    const book = new Workbook(image.surroundings, options)
    // A formula put aside may not fit its sources any more; it did when it was.
    book.#run(definitionsOf(image), {}, true)
    restoreCells(book.#model, book.#engine, image, cells)
    book.#ledger.refresh(new Map(image.findings as [ColumnId, Finding[]][]))
    book.#undoSteps.push(...undo)
    book.#redoSteps.push(...redo)
    book.#revision = image.revision
    return book
  }

  /** What `undo` and `redo` would do, the next one last; to be stored with an image. */
  get steps(): { readonly undo: readonly Step[]; readonly redo: readonly Step[] } {
    return { undo: this.#undoSteps, redo: this.#redoSteps }
  }

  /** The workbook as a file keeps it, with the cells changed since it was last written: all go to one store. */
  image(): TakenImage {
    return takeImage(this.#model, this.#engine, this.#ledger, this.#revision)
  }

  /** How many calls have changed the workbook; undo and redo count too. */
  get revision(): number {
    return this.#revision
  }

  /**
   * Applies operations, all or none: one revision, undo step and change set. Inside a call definitions come in any order.
   *
   * Errors: throws `Refusal` with everything found; the workbook is then as it was.
   */
  apply(operations: OperationInput | readonly OperationInput[], options: ApplyOptions = {}): ChangeSet {
    if (options.expects !== undefined && options.expects !== this.#revision) {
      throw refusal('unexpected-revision', { revision: this.#revision, expected: options.expects })
    }
    const list = listOf(operations)
    const change = this.#run(list, options)
    this.#undoSteps.push(change.inverse)
    this.#redoSteps.length = 0
    this.#emit(change)
    return change
  }

  /** Takes the last step back; null when none is left. Its change set is a revision of its own. */
  undo(options: Omit<ApplyOptions, 'expects'> = {}): ChangeSet | null {
    return this.#turn(this.#undoSteps, this.#redoSteps, options)
  }

  /** Does the last undone step again; null when none is left. */
  redo(options: Omit<ApplyOptions, 'expects'> = {}): ChangeSet | null {
    return this.#turn(this.#redoSteps, this.#undoSteps, options)
  }

  #turn(from: Step[], to: Step[], options: ApplyOptions): ChangeSet | null {
    const step = from.at(-1)
    if (step === undefined) return null
    const change = this.#run(operationsOf(step), options, true)
    from.pop()
    to.push(change.inverse)
    this.#emit(change)
    return change
  }

  #run(operations: readonly OperationInput[], options: ApplyOptions, isTurn = false): ChangeSet {
    this.#engine.recalculation.prepare(() => touchedBy(this.#model, operations))
    const transaction = new Transaction(this.#model, this.#engine, isTurn)
    const restore = this.#counters()
    const behind = this.#engine.recalculation.behindNow()
    let current: OperationInput | undefined
    let cells: RecalculatedCells
    try {
      for (const operation of operations) {
        current = operation
        applyOperation(transaction, operation)
      }
      current = undefined
      stampRows(transaction, options)
      bindFormulas(transaction)
      cells = this.#recalculate(transaction, options.progress)
      for (const check of transaction.afterwards) check()
    } catch (error) {
      this.#rollBack(transaction)
      this.#engine.recalculation.settleSince(behind)
      restore()
      if (error instanceof Refusal && current !== undefined) throw new Refusal(error.findings as [Finding, ...Finding[]], current)
      throw error
    }
    const findings = this.#ledger.refresh(this.#findingsTouched(transaction, cells.columns))
    this.#revision++
    return {
      revision: this.#revision,
      author: options.author ?? null,
      at: options.at ?? null,
      operations: transaction.applied,
      inverse: transaction.inverse,
      recalculated: cells.recalculated,
      changed: cells.changed,
      stale: cells.stale,
      inserted: [...transaction.inserted].flatMap(([table, slots]) => insertedRows(this.#engine, table, slots)),
      removed: [...transaction.removed].flatMap(([table, ids]) => (ids.length === 0 ? [] : [{ table: table.name, ids }])),
      findings,
    }
  }

  /** Ids that are next, to be given again after a call that came to nothing. */
  #counters(): () => void {
    const column = this.#model.nextColumnId
    const rows = this.#model.tables.map(({ store }) => ({ store, next: store.rows.nextId }))
    return () => {
      this.#model.returnColumnIds(column)
      for (const { store, next } of rows) store.rows.returnIds(next)
    }
  }

  /** Applies operations, has somebody look, and takes them back without a trace. */
  #tryOut<Seen>(operations: readonly OperationInput[], look: (change: ChangeSet) => Seen): Seen {
    const restore = this.#counters()
    const behind = this.#engine.recalculation.behindNow()
    const revision = this.#revision
    const change = this.#run(operations, {})
    try {
      return look(change)
    } finally {
      this.#run(change.inverse, {}, true)
      this.#engine.recalculation.settleSince(behind)
      this.#revision = revision
      restore()
    }
  }

  /** Brings everything back to before a refused call: the inverse of what was done, then what depends on it. */
  #rollBack(refused: Transaction): void {
    refused.returnRings()
    const back = new Transaction(this.#model, this.#engine, true)
    // What the refused formulas would read must not stand in the way of taking their columns back.
    for (const column of refused.unbound.keys()) this.#engine.graph.remove(column.id)
    for (const operation of refused.inverse) applyOperation(back, operation)
    for (const [column, table] of refused.unbound) {
      if (this.#model.hasColumn(column.id) && column.formula !== null) back.unbound.set(column, table)
    }
    bindFormulas(back)
    // What was touched on the way there may never have reached the engine, so it is told of both ways.
    for (const [table, dirty] of refused.dirty)
      if (this.#model.find(table.name) === table || table.role !== 'rows')
        back.dirtyIn(table).takeIn(dirty, (slot) => table.store.rows.isLive(slot))
    this.#recalculate(back)
  }

  /** Recalculates what the operations touched; also says which columns had cells written or computed. */
  #recalculate(transaction: Transaction, progress?: ApplyOptions['progress']): RecalculatedCells {
    const cells = new RecalculatedCells(this.#model)
    for (const [table, dirty] of transaction.dirty) {
      for (const [id, slots] of dirty.cells) {
        const column = table.columns.find((one) => one.id === id)
        if (column !== undefined && slots.size > 0) cells.noteWritten(table, column, slots)
      }
    }
    const dirty = new Map([...transaction.dirty].map(([table, rows]) => [table.store, rows]))
    cells.note(transaction.outcomes)
    const { recalculation } = this.#engine
    cells.note(recalculation.run(dirty, progress !== undefined))
    if (progress !== undefined) this.#settleWith(progress, cells, transaction.settles)
    else if (transaction.settles === 'all') cells.note(this.#engine.recalculation.settle())
    else if (transaction.settles.size > 0) cells.note(this.#engine.recalculation.settle(transaction.settles))
    return cells
  }

  /** Calculates step by step what waits, as long as whoever is told of it agrees. */
  #settleWith(
    progress: NonNullable<ApplyOptions['progress']>,
    cells: RecalculatedCells,
    wanted: ReadonlySet<ColumnId> | 'all',
  ): void {
    const { recalculation } = this.#engine
    const isAll = wanted === 'all' || recalculation.mode === 'live'
    const left = (): number => recalculation.stepsLeft(isAll ? undefined : wanted)
    const total = left()
    for (let now = total; now > 0; now = left()) {
      if (progress(1 - now / total) === false) throw refusal('cancelled')
      cells.note(recalculation.settleStep(isAll ? undefined : wanted))
    }
    progress(1)
  }

  #findingsTouched(transaction: Transaction, touched: ReadonlyMap<ColumnModel, TableModel>): Map<ColumnId, Finding[]> {
    const columns = new Map([...touched, ...transaction.unbound])
    for (const column of [...transaction.settled, ...transaction.retyped]) {
      if (this.#model.hasColumn(column.id)) columns.set(column, this.#model.columnOf(column.id).table)
    }
    for (const table of new Set([...transaction.inserted.keys(), ...transaction.removed.keys()])) {
      for (const column of table.columns) columns.set(column, table)
    }
    addToldOf(this.#model, columns)
    const findings = new Map<ColumnId, Finding[]>()
    for (const [column, table] of columns) {
      // Tables that went took their columns along.
      const isThere = this.#model.hasColumn(column.id)
      findings.set(column.id, isThere ? openFindings(this.#model, this.#engine, table, column) : [])
    }
    for (const id of transaction.gone) findings.set(id, [])
    return findings
  }

  #emit(change: ChangeSet): void {
    for (const listener of this.#listeners) listener(change)
  }

  /** Calls a listener after every change, until the function returned is called. */
  on(_event: 'change', listener: (change: ChangeSet) => void): () => void {
    this.#listeners.add(listener)
    return () => this.#listeners.delete(listener)
  }

  /** Names of the tables, in the order they were added. */
  get tables(): readonly string[] {
    return this.#model.tables.map((table) => table.name)
  }

  /** A table to read; refused when there is none of this name. */
  table(name: string): TableView {
    return new TableView(this.#model.table(name), this.#engine)
  }

  /**
   * Everything there is to say about the workbook as it is: about formulas and about data, with row counts. A workbook that
   * calculates on demand is told of as it was last calculated.
   */
  check(): Finding[] {
    this.#engine.recalculation.prepare()
    if (this.#engine.recalculation.mode === 'live') this.#engine.recalculation.settle()
    return this.findings()
  }

  /** The same of the cells that are up to date, without calculating any: to be asked before long work. */
  findings(): Finding[] {
    return findingsOfBook(this.#model, this.#engine).open
  }

  /** Findings that were accepted, as long as the rows behind them stay as they are. */
  accepted(): readonly AcceptedFinding[] {
    return findingsOfBook(this.#model, this.#engine).accepted
  }

  /** The operation that accepts a finding, with a reason; refused when the finding is not there now. */
  accepting(found: Finding, because: string): OperationInput {
    return acceptingOperation(this.#model, this.#engine, found, because)
  }

  /** A named value; refused when there is none of this name. */
  value(name: string): ShownValue {
    return singleValue(this.#engine, this.#model.values, name)
  }

  /** The formula of a named value; null for one that was typed. Refused when there is none of this name. */
  valueFormula(name: string): string | null {
    return this.#model.values.column(name).formula?.text ?? null
  }

  /** The type of a named value; null where it has none yet. */
  valueType(name: string): ValueType | null {
    return this.#model.values.column(name).type
  }

  /** Clock, seed, zone and locale that formulas find around them. */
  get surroundings(): Surroundings {
    return this.#engine.surroundings
  }

  /** What an address names: `table.column`, `value:name`, `tally:table.name` or `rule:name`; refused for none. */
  addressed(address: string): AddressedName {
    const { table, column } = findColumn(this.#model, address)
    return { kind: KIND_OF_ROLE[table.role], table: table.name, name: column.name }
  }

  /** Names of the named values, in order. */
  get values(): readonly string[] {
    return this.#model.values.columns.map((column) => column.name)
  }

  /** Rows of a table: filtered, ordered, some columns, at most so many. Formulas are never affected by a filter. */
  query(query: Query): QueryResult {
    return runQuery(this.#model, this.#engine, query)
  }

  /** Groups of the rows of a table with tallies of each. */
  group(query: GroupQuery): QueryResult {
    return runGroupQuery(this.#model, this.#engine, query)
  }

  /** What a formula gives on every row of a table, without defining anything. Refused where it has mistakes. */
  evaluate(table: string, formula: string): Evaluated {
    return evaluateFormula(this.#model, this.#engine, table, formula)
  }

  /** What a definition would give, on telling rows, without defining anything; for a column that exists, in its place. */
  previewColumn(table: string, column: { readonly name: string; readonly formula: string }): ColumnPreview {
    return previewColumn(this.#model, this.#engine, this.#model.table(table), column)
  }

  /**
   * What operations would do, without doing them: the change set, and of each calculated column they reach rows that tell most.
   *
   * Errors: throws `Refusal` as `apply` would.
   */
  preview(operations: OperationInput | readonly OperationInput[]): OperationsPreview {
    return previewOperations(this.#model, this.#engine, (look) => this.#tryOut(listOf(operations), look))
  }

  /**
   * Where the value of a cell comes from: the formula with values put in, its steps, the branches taken, and what it read, back
   * to cells that were typed or read from a file.
   *
   * @param address - `table.column`, `value:name` or `tally:table.name`
   * @param row - id of the row; left out for named values and tallies
   */
  why(address: string, row?: number): Derivation {
    const owned = findColumn(this.#model, address)
    const { table, column } = owned
    if (table.role !== 'rows') return deriveCell(this.#model, this.#engine, owned, 0)
    const slot = row === undefined ? undefined : table.store.rows.slotOf(row)
    const place = { table: table.name, column: column.name }
    if (slot === undefined) throw refusal('unknown-row', { table: table.name, row: row ?? '(none given)' }, place)
    return deriveCell(this.#model, this.#engine, owned, slot)
  }

  /**
   * Which columns a column is made from and which are made from it, over whatever way, with what an edit of them touches.
   *
   * @param address - `table.column`, `value:name` or `tally:table.name`
   */
  trace(address: string): Trace {
    return traceColumn(this.#model, this.#engine, findColumn(this.#model, address))
  }

  /** A formula of a table in plain English; of one of its columns, or one that is written out. */
  explain(table: string, formula: string): Explanation {
    const model = this.#model.table(table)
    const column = model.find(formula)
    const text = column === undefined ? undefined : formulaOf(column)?.text
    return this.language(table).explain(text ?? formula)
  }

  /** When calculated columns follow their sources; changed by the operation `set-mode`. */
  get mode(): CalculationMode {
    return this.#engine.recalculation.mode
  }

  /** Cells out of step with their sources, by column. */
  get stale(): ColumnCells[] {
    return [...this.#model.columns()].flatMap(({ table, column }) => {
      const rows = this.#engine.recalculation.rowsBehind(column.id)
      return rows.size === 0 ? [] : [columnCells(table, column, [rows])]
    })
  }

  /**
   * Calculates some of what a large edit has left behind, in a workbook that calculates live: to be called while there is
   * nothing else to do. Reading a cell calculates it too, so nobody has to wait for this.
   *
   * @param milliseconds - after which it stops; a block of a column or an index is always finished
   * @returns what was calculated, and whether something is left
   */
  settle(milliseconds: number = Number.POSITIVE_INFINITY): Settlement {
    const cells = new RecalculatedCells(this.#model)
    const until = Date.now() + milliseconds
    while (this.#engine.recalculation.mode === 'live' && this.#engine.recalculation.isBehind()) {
      cells.note(this.#engine.recalculation.settleStep())
      if (Date.now() >= until) break
    }
    const found = new Map(
      [...cells.columns].map(([column, table]) => [column.id, openFindings(this.#model, this.#engine, table, column)]),
    )
    const { recalculated, changed } = cells
    const isLeft = this.#engine.recalculation.mode === 'live' && this.#engine.recalculation.isBehind()
    return { recalculated, changed, findings: this.#ledger.refresh(found), isLeft }
  }

  /** What columns and indexes take in memory. */
  memory(): MemoryReport {
    return memoryReport(this.#model, this.#engine)
  }

  /** Answers for editors of formulas of one table. */
  language(table: string): TableLanguage {
    return tableLanguage(this.#model, this.#model.table(table))
  }
}
