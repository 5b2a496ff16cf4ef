import { Engine, rowsByBlock } from '../engine/index.js'
import type { Finding } from '../findings/index.js'
import { Refusal, refusal } from '../findings/index.js'
import type { ColumnId } from '../formula/index.js'
import { defaultSurroundings, type Surroundings } from '../values/index.js'
import { bindFormulas } from './bind.js'
import type { ShownValue } from './cell-values.js'
import { type ChangeSet, type ColumnCells, columnCells, insertedRows } from './change-set.js'
import { FindingLedger, findingsOfColumn } from './findings-of.js'
import { type GroupQuery, runGroupQuery } from './group-query.js'
import { type ColumnModel, Model, type TableModel } from './model.js'
import { applyOperation, type Operation, type OperationInput } from './operations/index.js'
import { type ColumnPreview, previewColumn } from './preview.js'
import { type Query, type QueryResult, runQuery } from './query.js'
import { type TableLanguage, tableLanguage } from './table-language.js'
import { singleValue, TableView } from './table-view.js'
import { Transaction } from './transaction.js'

/** What goes with a call of `apply`. */
export interface ApplyOptions {
  readonly author?: string
  /** When, as ISO 8601 text of the wall clock. */
  readonly at?: string
  /** The revision the caller saw; if the workbook has moved on, the call is refused. */
  readonly expects?: number
}

