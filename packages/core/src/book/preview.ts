import { BLOCK_SHIFT, type Vector } from '../columns/index.js'
import { type Engine, WatchMarks } from '../engine/index.js'
import { type Finding, finding, hasErrors } from '../findings/index.js'
import { checkFormula, type Plan, parseFormula } from '../formula/index.js'
import { CellFault, compareText, faultOfStatus, isFaultStatus, printName, Status, type ValueType } from '../values/index.js'
import { type ShownValue, showCell } from './cell-values.js'
import type { ColumnModel, Model, TableModel } from './model.js'

/** A row of a preview, with the reason it was picked. */
export interface TellingRow {
  readonly row: number
  /** Its place in the table, from 1. */
  readonly rowNumber: number
  readonly why: string
  /** Values of the columns the formula reads. */
  readonly sources: ReadonlyMap<string, ShownValue>
  readonly result: ShownValue
}

/** What a definition would give. */
export interface ColumnPreview {
  readonly findings: readonly Finding[]
  /** Type of the result; null when the formula cannot be run. */
  readonly type: ValueType | null
  /** At most ten. */
  readonly rows: readonly TellingRow[]
  readonly rowCount: number
  readonly blanks: number
  readonly errors: number
  /** Bytes the column would take. */
  readonly bytes: number
}

/** Most rows a preview shows. */
const MOST_ROWS = 10

/** Runs a definition over a whole table without keeping it, and picks rows that tell what it does. */
export function previewColumn(
  model: Model,
  engine: Engine,
  table: TableModel,
  definition: { name: string; formula: string },
): ColumnPreview {
  const existing = table.find(definition.name)
  const checked = checkFormula(parseFormula(definition.formula), model.scopeOf(table, existing))
  const place = { table: table.name, column: definition.name }
  const own = checked.references.find(({ column }) => existing !== undefined && column === existing.id)
  const cycle =
    own === undefined
      ? []
      : [
          finding(
            'cycle',
            { name: printName(definition.name), path: `${printName(definition.name)} → ${printName(definition.name)}` },
            { from: own.from, to: own.to },
          ),
        ]
  const findings = [...checked.findings, ...cycle]
  const nothing = { type: null, rows: [], rowCount: table.store.rows.rowCount, blanks: 0, errors: 0, bytes: 0 }
  if (hasErrors(findings)) return { ...nothing, findings: findings.map((one) => ({ ...one, ...place })) }
  const plan = engine.compile(checked)
  const picker = new RowPicker(plan, definition.formula)
  const marks = new WatchMarks(checked.watches.length)
  engine.evaluate(table.store, plan, (block, result, selection) => picker.visit(block, result, selection), {
    probe: (branch, block, row) => picker.branch(branch, (block << BLOCK_SHIFT) + row),
    ...(checked.watches.length > 0 && { marks }),
  })
  const sources = table.columns.filter((column) => plan.sources.includes(column.id))
  const watched = checked.watches.flatMap((watch, index) => {
    const rows = marks.countOf(index)
    const count = ` This happens on ${rows} ${rows === 1 ? 'row' : 'rows'}.`
    return rows === 0
      ? []
      : [finding(watch.code, { subject: watch.subject, count }, { from: watch.from, to: watch.to, rows, fixes: watch.fixes })]
  })
  return {
    findings: [...findings, ...plan.findings, ...watched].map((one) => ({ ...one, ...place })),
    type: plan.type,
    rows: picker.rows(table, sources),
    rowCount: table.store.rows.rowCount,
    blanks: picker.blanks,
    errors: picker.errors,
    bytes: picker.bytes,
  }
}

/** Watches results go by and keeps the rows worth showing. */
class RowPicker {
  blanks = 0
  errors = 0
  bytes = 0
  readonly #plan: Plan
  readonly #formula: string
  readonly #branches: Map<number, number> = new Map()
  readonly #results: Map<number, ShownValue> = new Map()
  #first: number | null = null
  #blank: number | null = null
  #error: number | null = null
  #smallest: { slot: number; value: number | string } | null = null
  #largest: { slot: number; value: number | string } | null = null

  constructor(plan: Plan, formula: string) {
    this.#plan = plan
    this.#formula = formula
  }

