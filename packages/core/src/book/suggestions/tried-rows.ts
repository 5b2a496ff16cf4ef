import { type Cell, makeVector, type Vector } from '../../columns/index.js'
import { type Engine, putCell } from '../../engine/index.js'
import { Level, Program, type Sheet, type Source } from '../../finder/index.js'
import { type CheckedFormula, checkFormula, parseFormula } from '../../formula/index.js'
import { printName, storageKindOf, type ValueType } from '../../values/index.js'
import { type ColumnModel, type Model, type RowsTable, scopeOf } from '../model/index.js'
import { cellsOfPlan } from '../queries/index.js'

/** Rows that programs are told apart by while they are searched. */
const ROWS_BESIDE = 24
/** Rows that all that was found is run on, and those that the best of it is run on. */
const FEW_ROWS = 256
const MOST_ROWS = 4096
/** Of a column that a link leads to. */
const COST_OF_LINK = 1.5

/** A formula with its values in the rows that are looked at. */
export interface Tried {
  readonly text: string
  readonly type: ValueType
  /** Names of the columns of the table that it reads. */
  readonly sources: ReadonlySet<string>
  /** Values by slot. */
  readonly cells: readonly Cell[]
}

/** The rows of a table that formulas are tried on. */
export class TriedRows {
  /** Slots of the rows that are looked at, in row order: all of a small table, some of all parts of a large one. */
  readonly slots: readonly number[]
  /** Slots of fewer of them, the rows of the examples among them. */
  readonly few: readonly number[]
  /** Slots of the rows of the examples. */
  readonly examples: readonly number[]
  /** Slots of some others. */
  readonly others: readonly number[]
  readonly rowCount: number
  readonly #model: Model
  readonly #engine: Engine
  readonly #table: RowsTable
  readonly #inOrder: Int32Array

  constructor(model: Model, engine: Engine, table: RowsTable, examples: readonly number[]) {
    this.#model = model
    this.#engine = engine
    this.#table = table
    this.#inOrder = table.store.rows.inOrder()
    this.rowCount = this.#inOrder.length
    this.examples = examples
    const isExample = new Set(examples)
    this.slots = this.#spread(MOST_ROWS, examples)
    this.few = this.#spread(FEW_ROWS, examples)
    this.others = this.#spread(ROWS_BESIDE + examples.length, []).filter((slot) => !isExample.has(slot))
  }

  /** Where slots stand, from 0. */
  placesOf(slots: readonly number[]): number[] {
    return slots.map((slot) => this.#table.store.rows.placeOf(slot))
  }

  /** A column of the table, as programs have it. */
  own(column: ColumnModel): Source | null {
    const type = this.#typeOf(column)
    if (type === null) return null
    const cells = (slots: readonly number[]): Cell[] => {
      const storage = this.#engine.recalculation.storage(this.#table.store, column.id, [...slots])
      return slots.map((slot) => storage?.read(slot) ?? null)
    }
    return { ...this.#source(printName(column.name), type, 1, cells), isOwn: true }
  }

  /** The columns that links lead to whose keys are among some columns. */
  *linked(columns: readonly ColumnModel[]): Generator<Source> {
    for (const link of this.#table.links) {
      if (!link.columns.every((key) => columns.includes(key))) continue
      for (const column of link.to.columns) {
        if (link.keys.includes(column) && link.keys.length === 1) continue
        const text = `${printName(link.name)}.${printName(column.name)}`
        const checked = this.#check(text)
        const type = checked === null ? null : typeOfChecked(checked)
        if (checked === null || type === null) continue
        const cells = (slots: readonly number[]): Cell[] => {
          const all = cellsOfPlan(this.#engine, this.#table, this.#engine.compile(checked), slots)
          return slots.map((slot) => all[slot] ?? null)
        }
        yield { ...this.#source(text, type, COST_OF_LINK, cells), isOwn: false }
      }
    }
  }

  /** Runs a formula on some rows; null for one that means nothing. */
  try(text: string, slots: readonly number[]): Tried | null {
    const checked = this.#check(text)
    const type = checked === null ? null : typeOfChecked(checked)
    if (checked === null || type === null) return null
    const sources = new Set(checked.references.map(({ column }) => this.#table.withId(column)?.name ?? ''))
    return { text, type, sources, cells: cellsOfPlan(this.#engine, this.#table, this.#engine.compile(checked), slots) }
  }

  #check(text: string): CheckedFormula | null {
    const checked = checkFormula(parseFormula(text), scopeOf(this.#model, this.#table))
    return checked.findings.some(({ severity }) => severity === 'error') ? null : checked
  }

  #typeOf({ type }: ColumnModel): ValueType | null {
    return type ?? null
  }

  #source(text: string, type: ValueType, cost: number, cells: (slots: readonly number[]) => Cell[]): Omit<Source, 'isOwn'> {
    let every: readonly Cell[] | undefined
    const program = new Program({
      ...{ text, level: Level.whole, type, cost },
      compute: (sheet: Sheet) => vectorOf(cells(sheet.index === 0 ? this.examples : this.others), type),
    })
    const everyCell = (): readonly Cell[] => {
      every ??= cells([...this.#inOrder])
      return every
    }
    return { program, everyCell }
  }

  /** So many slots from all parts of the table, with some that have to be among them. */
  #spread(most: number, with_: readonly number[]): number[] {
    const all = this.#inOrder
    if (all.length <= most) return [...all]
    const step = all.length / most
    const places = new Set(this.placesOf(with_))
    for (let at = 0; at < most; at++) places.add(Math.floor(at * step))
    return [...places].sort((a, b) => a - b).map((place) => all[place] as number)
  }
}

function typeOfChecked({ expression: { type } }: CheckedFormula): ValueType | null {
  return type === 'blank' || type === 'unknown' ? null : type
}

function vectorOf(cells: readonly Cell[], type: ValueType): Vector {
  const vector = makeVector(storageKindOf(type), cells.length)
  for (const [row, cell] of cells.entries()) putCell(vector, row, cell)
  return vector
}
