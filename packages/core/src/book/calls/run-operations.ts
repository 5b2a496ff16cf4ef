import { type Engine, TooMuchText } from '../../engine/index.js'
import type { Finding } from '../../findings/index.js'
import { Refusal, refusal, refuseErrors } from '../../findings/index.js'
import { type ColumnId, isSameName } from '../../formula/index.js'
import { printName } from '../../values/index.js'
import type { ColumnModel, Model, TableModel } from '../model/index.js'
import { shownUnit } from '../model/index.js'
import type { OperationSet, ReadOperation } from '../operations/index.js'
import type { OperationJson } from '../schemas/index.js'
import {
  bindFormulas,
  type Caller,
  type ChangeSet,
  type ColumnUnit,
  changesDefinitions,
  insertedRows,
  RecalculatedCells,
  stampsDue,
  Transaction,
} from '../transaction/index.js'
import type { ApplyOptions } from './call-options.js'
import { findingsNow, traced } from './findings-now.js'
import { turn } from './later.js'
import type { WorkbookState } from './workbook-state.js'

/** How a call of operations runs. */
export interface RunOptions extends Omit<ApplyOptions, 'expects' | 'strict'> {
  /** True to refuse warnings that were not there before, or are about more rows; or a function that says which of them count. */
  readonly strict?: boolean | ((found: Finding) => boolean)
  /** True for a step back or forth, which brings what was whole before. */
  readonly isUndoRedo?: boolean
  /** Who calls, where that is not someone who may do everything. */
  readonly caller?: Caller
  /** Gets the change set before the call counts as done; where it throws, the call is taken back. */
  readonly keep?: (change: ChangeSet) => void
}

/**
 * Runs the operations of one call, all or none: applies them, binds formulas, recalculates, and looks at findings again.
 * Whatever throws on the way, the workbook is then as it was.
 *
 * @throws Refusal with everything found
 */
export function runOperations(state: WorkbookState, operations: readonly OperationJson[], options: RunOptions = {}): ChangeSet {
  return state.exclusively(() => {
    const call = stepsOf(state, operations, options, options.progress !== undefined || options.signal !== undefined)
    let step = call.next()
    while (step.done !== true) step = isEnded(options, step.value) ? call.throw(refusal('cancelled')) : call.next()
    return step.value
  })
}

/**
 * Runs the operations of one call in slices, between which the rest of the program has its turn. Until it is done, no other
 * call may begin, and cells are those that the call would leave.
 *
 * @param sliceMs - milliseconds after which a slice ends
 * @throws Refusal with everything found
 */
export function runOperationsAsync(
  state: WorkbookState,
  operations: readonly OperationJson[],
  options: RunOptions,
  sliceMs: number,
): Promise<ChangeSet> {
  return state.exclusivelyAsync(async () => {
    const call = stepsOf(state, operations, options, true)
    let until = Date.now() + sliceMs
    let step = call.next()
    while (step.done !== true) {
      if (Date.now() >= until) {
        await turn()
        until = Date.now() + sliceMs
      }
      step = isEnded(options, step.value) ? call.throw(refusal('cancelled')) : call.next()
    }
    return step.value
  })
}

/** Tells of the share that is done; true when the call is to end here. */
function isEnded({ progress, signal }: RunOptions, share: number): boolean {
  const wantsMore = progress?.(share)
  return share < 1 && (wantsMore === false || signal?.aborted === true)
}

/** The steps of a call; between them, with the share of the work that is done, it can be ended by throwing. */
function* stepsOf(
  state: WorkbookState,
  operations: readonly OperationJson[],
  options: RunOptions,
  isSliced: boolean,
): Generator<number, ChangeSet, void> {
  const { model, engine, ledger, revision, operations: known } = state
  const isDefining = changesDefinitions(operations)
  if (isDefining) state.definitions++
  const read = operations.map((operation) => readEach(known, operation))
  engine.recalculation.prepare(() => read.flatMap((one) => [...one.touches(model, options.caller?.names ?? model)]))
  const transaction = new Transaction(model, engine, options.isUndoRedo, options.caller)
  const restoreCounters = counters(model)
  const stale = engine.recalculation.staleNow()
  let current: OperationJson | undefined
  let restoreFindings = (): void => undefined
  try {
    for (const one of read) {
      current = one.operation
      one.apply(transaction)
    }
    current = undefined
    for (const stamp of stampsDue(transaction, options)) known.read(stamp).apply(transaction)
    bindFormulas(transaction)
    model.checkFurther(transaction)
    const cells = recalculate(model, engine, transaction, isSliced)
    state.calculating = cells
    if (isSliced) yield* flushInSteps(engine, cells, transaction.toFlush)
    state.calculating = null
    for (const check of transaction.afterwards) check()
    const touched = findingsTouched(model, engine, transaction, cells.columns)
    const { grown, takeBack, ...news } = ledger.refresh(touched)
    restoreFindings = takeBack
    const findings = traced(model, engine, news)
    if (options.strict !== undefined) refuseStrict(options.strict, [...findings.added, ...grown])
    state.revision = revision + 1
    const change = changeSet(state, transaction, cells, findings, options)
    options.keep?.(change)
    return change
  } catch (thrown) {
    // While the column is still there that it is about.
    const error = thrown instanceof TooMuchText ? tooMuchText(model, thrown) : thrown
    state.calculating = null
    state.revision = revision
    restoreFindings()
    rollBack(state, transaction)
    engine.recalculation.flushSince(stale)
    restoreCounters()
    throw withOperation(error, current ?? blamed(operations, error))
  } finally {
    if (isDefining) state.definitions++
  }
}

