import { type Engine, MOST_PAIRS, PAIRS_A_SECOND, type TableStore, type WatchMarks } from '../engine/index.js'
import { type Finding, finding } from '../findings/index.js'
import type { CheckedFormula, ColumnId } from '../formula/index.js'
import { displayNumber, printName, statusOfFault, type ValueType } from '../values/index.js'
import { calendarFindings } from './calendar-findings.js'
import { errorFindings } from './error-findings.js'
import { labelFindings } from './label-findings.js'
import { linkFindings } from './link-findings.js'
import type { ColumnModel, Model, TableModel } from './model.js'
import { orderKeyFindings, orderKeyOf } from './order-keys.js'
import { statisticsFindings } from './statistics-findings.js'
import { ruleFindings } from './violations.js'

const MISFIT: number = statusOfFault('misfit')

/** All that is to be said about one column now: what its formula shows, and what its data does, with row counts. */
export function findingsOfColumn(engine: Engine, table: TableModel, column: ColumnModel, isThorough = false): Finding[] {
  const found = foundIn(engine, table, column, isThorough)
  if (found.length === 0) return found
  const place = { table: table.name, column: column.name }
  return found.map((one) => ({ ...one, ...place }))
}

/** The same without the place. Every edit asks it of each column it reaches, so what says nothing costs next to nothing. */
function foundIn(engine: Engine, table: TableModel, column: ColumnModel, isThorough: boolean): Finding[] {
  const computed = engine.computed(column.id)
  if (computed !== undefined && table.role === 'rules') return ruleFindings(engine, table, column)
  const found: Finding[] = []
  const add = (list: readonly Finding[]): void => {
    for (const one of list) found.push(one)
  }
  if (computed === undefined) {
    add(misfitFindings(table.store, column))
    add(numberTextFindings(table, column))
  } else {
    const { formula, plan, marks } = computed
    add(formula.findings)
    add(plan.findings)
    if (formula.watches.length > 0) add(watchedFindings(formula, marks))
    add(statisticsFindings(table, formula))
    add(costlyScans(engine, column))
    add(calendarFindings(engine, table, formula, isThorough))
    if (computed.wholeOnly) add(fractionFindings(table, column))
    if (table.role !== 'rules') add(errorFindings(table, column, formula, found))
  }
  add(labelFindings(engine, table, column, isThorough))
  add(orderKeyFindings(engine, table, column))
  for (const link of table.links) if (link.columns[0] === column) add(linkFindings(engine, table, link, isThorough))
  return found
}

/** Parts of a formula that look at so many pairs of rows that nobody would wait for them. */
function costlyScans(engine: Engine, column: ColumnModel): Finding[] {
  if (!engine.readsOtherRows(column.id)) return []
  return engine.accessPathsOf(column.id).flatMap(({ read, pairs }) => {
    if (pairs <= MOST_PAIRS) return []
    const subject = column.formula?.text.slice(read.from, read.to) ?? ''
    const seconds = pairs / PAIRS_A_SECOND
    const time =
      seconds < 120
        ? `${Math.ceil(seconds)} seconds`
        : seconds < 7200
          ? `${Math.ceil(seconds / 60)} minutes`
          : `${Math.ceil(seconds / 3600)} hours`
    const { from, to } = read
    return [finding('costly-scan', { subject, pairs: displayNumber(pairs), time }, { from, to })]
  })
}

/** What the data of a formula's watched places shows, with row counts. */
export function watchedFindings(formula: CheckedFormula, marks: WatchMarks): Finding[] {
  return formula.watches.flatMap((watch, index) => {
    const rows = marks.countOf(index)
    if (rows === 0 || isSaidByUnit(formula, watch)) return []
    const count = ` This happens on ${rows} ${rows === 1 ? 'row' : 'rows'}.`
    return [finding(watch.code, { subject: watch.subject, count }, { from: watch.from, to: watch.to, rows, fixes: watch.fixes })]
  })
}

/** An angle whose unit says that it is in degrees need not be guessed to be. */
function isSaidByUnit({ findings }: CheckedFormula, { code, from }: CheckedFormula['watches'][number]): boolean {
  return code === 'angle-beyond-turn' && findings.some((one) => one.code === 'angle-in-degrees' && one.from === from)
}

function misfitFindings(store: TableStore, column: ColumnModel): Finding[] {
  const storage = store.column(column.id)
  const rows = storage?.faultCount(MISFIT) ?? 0
  if (storage === undefined || rows === 0 || column.type === null) return []
  const text = storage.sampleMisfit()
  // Errors that a paused column had calculated are no texts that somebody typed.
  if (text === undefined) return []
  const sample = JSON.stringify(text.length > 40 ? `${text.slice(0, 39)}…` : text)
  const count = `${rows} ${rows === 1 ? 'cell' : 'cells'}`
  const hold = rows === 1 ? 'holds' : 'hold'
  return [
    finding('misfits', { count, hold, name: printName(column.name), expected: TYPE_PHRASES[column.type], sample }, { rows }),
  ]
}

