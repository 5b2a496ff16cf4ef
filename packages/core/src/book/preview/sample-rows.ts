import { BLOCK_MASK, BLOCK_SHIFT, type Selection, type Vector } from '../../columns/index.js'
import { cellAt, type Engine, rowsByBlock } from '../../engine/index.js'
import type { FindingCode } from '../../findings/index.js'
import type { ColumnId, Plan } from '../../formula/index.js'
import { type FaultCode, faultOfStatus, isFaultStatus, Status } from '../../values/index.js'
import type { ColumnModel, TableModel } from '../model/index.js'
import { type ShownValue, showCell } from '../model/index.js'

/** A row of a preview, with the reason it was picked. */
export interface SampleRow {
  readonly row: number
  /** Its place in the table, from 1. */
  readonly rowNumber: number
  readonly why: string
  /** Values of the columns the formula reads. */
  readonly sources: ReadonlyMap<string, ShownValue>
  readonly result: ShownValue
}

/** The rows that operations reach, with what they show now. */
export interface FormerValues {
  /** What a row shows now; undefined where the row or the column is not there yet. */
  before(slot: number): ShownValue | undefined
  isReached(slot: number): boolean
}

/** Most rows a preview shows, beside those that show nothing but the usual. */
const MOST_ROWS = 8
/** Rows with nothing special about them, to see what most look like. */
const ORDINARY_ROWS = 2
/** Characters of a branch's condition that a reason quotes. */
const LONGEST_QUOTE = 32

/** Watches results go by and keeps the rows worth showing: each branch, blanks, zeros, extremes, the first error. */
export class SampleRows {
  blanks = 0
  /** How many results are each error. */
  readonly errors: Map<FaultCode, number> = new Map()
  bytes = 0
  readonly #plan: Plan
  readonly #formula: string
  readonly #target: ColumnId
  readonly #branches: Map<number, number> = new Map()
  readonly #watched: { code: FindingCode; slot: number }[] = []
  #blank: number | null = null
  #error: { readonly slot: number; readonly code: FaultCode } | null = null
  #smallest: { slot: number; value: number } | null = null
  #largest: { slot: number; value: number } | null = null
  #furthest: { slot: number; value: number } | null = null
  readonly #former: FormerValues | null

  /**
   * @param target - the column that the results are for
   * @param former - what the rows show now, where others than these are not to be picked
   */
  constructor(plan: Plan, formula: string, target: ColumnId, former: FormerValues | null = null) {
    this.#former = former
    this.#target = target
    this.#plan = plan
    this.#formula = formula
  }

  /** The first error; null where there is none. */
  get firstError(): { readonly slot: number; readonly code: FaultCode } | null {
    return this.#error
  }