/** Refuses a call for the warnings that it brings, of those that count. */
function refuseStrict(strict: NonNullable<RunOptions['strict']>, found: readonly Finding[]): void {
  if (strict !== false) refuseErrors(typeof strict === 'function' ? found.filter(strict) : found, 'warning')
}

/** Reads an operation; a refusal says which one it was. */
function readEach(known: OperationSet, operation: OperationJson): ReadOperation {
  try {
    return known.read(operation)
  } catch (error) {
    throw withOperation(error, operation)
  }
}

/** The operation that a refusal of the whole call is about: the only one, or the last that names what its first finding is about. */
function blamed(operations: readonly OperationJson[], error: unknown): OperationJson | undefined {
  if (operations.length === 1 || !(error instanceof Refusal)) return operations[0]
  const [{ table, column } = {}] = error.findings
  if (column === undefined) return undefined
  return operations.findLast((one) => {
    const given = one as { readonly table?: unknown; readonly column?: unknown; readonly name?: unknown }
    const named = given.name ?? (given.column as { readonly name?: unknown } | undefined)?.name ?? given.column
    // Named values are of no table.
    const isIn = typeof given.table !== 'string' || (table !== undefined && isSameName(given.table, table))
    return isIn && typeof named === 'string' && isSameName(named, column)
  })
}

function withOperation(error: unknown, operation: OperationJson | undefined): unknown {
  return error instanceof Refusal ? new Refusal(error.findings as [Finding, ...Finding[]], operation) : error
}

function tooMuchText(model: Model, { column: id }: TooMuchText): Refusal {
  const owned = [...model.columns()].find(({ column }) => column.id === id)
  const place = owned === undefined ? {} : { table: owned.table.name, column: owned.column.name }
  return refusal('too-much-text', { name: owned === undefined ? 'A column' : printName(owned.column.name) }, place)
}

/** Applies operations, looks at the result, and takes them back without a trace. */
export function tryOperations<Seen>(
  state: WorkbookState,
  operations: readonly OperationJson[],
  options: Pick<RunOptions, 'strict' | 'caller'>,
  look: (change: ChangeSet) => Seen,
): Seen {
  return tryEach(state, [operations], options, look)[0] as Seen
}

/** The same one after the other, each upon those before it, with a look after each. */
export function tryEach<Seen>(
  state: WorkbookState,
  calls: Iterable<readonly OperationJson[]>,
  options: Pick<RunOptions, 'strict' | 'caller' | 'isUndoRedo'>,
  look: (change: ChangeSet) => Seen,
): Seen[] {
  const { model, engine, revision } = state
  const restoreCounters = counters(model)
  const stale = engine.recalculation.staleNow()
  const done: ChangeSet[] = []
  const seen: Seen[] = []
  try {
    for (const operations of calls) {
      const change = runOperations(state, operations, options)
      done.push(change)
      seen.push(look(change))
    }
    return seen
  } finally {
    for (const change of done.reverse()) runOperations(state, change.inverse, { isUndoRedo: true })
    engine.recalculation.flushSince(stale)
    state.revision = revision
    restoreCounters()
  }
}

function changeSet(
  { engine, revision }: WorkbookState,
  transaction: Transaction,
  cells: RecalculatedCells,
  findings: ChangeSet['findings'],
  { author, at }: RunOptions,
): ChangeSet {
  return {
    revision,
    author: author ?? null,
    at: at ?? null,
    operations: transaction.applied,
    inverse: transaction.inverse,
    ...cells.told(),
    inserted: [...transaction.inserted].flatMap(([table, slots]) => insertedRows(engine, table, slots.all())),
    removed: [...transaction.removed].flatMap(([table, ids]) => (ids.length === 0 ? [] : [{ table: table.name, ids }])),
    units: unitsNow(transaction),
    findings,
  }
}

