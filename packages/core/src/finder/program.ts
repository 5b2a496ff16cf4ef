import type { Vector } from '../columns/index.js'
import type { ValueType } from '../values/index.js'

/** Rows that programs are run on: first those of the examples, or others as well that tell programs apart. */
export interface Sheet {
  /** Which of the sheets of a search this is, from 0. */
  readonly index: number
  readonly count: number
}

/** How tightly the text of a program holds together; see docs/language, "Operators". */
export const Level: { readonly join: 0; readonly sum: 1; readonly product: 2; readonly whole: 3 } = {
  join: 0,
  sum: 1,
  product: 2,
  whole: 3,
}

/** A level of operators, loosest first. */
export type Level = (typeof Level)[keyof typeof Level]

/** What a program is made of, besides what it computes. */
export interface ProgramParts {
  readonly text: string
  readonly level: Level
  readonly type: ValueType
  /** How much there is to it: its size, and what it takes over from the examples. Smaller ones are tried and offered first. */
  readonly cost: number
  /** True when other rows decide what it gives. */
  readonly isOfOtherRows?: boolean
  readonly compute: (sheet: Sheet) => Vector
}

/** An expression of the language with what it gives on rows, computed when asked for and then kept. */
export class Program {
  readonly text: string
  readonly level: Level
  readonly type: ValueType
  readonly cost: number
  readonly isOfOtherRows: boolean
  readonly #compute: (sheet: Sheet) => Vector
  readonly #kept: (Vector | undefined)[] = []

  constructor({ text, level, type, cost, isOfOtherRows = false, compute }: ProgramParts) {
    this.text = text
    this.level = level
    this.type = type
    this.cost = cost
    this.isOfOtherRows = isOfOtherRows
    this.#compute = compute
  }

  /** Values on the rows of a sheet. */
  on(sheet: Sheet): Vector {
    const kept = this.#kept[sheet.index]
    if (kept !== undefined) return kept
    const vector = this.#compute(sheet)
    this.#kept[sheet.index] = vector
    return vector
  }

  /** The same with another cost. */
  at(cost: number): Program {
    const { text, level, type, isOfOtherRows } = this
    return new Program({ text, level, type, cost, isOfOtherRows, compute: (sheet) => this.on(sheet) })
  }

  /** The text as an operand beside an operator of a level; `isRight` where the operator goes from left to right. */
  within(level: Level, isRight = false): string {
    return this.level > level || (this.level === level && !isRight) ? this.text : `(${this.text})`
  }
}