/** One undo step: what takes the state back, or forth again. */
type Step = readonly Operation[]

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

  /** @param surroundings - clock, seed, locale and zone; what is not given is `defaultSurroundings` */
  constructor(surroundings: Partial<Surroundings> = {}) {
    this.#engine = new Engine({ ...defaultSurroundings, ...surroundings })
    this.#model = new Model(this.#engine)
  }

  /** How many calls have changed the workbook; undo and redo count too. */
  get revision(): number {
    return this.#revision
  }

  /**
   * Applies operations, all or none: one revision, one undo step, one change set. Inside one call definitions may come in
   * any order.
   *
   * Errors: throws `Refusal` with everything found; the workbook is then as it was.
   */
  apply(operations: OperationInput | readonly OperationInput[], options: ApplyOptions = {}): ChangeSet {
    if (options.expects !== undefined && options.expects !== this.#revision) {
      throw refusal('unexpected-revision', { revision: this.#revision, expected: options.expects })
    }
    const list = Array.isArray(operations) ? (operations as readonly OperationInput[]) : [operations as OperationInput]
    const { change, inverse } = this.#run(list, options)
    this.#undoSteps.push(inverse)
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
    const { change, inverse } = this.#run(step, options, true)
    from.pop()
    to.push(inverse)
    this.#emit(change)
    return change
  }

  #run(operations: readonly OperationInput[], options: ApplyOptions, isTurn = false): { change: ChangeSet; inverse: Step } {
    const transaction = new Transaction(this.#model, this.#engine, isTurn)
    let current: OperationInput | undefined
    try {
      for (const operation of operations) {
        current = operation
        applyOperation(transaction, operation)
      }
      current = undefined
      bindFormulas(transaction)
    } catch (error) {
      this.#rollBack(transaction)
      if (error instanceof Refusal && current !== undefined) throw new Refusal(error.findings as [Finding, ...Finding[]], current)
      throw error
    }
    const cells = this.#recalculate(transaction)
    const findings = this.#ledger.refresh(this.#findingsTouched(transaction, cells.columns))
    this.#revision++
    const change: ChangeSet = {
      revision: this.#revision,
      author: options.author ?? null,
      at: options.at ?? null,
      operations: transaction.applied,
      recalculated: cells.recalculated,
      changed: cells.changed,
      stale: [],
      inserted: [...transaction.inserted].flatMap(([table, slots]) => (slots.length === 0 ? [] : [insertedRows(table, slots)])),
      removed: [...transaction.removed].flatMap(([table, ids]) => (ids.length === 0 ? [] : [{ table: table.name, ids }])),
      findings,
    }
    return { change, inverse: transaction.inverse }
  }

  /** Brings everything back to before a refused call: the inverse of what was done, then what depends on it. */
  #rollBack(refused: Transaction): void {
    const back = new Transaction(this.#model, this.#engine, true)
    // What the refused formulas would read must not stand in the way of taking their columns back.
    for (const column of refused.unbound.keys()) this.#engine.graph.remove(column.id)
    for (const operation of refused.inverse) applyOperation(back, operation)
    for (const [column, table] of refused.unbound) {
      if (this.#model.hasColumn(column.id) && column.formula !== null) back.unbound.set(column, table)
    }
    bindFormulas(back)
    this.#recalculate(back)
  }

  /** Recalculates what the operations touched; also says which columns had cells written or computed. */
  #recalculate(transaction: Transaction): {
    recalculated: ColumnCells[]
    changed: ColumnCells[]
    columns: Map<ColumnModel, TableModel>
  } {
    const recalculated: ColumnCells[] = []
    const changed: ColumnCells[] = []
    const columns = new Map<ColumnModel, TableModel>()
    for (const [table, dirty] of transaction.dirty) {
      for (const [id, slots] of dirty.cells) {
        const column = table.columns.find((one) => one.id === id)
        if (column === undefined || slots.size === 0) continue
        const rows = [...rowsByBlock(slots)].map(([block, selection]) => ({ block, selection }))
        changed.push(columnCells(table, column, rows))
        columns.set(column, table)
      }
    }
    const dirty = new Map([...transaction.dirty].map(([table, rows]) => [table.store, rows]))
    for (const outcome of this.#engine.recalculate(dirty)) {
      const { table, column } = this.#model.columnOf(outcome.column)
      columns.set(column, table)
      recalculated.push(columnCells(table, column, outcome.computed))
      if (outcome.changed.length > 0) changed.push(columnCells(table, column, outcome.changed))
    }
    return { recalculated, changed, columns }
  }

  #findingsTouched(transaction: Transaction, touched: ReadonlyMap<ColumnModel, TableModel>): Map<ColumnId, Finding[]> {
    const columns = new Map([...touched, ...transaction.unbound])
    for (const column of [...transaction.settled, ...transaction.retyped]) {
      if (this.#model.hasColumn(column.id)) columns.set(column, this.#model.columnOf(column.id).table)
    }
    for (const table of new Set([...transaction.inserted.keys(), ...transaction.removed.keys()])) {
      for (const column of table.columns) columns.set(column, table)
    }
    const findings = new Map<ColumnId, Finding[]>()
    for (const [column, table] of columns) findings.set(column.id, findingsOfColumn(this.#engine, table, column))
    for (const id of transaction.gone) findings.set(id, [])
    return findings
  }

  #emit(change: ChangeSet): void {
    for (const listener of this.#listeners) listener(change)
  }

  /** Calls `listener` after every change. Returns a function that ends it. */
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

  /** Everything there is to say about the workbook as it is: about formulas and about data, with row counts. */
  check(): Finding[] {
    return [...this.#model.columns()].flatMap(({ table, column }) => findingsOfColumn(this.#engine, table, column))
  }

  /** A named value; refused, with the nearest name, when there is none of this name. */
  value(name: string): ShownValue {
    return singleValue(this.#model.values, name)
  }

  /** Names of the named values, in the order they were set. */
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

  /** What a definition would give, on telling rows, without defining anything; for a column that exists, in its place. */
  previewColumn(table: string, column: { readonly name: string; readonly formula: string }): ColumnPreview {
    return previewColumn(this.#model, this.#engine, this.#model.table(table), column)
  }

  /** Answers for editors of formulas of one table. */
  language(table: string): TableLanguage {
    return tableLanguage(this.#model, this.#model.table(table))
  }
}