/** Columns that are in another unit than before the call and were there before it. */
function unitsNow({ model, unitsBefore }: Transaction): ColumnUnit[] {
  return [...unitsBefore].flatMap(([column, before]) => {
    if (!model.hasColumn(column.id)) return []
    const unit = { before: shownUnit(before), after: column.shownUnit }
    return unit.before === unit.after ? [] : [{ table: model.columnOf(column.id).table.name, column: column.name, ...unit }]
  })
}

/** Ids that are next, to be given again after a call that came to nothing. */
function counters(model: Model): () => void {
  const column = model.nextColumnId
  const rows = model.tables.map(({ store }) => ({ store, next: store.rows.nextId }))
  return () => {
    model.returnColumnIds(column)
    for (const { store, next } of rows) store.rows.returnIds(next)
  }
}

/** Brings everything back to before a refused call: the inverse of what was done, then what depends on it. */
function rollBack({ model, engine, operations }: WorkbookState, refused: Transaction): void {
  refused.returnRings()
  const back = new Transaction(model, engine, true)
  // What the refused formulas would read must not stand in the way of taking their columns back.
  for (const column of refused.unbound.keys()) engine.columnGraph.remove(column.id)
  for (const operation of refused.inverse) operations.read(operation).apply(back)
  for (const [column, table] of refused.unbound) {
    if (model.hasColumn(column.id) && column.formula !== null) back.unbound.set(column, table)
  }
  bindFormulas(back)
  model.checkFurther(back)
  // What was touched on the way there may never have reached the engine, so it is told of both ways.
  for (const [table, dirty] of refused.dirty)
    if (model.find(table.name) === table || table.role !== 'rows')
      back.dirtyIn(table).takeIn(dirty, (slot) => table.store.rows.isLive(slot))
  recalculate(model, engine, back)
}

/**
 * Recalculates what the operations touched; also says which columns had cells written or computed.
 *
 * @param isLater - whether all that can be deferred is, to be flushed step by step
 */
function recalculate(model: Model, engine: Engine, transaction: Transaction, isLater = false): RecalculatedCells {
  const cells = new RecalculatedCells(model)
  for (const [table, dirty] of transaction.dirty) {
    for (const [id, slots] of dirty.cells) {
      const column = table.withId(id)
      if (column !== undefined && slots.size > 0) cells.noteWritten(table, column, slots)
    }
  }
  const dirty = new Map([...transaction.dirty].map(([table, rows]) => [table.store, rows]))
  cells.note(transaction.outcomes)
  const { recalculation } = engine
  cells.note(recalculation.run(dirty, isLater))
  if (isLater) return cells
  if (transaction.toFlush === 'all') cells.note(recalculation.flush())
  else if (transaction.toFlush.size > 0) cells.note(recalculation.flush(transaction.toFlush))
  return cells
}

/** Calculates what was deferred step by step; between steps it says which share is done. */
function* flushInSteps(
  { recalculation }: Engine,
  cells: RecalculatedCells,
  wanted: ReadonlySet<ColumnId> | 'all',
): Generator<number, void, void> {
  const isAll = wanted === 'all' || recalculation.mode === 'live'
  const left = (): number => recalculation.stepsLeft(isAll ? undefined : wanted)
  const total = left()
  for (let now = total; now > 0; now = left()) {
    yield 1 - now / total
    cells.note(recalculation.flushStep(isAll ? undefined : wanted))
  }
  yield 1
}

/** What is to be said now of each column that the call has had to do with. */
function findingsTouched(
  model: Model,
  engine: Engine,
  transaction: Transaction,
  touched: ReadonlyMap<ColumnModel, TableModel>,
): Map<ColumnId, Finding[]> {
  const columns = new Map([...touched, ...transaction.unbound])
  for (const column of [...transaction.findingsDue, ...transaction.retyped]) {
    if (model.hasColumn(column.id)) columns.set(column, model.columnOf(column.id).table)
  }
  for (const table of new Set([...transaction.inserted.keys(), ...transaction.removed.keys()])) {
    for (const column of table.columns) columns.set(column, table)
  }
  const findings = findingsNow(model, engine, columns)
  for (const id of transaction.gone) findings.set(id, [])
  return findings
}
