import { BLOCK_MASK, BLOCK_SHIFT, type Cell } from '../../columns/index.js'
import { cellAt, type Engine, type OverRows, type RowsByBlock, rowsByBlock, type TableStore } from '../../engine/index.js'
import {
  type Checked,
  type CheckedFormula,
  type ColumnId,
  columnsOfRowsRead,
  type ExpressionType,
  type OwnCall,
  partsOf,
  withoutSteps,
} from '../../formula/index.js'
import { CellFault, displayScalar, printName } from '../../values/index.js'
import type { Model, TableModel } from '../model/index.js'
import { type Addressed, addressOf, formulaOf, type ShownValue, showCell } from '../model/index.js'

/** Where the value of one cell comes from. */
export interface Derivation {
  /** Address of the column. */
  readonly column: string
  /** Id and number of the row; null for named values and tallies. */
  readonly row: number | null
  readonly rowNumber: number | null
  readonly value: ShownValue
  /** Null for a cell that was typed or read, and where it is withheld. */
  readonly formula: string | null
  /** True where the formula is not for the reader to see: `reads` then has the cells of the row that it names and they see. */
  readonly isWithheld: boolean
  /** The formula with the values that were read put in, where branches were taken. */
  readonly withValues: string | null
  /** True where the value is not of now: the workbook calculates on demand, or the column is paused. */
  readonly isStale: boolean
  /** Named steps in the order they are computed. */
  readonly steps: readonly { readonly name: string; readonly text: string; readonly value: ShownValue }[]
  /** The branches taken, the outermost first: the condition that was true, or `else`. */
  readonly branches: readonly { readonly text: string; readonly value: ShownValue }[]
  /** What the formula read, in the order it stands in it; branches that were not taken read nothing. */
  readonly reads: readonly DerivationRead[]
}

/** Something that a formula read for one row. */
export interface DerivationRead {
  /** The part of the formula that reads it, as written. */
  readonly text: string
  readonly value: ShownValue
  /** Where a single cell was read: its own derivation; null beyond what is told at once. */
  readonly cell?: Derivation | null
  /** Where several rows were read: those taken in, numbers of at most 1 000, and the first few. */
  readonly rows?: {
    readonly table: string
    readonly count: number
    readonly numbers: readonly number[]
    readonly first: readonly RowUsed[]
  }
}

/** A row that an aggregate took in. */
export interface RowUsed {
  readonly row: number
  readonly rowNumber: number
  /** The values of the columns it looked at, by name. */
  readonly values: ReadonlyMap<string, ShownValue>
}

/** Cells told of at once, and rows listed of those that an aggregate took in. */
const MOST_CELLS = 100
const MOST_ROWS = 5
const MOST_NUMBERS = 1_000

/** Derives one cell, back to the cells that were typed or read. */
export function deriveCell(model: Model, engine: Engine, owned: Addressed, slot: number): Derivation {
  return new Deriving(model, engine).cell(owned, slot)
}

class Deriving {
  readonly #model: Model
  readonly #engine: Engine
  /** Cells told of so far, so that each is told of once where formulas meet again. */
  readonly #told: Map<string, Derivation> = new Map()
  #cells = 0

  constructor(model: Model, engine: Engine) {
    this.#model = model
    this.#engine = engine
  }

