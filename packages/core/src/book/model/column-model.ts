import type { CheckedFormula, ColumnId } from '../../formula/index.js'
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

/** The formula of a column, whether it calculates now or is put aside; null for a source column. */
export function formulaOf(column: ColumnModel): ColumnFormula | null {
  return column.formula ?? column.paused?.formula ?? null
}

/** A column of the model. */
export interface ColumnModel {
  readonly id: ColumnId
  name: string
  /** The type it was declared with, or that its first values or its formula gave it; null while there is neither. */
  type: ValueType | null
  /** True when the type was declared, so that a formula must keep to it. */
  declared: boolean
  formula: ColumnFormula | null
  /** A formula put aside for as long as the column is paused: it is then a source column like any other. */
  paused: PausedFormula | null
  /** The column that the formula's own name means, where it replaces one of a file. */
  original: ColumnId | null
  properties: ColumnProperties
}