  /** Notes the first row of a block that a branch takes. */
  branch(branch: number, block: number, row: number): void {
    if (!this.#branches.has(branch)) this.#branches.set(branch, (block << BLOCK_SHIFT) + row)
  }

  /** Notes the first row where a watched place shows something. */
  watched(code: FindingCode, slot: number | null): void {
    if (slot !== null) this.#watched.push({ code, slot })
  }

  /** Looks through one block's results. */
  visit(block: number, result: Vector, selection: Selection): void {
    this.bytes += selection.count * (result.kind === 'number' ? 9 : result.kind === 'boolean' ? 2 : 5)
    for (let k = 0; k < selection.count; k++) {
      const row = selection.rows === null ? k : (selection.rows[k] as number)
      const slot = (block << BLOCK_SHIFT) + row
      const status = result.status[row] as number
      if (status === Status.blank) {
        this.blanks++
        this.#blank ??= slot
      } else if (isFaultStatus(status)) {
        const code = faultOfStatus(status)
        this.errors.set(code, (this.errors.get(code) ?? 0) + 1)
        this.#error ??= { slot, code }
      } else if (result.kind === 'text') this.bytes += (result.values[row] as string).length
      else if (result.kind === 'number') this.#compare(slot, result.values[row] as number)
    }
  }

  #compare(slot: number, value: number): void {
    if (this.#smallest === null || value < this.#smallest.value) this.#smallest = { slot, value }
    if (this.#largest === null || value > this.#largest.value) this.#largest = { slot, value }
    const before = this.#former?.before(slot)
    if (typeof before !== 'number') return
    const distance = Math.abs(value - before)
    if (distance > (this.#furthest?.value ?? 0)) this.#furthest = { slot, value: distance }
  }

  /** The rows picked, in the order of the table, each with its reasons. */
  rows(engine: Engine, table: TableModel): SampleRow[] {
    const sources = table.columns.filter((column) => this.#plan.sources.includes(column.id))
    const reasons = this.#reasons(table, sources)
    const results = resultsAt(engine, table, this.#plan, [...reasons.keys()], this.#target)
    const { rows } = table.store
    return [...reasons]
      .map(([slot, why]) => ({
        row: rows.idOf(slot),
        rowNumber: rows.placeOf(slot) + 1,
        why: why.join('; '),
        sources: new Map(sources.map((column) => [column.name, sourceAt(engine, table, column, slot)])),
        result: results.get(slot) ?? null,
      }))
      .sort((a, b) => a.rowNumber - b.rowNumber)
  }

  #reasons(table: TableModel, sources: readonly ColumnModel[]): Map<number, string[]> {
    const reasons = new Map<number, string[]>()
    const pick = (slot: number | null | undefined, why: string): void => {
      if (slot === null || slot === undefined || (!reasons.has(slot) && reasons.size >= MOST_ROWS)) return
      reasons.set(slot, [...(reasons.get(slot) ?? []), why])
    }
    pick(this.#error?.slot, 'first error')
    for (const { code, slot } of this.#watched)
      pick(slot, code === 'division-by-zero' ? 'a zero divisor' : 'a blank falls through')
    pick(this.#furthest?.slot, 'moves furthest')
    pick(this.#smallest?.slot, 'smallest result')
    pick(this.#largest?.slot, 'largest result')
    for (const [branch, slot] of [...this.#branches].sort(([a], [b]) => a - b)) pick(slot, this.#branchWords(branch))
    pick(
      firstSource(table, sources, this.#former, (status) => status === Status.blank),
      'a blank source',
    )
    pick(
      firstSource(table, sources, this.#former, (status, value) => status === Status.value && value === 0),
      'a zero',
    )
    pick(this.#blank, 'first blank result')
    for (const slot of this.#ordinary(table, reasons)) reasons.set(slot, ['an ordinary row'])
    return reasons
  }

  /** Rows that were picked for no reason, from where most are: the middle of the table. */
  #ordinary({ store }: TableModel, picked: ReadonlyMap<number, unknown>): number[] {
    const inOrder = store.rows.inOrder()
    const found: number[] = []
    for (let step = 0; step < inOrder.length && found.length < ORDINARY_ROWS; step++) {
      const slot = inOrder[(Math.floor(inOrder.length / 3) + step) % inOrder.length] as number
      if (!picked.has(slot) && this.#former?.isReached(slot) !== false) found.push(slot)
    }
    return found
  }

  #branchWords(branch: number): string {
    const place = this.#plan.branches[branch]
    if (place === undefined || place.from === place.to) return 'no branch'
    const text = this.#formula.slice(place.from, place.to)
    return `${place.isOtherwise ? 'else' : 'when'} ${text.length > LONGEST_QUOTE ? `${text.slice(0, LONGEST_QUOTE - 1)}…` : text}`
  }
}

/** The first row where a source column passes a test of its status and stored value. */
function firstSource(
  table: TableModel,
  sources: readonly ColumnModel[],
  former: FormerValues | null,
  passes: (status: number, value: unknown) => boolean,
): number | null {
  const { store } = table
  for (const column of sources) {
    const storage = store.column(column.id)
    if (storage === undefined || (storage.type !== 'number' && storage.type !== 'integer' && storage.blankCount === 0)) continue
    for (let block = 0; block < store.blockCount; block++) {
      const { rows, count } = store.liveRows(block)
      for (let k = 0; k < count; k++) {
        const row = rows === null ? k : (rows[k] as number)
        const slot = (block << BLOCK_SHIFT) + row
        if (former?.isReached(slot) !== false && passes(storage.statusAt(slot), storage.valueAt(slot))) return slot
      }
    }
  }
  return null
}

/** What a plan gives in some rows, by their slots. */
export function resultsAt(
  engine: Engine,
  table: TableModel,
  plan: Plan,
  slots: readonly number[],
  target: ColumnId,
): Map<number, ShownValue> {
  const results = new Map<number, ShownValue>()
  const visit = (block: number, result: Vector): void => {
    for (const slot of slots)
      if (slot >> BLOCK_SHIFT === block) results.set(slot, showCell(cellAt(result, slot & BLOCK_MASK), plan.type))
  }
  engine.evaluate(table.store, plan, visit, { rows: rowsByBlock(slots), target })
  return results
}

function sourceAt(engine: Engine, table: TableModel, column: ColumnModel, slot: number): ShownValue {
  const storage = engine.recalculation.storage(table.store, column.id, [slot])
  return storage === undefined ? null : showCell(storage.read(slot), storage.type)
}