/** A column of text most of whose values are numbers; one that was declared text and holds nothing else is meant so. */
function numberTextFindings(table: TableModel, column: ColumnModel): Finding[] {
  const storage = table.store.column(column.id)
  if (storage === undefined || column.type !== 'text') return []
  const share = storage.numberTextCount / storage.valueCount
  if (!(share >= 0.5) || (column.declared && share >= 0.95)) return []
  const rows = storage.numberTextCount
  const operation = { op: 'change-column', table: table.name, column: column.name, set: { type: 'number' } }
  const fixes = [{ title: `Make ${column.name} a number column`, operations: [operation] }]
  const count = `${rows} of ${storage.valueCount} values`
  return [finding('numbers-as-text', { count, name: printName(column.name) }, { rows, fixes })]
}

/** Results that a column of whole numbers does not take. */
function fractionFindings(table: TableModel, column: ColumnModel): Finding[] {
  const rows = table.store.column(column.id)?.faultCount(MISFIT) ?? 0
  if (rows === 0) return []
  const operation = { op: 'change-column', table: table.name, column: column.name, set: { type: 'number' } }
  const fixes = [{ title: `Make ${column.name} a number column`, operations: [operation] }]
  const count = `${rows} ${rows === 1 ? 'cell' : 'cells'}`
  return [finding('fractions', { count, name: printName(column.name) }, { rows, fixes })]
}

const TYPE_PHRASES: Record<ValueType, string> = {
  number: 'a number',
  integer: 'a whole number',
  text: 'text',
  boolean: 'true or false',
  date: 'a date',
  datetime: 'a date-time',
}

/** Adds the columns that something is said of because of others that were touched. */
export function addToldOf(model: Model, touched: Map<ColumnModel, TableModel>): void {
  // Keys of either side decide what is said of a link, at the column it begins with.
  const isTouched = (column: ColumnModel): boolean => touched.has(column)
  for (const { table, link } of model.links())
    if (link.columns.some(isTouched) || link.keys.some(isTouched)) touched.set(link.columns[0] as ColumnModel, table)
  for (const table of new Set(touched.values()))
    for (const column of table.columns) {
      const key = orderKeyOf(table, column)
      if (key !== undefined && touched.has(key)) touched.set(column, table)
    }
}

/** What has become of findings. */
interface NewsOfFindings {
  readonly added: readonly Finding[]
  readonly removed: readonly Finding[]
  /** Findings that were there, with more rows now. */
  readonly grown: readonly Finding[]
}

/** What is known of the findings of every column, so that a change can say which came and which went away. */
export class FindingLedger {
  readonly #known: Map<ColumnId, ReadonlyMap<string, Finding>> = new Map()

  /** What is known of each column that has findings. */
  snapshot(): [ColumnId, Finding[]][] {
    return [...this.#known].map(([id, findings]) => [id, [...findings.values()]])
  }

  /** Remembers what is known of some columns. Returns a function that has it be known again. */
  restorer(columns: Iterable<ColumnId>): () => void {
    const former = Array.from(columns, (id) => [id, this.#known.get(id)] as const)
    return () => {
      for (const [id, findings] of former) {
        if (findings === undefined) this.#known.delete(id)
        else this.#known.set(id, findings)
      }
    }
  }

  /** Looks at some columns again; a column that is gone has no findings. */
  refresh(columns: ReadonlyMap<ColumnId, readonly Finding[]>): NewsOfFindings {
    const grown: Finding[] = []
    const added: Finding[] = []
    const removed: Finding[] = []
    for (const [id, now] of columns) {
      const before = this.#known.get(id)
      if (before === undefined && now.length === 0) continue
      const after = new Map(now.map((one) => [keyOf(one), one]))
      for (const [key, one] of after) {
        const known = before?.get(key)
        if (known === undefined) added.push(one)
        else if ((one.rows ?? 0) > (known.rows ?? 0)) grown.push(one)
      }
      for (const [key, one] of before ?? []) if (!after.has(key)) removed.push(one)
      if (after.size === 0) this.#known.delete(id)
      else this.#known.set(id, after)
    }
    return { added, removed, grown }
  }
}

/** Tells findings of a column apart; the same one with another row count is the same. */
function keyOf(one: Finding): string {
  return JSON.stringify([one.code, one.from, one.to])
}