  /** Notes the first row that a branch takes. */
  branch(branch: number, slot: number): void {
    if (!this.#branches.has(branch)) this.#branches.set(branch, slot)
  }

  /** Looks through one block's results. */
  visit(block: number, result: Vector, selection: { rows: Uint16Array | null; count: number }): void {
    this.bytes += selection.count * (result.kind === 'number' ? 9 : result.kind === 'boolean' ? 2 : 5)
    for (let k = 0; k < selection.count; k++) {
      const row = selection.rows === null ? k : (selection.rows[k] as number)
      const slot = (block << BLOCK_SHIFT) + row
      const status = result.status[row] as number
      this.#first ??= slot
      if (status === Status.blank) {
        this.blanks++
        this.#blank ??= slot
      } else if (isFaultStatus(status)) {
        this.errors++
        if (this.#error === null) {
          this.#error = slot
          this.#results.set(slot, new CellFault(faultOfStatus(status)))
        }
      } else {
        const value = result.values[row] as number | string
        if (typeof value === 'string') this.bytes += value.length
        if (result.kind !== 'boolean' && (this.#smallest === null || isBefore(value, this.#smallest.value)))
          this.#smallest = { slot, value }
        if (result.kind !== 'boolean' && (this.#largest === null || isBefore(this.#largest.value, value)))
          this.#largest = { slot, value }
      }
    }
    // Results of picked rows are read while the block is at hand.
    for (const slot of this.#picked()) {
      if (slot >> BLOCK_SHIFT === block && !this.#results.has(slot))
        this.#results.set(slot, resultAt(result, slot & ((1 << BLOCK_SHIFT) - 1), this.#plan.type))
    }
  }

  #picked(): number[] {
    const slots = [...this.#branches.values(), this.#first, this.#blank, this.#error, this.#smallest?.slot, this.#largest?.slot]
    return slots.filter((slot): slot is number => slot !== null && slot !== undefined)
  }

  /** The rows picked, in the order of the table, each with its reasons. */
  rows(table: TableModel, sources: readonly ColumnModel[]): TellingRow[] {
    const reasons = new Map<number, string[]>()
    const pick = (slot: number | null | undefined, why: string): void => {
      if (slot === null || slot === undefined || (!reasons.has(slot) && reasons.size >= MOST_ROWS)) return
      reasons.set(slot, [...(reasons.get(slot) ?? []), why])
    }
    pick(this.#error, 'first error')
    pick(this.#blank, 'first blank result')
    pick(this.#smallest?.slot, 'smallest result')
    pick(this.#largest?.slot, 'largest result')
    for (const [branch, slot] of [...this.#branches].sort(([a], [b]) => a - b)) {
      const at = this.#plan.branches[branch]
      const text = at === undefined ? '' : this.#formula.slice(at.from, at.to)
      pick(slot, `branch ${text.length > 30 ? `${text.slice(0, 29)}…` : text}`)
    }
    if (reasons.size === 0) pick(this.#first, 'first row')
    const { rows } = table.store
    return [...reasons]
      .map(([slot, why]) => ({
        row: rows.idOf(slot),
        rowNumber: rows.placeOf(slot) + 1,
        why: why.join(', '),
        sources: new Map(sources.map((column) => [column.name, shownAt(table, column, slot)])),
        result: this.#results.get(slot) ?? null,
      }))
      .sort((a, b) => a.rowNumber - b.rowNumber)
  }
}

function shownAt(table: TableModel, column: ColumnModel, slot: number): ShownValue {
  const storage = table.store.column(column.id)
  return storage === undefined ? null : showCell(storage.read(slot), storage.type)
}

function resultAt(result: Vector, row: number, type: ValueType): ShownValue {
  const status = result.status[row] as number
  if (status === Status.blank) return null
  if (isFaultStatus(status)) return new CellFault(faultOfStatus(status))
  return showCell(result.kind === 'boolean' ? result.values[row] === 1 : (result.values[row] as number | string), type)
}

function isBefore(left: number | string, right: number | string): boolean {
  return typeof left === 'string' ? compareText(left, right as string) < 0 : left < (right as number)
}
