import type { CheckedFormula, ColumnId } from '../../formula/index.js'
import { parseUnit, printUnit, type Unit } from '../../units/index.js'
import type { ValueType } from '../../values/index.js'
import type { DescribedProperties } from '../schemas/index.js'

/** What a reader sees of a column besides its values; none of it changes a stored value. */
export interface ColumnProperties extends DescribedProperties {
  /** The column of the table whose values say in which order those of this one stand. */
  readonly orderKey?: ColumnId
  /** When the cells of a stamp are written; they are never typed. */
  readonly stamp?: Stamp
  /** Of a rule: what breaking it is, and whether a blank condition breaks it. */
  readonly severity?: 'warning' | 'hint'
  readonly blankIsWrong?: boolean
}

/** What a stamp records, and when. */
export interface Stamp {
  /** The source columns it watches. */
  readonly when: readonly ColumnId[]
  /** Whether the first time one of them is filled counts, or every change. */
  readonly on: 'first-fill' | 'each-change'
  readonly content: 'time' | 'author'
}

/** A formula of a column: its text, and what checking made of it once it is bound. */
export interface ColumnFormula {
  text: string
  checked: CheckedFormula | null
}

/** What a paused column goes back to when it is resumed. */
export interface PausedFormula {
  readonly formula: ColumnFormula
  /** Whether its type was declared. */
  readonly declared: boolean
  /** Ids of the rows typed over by hand since; some may be gone. */
  readonly typed: Set<number>
}

/** What a column is when it is made. */
export interface NewColumn {
  readonly id: ColumnId
  readonly name: string
  /** The type it is declared with; none when left out. */
  readonly type?: ValueType | undefined
  /** What calculates it; a source column has none. */
  readonly formula?: string | undefined
  readonly original?: ColumnId | undefined
  readonly paused?: PausedFormula | undefined
  readonly properties?: ColumnProperties
}

/** A unit as it is shown; null where there is none, as of a plain number. */
export function shownUnit(unit: Unit | null): string | null {
  const text = unit === null ? '' : printUnit(unit)
  return text === '' ? null : text
}

/** A column of the model: a source column, one that a formula calculates, or one whose formula is paused. */
export class ColumnModel {
  readonly id: ColumnId
  /** Changed by its table, which finds it by name. */
  name: string
  /** The column that the formula's own name means, where it replaces one of a file. */
  readonly original: ColumnId | null
  /** True for a reader who sees what it holds and not the formula, since that reads what is hidden from them. */
  readonly isWithheld: boolean = false
  /** Where the formula is withheld, the columns of the own row that it names and the reader sees. */
  readonly withheldSources: readonly ColumnId[] = []
  properties: ColumnProperties
  #type: ValueType | null
  #declared: boolean
  #formula: ColumnFormula | null
  #paused: PausedFormula | null

  constructor({ id, name, type, formula, original, paused, properties = {} }: NewColumn) {
    this.id = id
    this.name = name.normalize('NFC')
    this.original = original ?? null
    this.properties = properties
    this.#type = type ?? null
    this.#declared = type !== undefined
    this.#formula = formula === undefined ? null : { text: formula, checked: null }
    this.#paused = paused ?? null
  }

  /** The type it was declared with, or that its first values or its formula gave it; null while there is neither. */
  get type(): ValueType | null {
    return this.#type
  }

  /** True when the type was declared, so that a formula must keep to it. */
  get declared(): boolean {
    return this.#declared
  }

  /** What calculates it; null for a source column, and while it is paused. */
  get formula(): ColumnFormula | null {
    return this.#formula
  }

  /** The formula put aside for as long as the column is paused: it is then a source column like any other. */
  get paused(): PausedFormula | null {
    return this.#paused
  }

  /** The unit of its values: the one declared, else what its formula gives; null where there is none. */
  get unit(): Unit | null {
    const given = this.formula?.checked?.unit ?? null
    const declared = this.properties.unit === undefined ? null : parseUnit(this.properties.unit)
    if (declared === null) return given
    return given?.isDifference === true ? { ...declared, isDifference: true } : declared
  }

  /** The same as it is shown; null for a plain number too. */
  get shownUnit(): string | null {
    return shownUnit(this.unit)
  }

  /** True where a formula calculates it, whether or not the one who looks may see it. */
  get isCalculated(): boolean {
    return this.#formula !== null
  }

  /** Gives it another type, or says of the one it has whether it is declared. */
  retype(type: ValueType | null, declared: boolean = this.#declared): void {
    this.#type = type
    this.#declared = declared
  }

  /** Lets a formula calculate it from now on, or none. */
  setFormula(text: string | null): void {
    this.#formula = text === null ? null : { text, checked: null }
  }

  /** Puts another formula aside, to be resumed later. */
  setPaused(paused: PausedFormula): void {
    this.#paused = paused
  }

  /**
   * Puts its formula aside; its values and their type stay.
   *
   * @param typed - ids of the rows typed over by hand
   */
  pause(typed: Iterable<number>): void {
    if (this.#formula === null) return
    this.#paused = { formula: this.#formula, declared: this.#declared, typed: new Set(typed) }
    this.#formula = null
    this.#declared = true
  }

  /** Takes its paused formula up again. */
  resume(): void {
    if (this.#paused === null) return
    this.setFormula(this.#paused.formula.text)
    this.#declared = this.#paused.declared
    this.#paused = null
  }

  /** Drops its formula, paused or not; its values and their type stay. */
  detach(): void {
    if (this.#formula !== null) this.#declared = true
    this.#formula = null
    this.#paused = null
  }
}

/** The formula of a column, whether it calculates now or is put aside; null for a source column. */
export function formulaOf(column: ColumnModel): ColumnFormula | null {
  return column.isWithheld ? null : (column.formula ?? column.paused?.formula ?? null)
}