  cell(owned: Addressed, slot: number): Derivation {
    const { table, column } = owned
    const { store } = table
    const { recalculation } = this.#engine
    const formula = formulaOf(column)
    const storage = recalculation.storage(store, column.id, [slot])
    const isRow = table.role === 'rows'
    const facts = {
      column: addressOf(owned),
      row: isRow ? store.rows.idOf(slot) : null,
      rowNumber: isRow ? store.rows.placeOf(slot) + 1 : null,
      value: storage === undefined ? null : showCell(storage.read(slot), storage.type),
      formula: formula?.text ?? null,
      isWithheld: column.isWithheld,
    }
    const key = `${column.id} ${slot}`
    const known = this.#told.get(key)
    if (known !== undefined) return known
    const checked = column.formula?.checked ?? null
    if (formula === null || checked === null) {
      const source = { ...facts, withValues: null, isStale: column.paused !== null, steps: [], branches: [], reads: [] }
      if (!column.isWithheld || column.paused !== null) {
        this.#told.set(key, source)
        return source
      }
      this.#cells++
      const stale = isWithin(recalculation.staleRowsOf(column.id), slot)
      const withheld = { ...source, isStale: stale, reads: this.#seenOf(owned, slot) }
      this.#told.set(key, withheld)
      return withheld
    }
    this.#cells++
    const walk = new Walk(this, this.#engine, this.#model, owned, slot, checked)
    walk.visit(checked.expression, new Map())
    const derived = {
      ...facts,
      withValues: walk.withValues(),
      isStale: isWithin(recalculation.staleRowsOf(column.id), slot),
      steps: walk.steps,
      branches: walk.branches,
      reads: walk.reads,
    }
    this.#told.set(key, derived)
    return derived
  }

  /** The cells of the row that a formula which is withheld names, as far as they are seen. */
  #seenOf({ table, column }: Addressed, slot: number): DerivationRead[] {
    return column.withheldSources.map((id) => {
      const source = this.#model.columnOf(id)
      const storage = this.#engine.recalculation.storage(table.store, id, [slot])
      const value = storage === undefined ? null : showCell(storage.read(slot), storage.type)
      return { text: printName(source.column.name), value, cell: this.inner(id, slot) }
    })
  }

  /** The derivation of a cell that another one read; null where that would be too much at once. */
  inner(column: ColumnId, slot: number): Derivation | null {
    return this.#cells >= MOST_CELLS ? null : this.cell(this.#model.columnOf(column), slot)
  }
}

function isWithin(byBlock: RowsByBlock, slot: number): boolean {
  const row = slot & BLOCK_MASK
  const { rows, count } = byBlock.get(slot >> BLOCK_SHIFT) ?? { rows: null, count: 0 }
  return rows === null ? row < count : rows.subarray(0, count).includes(row)
}

/** Goes through a formula the way it is computed for one row. */
class Walk {
  readonly steps: Derivation['steps'][number][] = []
  readonly branches: Derivation['branches'][number][] = []
  readonly reads: DerivationRead[] = []
  /** Where the parts stand that are told of. */
  readonly #read: Set<number> = new Set()
  readonly #edits: { readonly from: number; readonly to: number; readonly insert: string }[] = []
  readonly #deriving: Deriving
  readonly #engine: Engine
  readonly #model: Model
  readonly #owned: Addressed
  readonly #slot: number
  readonly #checked: CheckedFormula
  /** Calls of own functions that are told of. */
  readonly #calls: Set<OwnCall> = new Set()

  constructor(deriving: Deriving, engine: Engine, model: Model, owned: Addressed, slot: number, checked: CheckedFormula) {
    this.#deriving = deriving
    this.#engine = engine
    this.#model = model
    this.#owned = owned
    this.#slot = slot
    this.#checked = checked
  }

  /** The formula with the values in place of what was read. */
  withValues(): string {
    const { formula } = this.#owned.column
    let text = formula?.text ?? ''
    for (const { from, to, insert } of [...this.#edits].sort((a, b) => b.from - a.from))
      text = text.slice(0, from) + insert + text.slice(to)
    return text
  }

  /** `bound` is what the named steps in sight stand for. */
  visit(node: Checked, bound: ReadonlyMap<number, Checked>): void {
    this.#tellCall(node, bound)
    switch (node.kind) {
      case 'constant':
      case 'step':
        return
      case 'let': {
        const { name } = node
        this.visit(node.bound, bound)
        // What is read twice is a step without a name, and no business of anybody's.
        if (name !== null) this.steps.push({ name, text: this.#source(node.bound), value: this.#valueOf(node.bound, bound) })
        return this.visit(node.body, new Map([...bound, [node.step, withoutSteps(node.bound, bound)]]))
      }
      case 'choose': {
        for (const { condition, value } of node.branches) {
          this.visit(condition, bound)
          const holds = this.#valueOf(condition, bound)
          if (holds instanceof CellFault) return void this.branches.push({ text: this.#source(condition), value: holds })
          if (holds !== true) continue
          this.branches.push({ text: this.#source(condition), value: true })
          return this.visit(value, bound)
        }
        this.branches.push({ text: 'else', value: true })
        if (node.otherwise !== null) this.visit(node.otherwise, bound)
        return
      }
      case 'coalesce':
        for (const operand of node.operands) {
          this.visit(operand, bound)
          if (this.#valueOf(operand, bound) !== null) return
        }
        return
      case 'if-error':
        this.visit(node.value, bound)
        if (this.#valueOf(node.value, bound) instanceof CellFault) this.visit(node.otherwise, bound)
        return
      case 'column':
      case 'single':
      case 'follow':
      case 'over-rows':
        return this.#tellRead(node, bound)
      default:
        for (const part of partsOf(node)) this.visit(part, bound)
    }
  }

  #tellRead(node: Checked, bound: ReadonlyMap<number, Checked>): void {
    const text = this.#source(node)
    const value = this.#valueOf(node, bound)
    if (this.#read.has(node.from)) return
    this.#read.add(node.from)
    this.reads.push({ text, value, ...this.#behind(node, bound) })
    // What an own function reads does not stand in the formula itself.
    if (node.to <= (this.#owned.column.formula?.text.length ?? 0))
      this.#edits.push({ from: node.from, to: node.to, insert: literal(value, node.type) })
  }

  /** A call of an own function is a step: what the function says, with what it is given. */
  #tellCall(node: Checked, bound: ReadonlyMap<number, Checked>): void {
    const call = this.#checked.calls.find((one) => one.from === node.from && one.to === node.to)
    if (call === undefined || this.#calls.has(call)) return
    this.#calls.add(call)
    const given = call.given.flatMap((one) => {
      const [name, source] = [printName(one.parameter), this.#source(one)]
      return name === source ? [] : [`${name} = ${source}`]
    })
    const text = this.#source(call.body) + (given.length === 0 ? '' : ` with ${given.join(', ')}`)
    this.steps.push({ name: this.#source(call), text, value: this.#valueOf(node, bound) })
  }

  /** The cell or the rows behind something that was read. */
  #behind(node: Checked, bound: ReadonlyMap<number, Checked>): Pick<DerivationRead, 'cell' | 'rows'> {
    if (node.kind === 'column') return { cell: this.#deriving.inner(node.column, this.#slot) }
    if (node.kind === 'single') return { cell: this.#deriving.inner(node.column, 0) }
    if (node.kind === 'follow') {
      const slot = this.#engine.rowLinked(node.links, this.#slot)
      if (slot === undefined || node.read.kind !== 'column') return {}
      return { cell: this.#deriving.inner(node.read.column, slot) }
    }
    if (node.kind !== 'over-rows' || node.record.form !== 'aggregate') return {}
    const read = withoutSteps(node, bound) as OverRows
    const table = this.#model.table(read.rows.table)
    const taken = this.#engine.rowsTaken(this.#owned.table.store, read, this.#slot)
    const places = taken.map((slot) => ({ slot, place: table.store.rows.placeOf(slot) })).sort((a, b) => a.place - b.place)
    const columns = columnsOfRowsRead(read)
    const first = places.slice(0, MOST_ROWS).map(({ slot, place }) => this.#rowUsed(table, columns, slot, place))
    const numbers = places.slice(0, MOST_NUMBERS).map(({ place }) => place + 1)
    return { rows: { table: table.name, count: taken.length, numbers, first } }
  }

  #rowUsed(table: TableModel, columns: readonly ColumnId[], slot: number, place: number): RowUsed {
    const values = new Map<string, ShownValue>()
    for (const column of table.columns) {
      if (!columns.includes(column.id)) continue
      const storage = this.#engine.recalculation.storage(table.store, column.id, [slot])
      values.set(column.name, storage === undefined ? null : showCell(storage.read(slot), storage.type))
    }
    return { row: table.store.rows.idOf(slot), rowNumber: place + 1, values }
  }

  #valueOf(node: Checked, bound: ReadonlyMap<number, Checked>): ShownValue {
    if (node.kind === 'step' && !bound.has(node.step)) return null
    return evaluateAt(this.#engine, this.#owned.table.store, withoutSteps(node, bound), this.#slot, this.#owned.column.id)
  }

  #source({ from, to }: { readonly from: number; readonly to: number }): string {
    return this.#checked.text.slice(from, to)
  }
}

/** What an expression gives for one row. */
function evaluateAt(engine: Engine, store: TableStore, expression: Checked, slot: number, target: ColumnId): ShownValue {
  const plan = engine.compile({ expression, watches: [] })
  let found: Cell = null
  engine.evaluate(
    store,
    plan,
    (_, vector) => {
      found = cellAt(vector, slot & BLOCK_MASK)
    },
    { rows: rowsByBlock([slot]), target },
  )
  return showCell(found, plan.type)
}

/** A value as a formula would write it. */
function literal(value: ShownValue, type: ExpressionType): string {
  if (value === null) return 'blank'
  if (value instanceof CellFault) return `!${value.code}`
  if (type === 'date' || type === 'datetime') return `@${value}`
  return typeof value === 'string'
    ? `'${value.replaceAll("'", "''")}'`
    : displayScalar(value, typeof value as 'number' | 'boolean')
}
