import type { ReadonlyColumn, ValueType } from 'mellow-abacus'
import {
  BLOCK_ROWS,
  Column,
  compileDatePattern,
  isWhole,
  MS_PER_DAY,
  makeVector,
  parseDateText,
  parseMomentText,
  Status,
  statusOfFault,
  type Vector,
  zonedWallClock,
} from 'mellow-abacus/storage'
import { marksOfPattern, type NumberMarks, numberReader } from './number-marks.js'
import type { DeclaredType } from './options.js'
import { type OtherReading, otherReading } from './other-readings.js'
import { ReadFault } from './read-fault.js'

/**
 * What stands in a cell, one byte a row: how much of the text is kept depends on it.
 * plainNumber: the number prints as the text did, so the text is not kept. wordedNumber: a number written otherwise ("1.50").
 * word: text that is no number. literal: text that never stands for anything else, as in a JSON string. error: an error of the
 * program that wrote the file, which says nothing about the type of its column.
 */
const Kind = { blank: 0, plainNumber: 1, wordedNumber: 2, word: 3, literal: 4, error: 5 } as const

/** Rows that the first block of a column begins with. */
const FIRST_ROWS = 64
/** Share of a column's cells that must fit a type for the column to take it. */
const ENOUGH = 0.95
/** Places for shared texts of a column, less one; a power of two, less one. */
const SHARED_MASK = 1023
/** Most different texts whose reading is remembered. */
const MOST_REMEMBERED = 4096

const MISFIT = statusOfFault('misfit')

interface Block {
  readonly kinds: Uint8Array
  readonly numbers: Float64Array
  texts: (string | undefined)[] | null
}

/** What reading a column came to. */
export interface ReadColumn {
  /** Storage, or null for a column without values, which has no type yet. */
  readonly column: ReadonlyColumn | null
  readonly values: number
  readonly blanks: number
  readonly misfits: number
  /** Why it has the type that was found, where that is not plain: `97 of 100 cells are numbers`. */
  readonly reason: string | null
  /** How its texts could be read instead, where it was found to be of texts. */
  readonly otherReading: OtherReading | null
  /** Texts that had half of a character, which stands as U+FFFD now. */
  readonly mendedTexts: number
  /** Numbers with a decimal point: those that another decimal mark for the whole file would not read. */
  readonly pointNumbers: number
}

/** Different texts that are looked at for another reading. */
const MOST_LOOKED_AT = 100_000

/**
 * Takes the cells of one column in, text by text, and finds its type at the end (docs: architecture, "Files"): number, date,
 * date-time or true/false when at least 95 % of its cells fit, text otherwise. Nothing is lost on the way: a cell that does
 * not fit keeps its text.
 */
export class ColumnReader {
  readonly #declared: DeclaredType | undefined
  readonly #decimal: number
  readonly #readNumber: (text: string) => number
  readonly #blanks: ReadonlySet<string>
  readonly #zone: string
  readonly #blocks: Block[] = []
  #block: Block | null = null
  #row = 0
  #numberCount = 0
  #filledCount = 0
  #leadingZero = false
  #mendedTexts = 0
  #pointNumbers = 0
  readonly #shared: string[] = new Array<string>(SHARED_MASK + 1).fill('')

  /** @param marks - of numbers; the pattern of a declared type says others */
  constructor(declared: DeclaredType | undefined, marks: NumberMarks, blanks: ReadonlySet<string>, zone: string) {
    this.#declared = declared
    const own = marksOf(declared) ?? marks
    this.#decimal = own.decimal.charCodeAt(0)
    this.#readNumber = numberReader(own)
    this.#blanks = blanks
    this.#zone = zone
  }

  /** How many cells came in. */
  get rowCount(): number {
    return this.#blocks.length === 0 ? 0 : (this.#blocks.length - 1) * BLOCK_ROWS + this.#row
  }

  #next(): Block {
    if (this.#block === null || this.#row === this.#block.kinds.length) this.#block = this.#roomFor(this.#block)
    return this.#block
  }

  /** The first block of a column begins small, since a file may have thousands of columns and few rows. */
  #roomFor(block: Block | null): Block {
    const room = block === null ? FIRST_ROWS : BLOCK_ROWS
    const made = { kinds: new Uint8Array(room), numbers: new Float64Array(room), texts: null }
    if (block === null || block.kinds.length === BLOCK_ROWS) {
      this.#row = 0
      this.#blocks.push(made)
      return made
    }
    made.kinds.set(block.kinds)
    made.numbers.set(block.numbers)
    const grown = { ...made, texts: block.texts }
    this.#blocks[this.#blocks.length - 1] = grown
    return grown
  }

  /** A blank cell. */
  pushBlank(): void {
    this.#next()
    this.#row++
  }

  /** A cell as a text file has it; empty is blank. */
  push(text: string): void {
    const block = this.#next()
    const row = this.#row++
    if (text === '' || (this.#blanks.size > 0 && this.#blanks.has(text))) return
    this.#filledCount++
    const first = text.charCodeAt(0)
    if ((first >= 48 && first <= 57) || first === 45 || first === 43 || first === this.#decimal) {
      const value = this.#readNumber(text)
      if (!Number.isNaN(value)) {
        this.#numberCount++
        if (this.#decimal === 46 && !Number.isInteger(value)) this.#pointNumbers++
        block.numbers[row] = value
        if (printsAs(text, value, this.#decimal)) {
          block.kinds[row] = Kind.plainNumber
          return
        }
        block.kinds[row] = Kind.wordedNumber
        if (/^[+-]?0\d+$/.test(text)) this.#leadingZero = true
        this.#keep(block, row, text)
        return
      }
    }
    block.kinds[row] = Kind.word
    this.#keep(block, row, text)
  }

  /** A number that came as one. */
  pushNumber(value: number): void {
    const block = this.#next()
    const row = this.#row++
    this.#filledCount++
    this.#numberCount++
    block.numbers[row] = value + 0
    block.kinds[row] = Kind.plainNumber
  }

  /** A text that came as one: it is never taken for a number, and an empty one is no blank. */
  pushLiteral(text: string): void {
    const block = this.#next()
    const row = this.#row++
    this.#filledCount++
    block.kinds[row] = Kind.literal
    this.#keep(block, row, text)
  }

  /** An error of the program that wrote the file, such as `#DIV/0!`: kept as a text that does not fit, whatever the others are. */
  pushError(text: string): void {
    const block = this.#next()
    const row = this.#row++
    block.kinds[row] = Kind.error
    this.#keep(block, row, text)
  }

  /** A text of a file that has types: a literal, unless the column was said to be something else. */
  pushText(text: string): void {
    if (this.#declared === undefined || this.#declared.type === 'text') this.pushLiteral(text)
    else this.push(text)
  }

  /**
   * Equal texts of a column share one string where that is cheap to see: a place found from three characters holds the text
   * last seen there. A hash table finds all of them, but has to hash every text first, at several times the cost.
   */
  #keep(block: Block, row: number, given: string): void {
    let text = given
    if (!text.isWellFormed()) {
      text = text.toWellFormed()
      this.#mendedTexts++
    }
    const last = text.length - 1
    const mixed =
      text.length * 7 +
      text.charCodeAt(last) +
      text.charCodeAt(Math.max(0, last - 1)) * 17 +
      text.charCodeAt(Math.max(0, last - 3)) * 131
    const place = mixed & SHARED_MASK
    let kept = this.#shared[place]
    if (kept !== text) {
      kept = text
      this.#shared[place] = text
    }
    block.texts ??= new Array<string | undefined>(BLOCK_ROWS)
    block.texts[row] = kept
  }

  /** Finds the type and builds the storage. */
  finish(): ReadColumn {
    const type = this.#declared?.type ?? this.#inferType()
    const notes = { mendedTexts: this.#mendedTexts, pointNumbers: this.#pointNumbers }
    if (type === null)
      return { column: null, values: 0, blanks: this.rowCount, misfits: 0, reason: null, otherReading: null, ...notes }
    const isFoundText = this.#declared === undefined && type === 'text' && !this.#leadingZero
    const otherReading = isFoundText ? this.#otherReading() : null
    const fit = this.#fitter(type)
    const column = new Column(type)
    this.#blocks.forEach((block, index) => {
      const rowCount = index === this.#blocks.length - 1 ? this.#row : BLOCK_ROWS
      const misfitTexts = new Map<number, string>()
      const vector = makeVector(type === 'text' ? 'text' : type === 'boolean' ? 'boolean' : 'number', rowCount)
      this.#fill(block, vector, type, fit, (row, text) => misfitTexts.set(index * BLOCK_ROWS + row, text))
      column.adopt(vector, rowCount, misfitTexts)
      block.texts = null
    })
    const misfits = column.faultCount()
    const reason = this.#declared === undefined ? this.#reasonFor(type, misfits) : null
    return { column, values: column.valueCount, blanks: column.blankCount, misfits, reason, otherReading, ...notes }
  }

  /** How the texts of the column could be read; texts that came as texts are meant so. */
  #otherReading(): OtherReading | null {
    const texts = new Map<string, number>()
    for (const block of this.#blocks) {
      for (let row = 0; row < block.kinds.length; row++) {
        const kind = block.kinds[row] as number
        if (kind === Kind.literal) return null
        if (kind === Kind.blank || kind === Kind.error) continue
        const text = textAt(block, row)
        texts.set(text, (texts.get(text) ?? 0) + 1)
      }
      if (texts.size > MOST_LOOKED_AT) break
    }
    const cells = [...texts.values()].reduce((sum, count) => sum + count, 0)
    return cells === 0 ? null : otherReading(texts, cells)
  }

  #reasonFor(type: ValueType, misfits: number): string | null {
    const all = this.#filledCount
    if (type === 'text' && this.#leadingZero) return 'whole numbers with leading zeros are codes'
    if (type === 'text')
      return this.#numberCount === 0 ? null : `${this.#numberCount} of ${all} cells are numbers, which is too few`
    return misfits === 0 ? null : `${all - misfits} of ${all} cells fit`
  }

  #fill(
    block: Block,
    vector: Vector,
    type: ValueType,
    fit: (text: string) => number,
    keepMisfit: (row: number, text: string) => void,
  ): void {
    const { status } = vector
    const isNumber = type === 'number' || type === 'integer'
    for (let row = 0; row < status.length; row++) {
      const kind = block.kinds[row] as number
      if (kind === Kind.blank) continue
      if (vector.kind === 'text') {
        vector.values[row] = textAt(block, row)
        status[row] = Status.value
        continue
      }
      const isReadNumber = kind === Kind.plainNumber || kind === Kind.wordedNumber
      const value =
        isNumber && isReadNumber
          ? wholeIfInteger(block.numbers[row] as number, type)
          : isNumber
            ? Number.NaN
            : kind === Kind.error
              ? Number.NaN
              : fit(textAt(block, row))
      if (Number.isNaN(value)) {
        status[row] = MISFIT
        keepMisfit(row, textAt(block, row))
      } else {
        vector.values[row] = value
        status[row] = Status.value
      }
    }
  }

  #inferType(): ValueType | null {
    if (this.#filledCount === 0) return this.#blocks.some(({ kinds }) => kinds.includes(Kind.error)) ? 'text' : null
    if (this.#numberCount >= ENOUGH * this.#filledCount) return this.#leadingZero ? 'text' : 'number'
    if (this.#numberCount > (1 - ENOUGH) * this.#filledCount) return 'text'
    for (const type of ['date', 'datetime', 'boolean'] as const) if (this.#mostFit(type)) return type
    return 'text'
  }

  #mostFit(type: ValueType): boolean {
    const fit = this.#fitter(type)
    const allowed = Math.floor((1 - ENOUGH) * this.#filledCount + 1e-9)
    let misfits = 0
    for (const block of this.#blocks) {
      for (let row = 0; row < block.kinds.length; row++) {
        const kind = block.kinds[row] as number
        if (kind === Kind.blank || kind === Kind.error) continue
        const isRead = kind === Kind.word || (kind === Kind.literal && type !== 'boolean')
        if ((!isRead || Number.isNaN(fit(block.texts?.[row] ?? ''))) && ++misfits > allowed) return false
      }
    }
    return true
  }

  /** Reads texts of a type that is not a number: what it is stored as, or NaN. Each different text is read once. */
  #fitter(type: ValueType): (text: string) => number {
    const read = this.#textReader(type)
    const known = new Map<string, number>()
    return (text) => {
      let value = known.get(text)
      if (value === undefined) {
        value = read(text)
        if (known.size < MOST_REMEMBERED) known.set(text, value)
      }
      return value
    }
  }

  #textReader(type: ValueType): (text: string) => number {
    // Numbers were read as they came in.
    if (type === 'number' || type === 'integer' || type === 'text') return () => Number.NaN
    if (type === 'boolean') return (text) => (/^true$/i.test(text) ? 1 : /^false$/i.test(text) ? 0 : Number.NaN)
    const toWall = zonedWallClock(this.#zone)
    const pattern = this.#declared?.pattern
    if (pattern === undefined) {
      if (type === 'date') return parseDateText
      return (text) => parseMomentText(text, toWall)
    }
    const compiled = compileDatePattern(pattern)
    if ('unreadable' in compiled)
      throw new ReadFault(
        `the date pattern "${pattern}" cannot be read with at "${compiled.unreadable}"; write one like dd/MM/yyyy.`,
      )
    if (type === 'date' && compiled.hasTime) return (text) => Math.floor(compiled.parse(text) / MS_PER_DAY)
    return type === 'datetime' && !compiled.hasTime ? (text) => compiled.parse(text) * MS_PER_DAY : compiled.parse
  }
}

/**
 * The marks that the pattern of a declared number says.
 *
 * @throws ReadFault for a pattern that says none
 */
function marksOf(declared: DeclaredType | undefined): NumberMarks | null {
  if (declared?.pattern === undefined || (declared.type !== 'number' && declared.type !== 'integer')) return null
  const marks = marksOfPattern(declared.pattern)
  if (marks !== null) return marks
  throw new ReadFault(
    `the number pattern "${declared.pattern}" cannot be read with; write one like #.##0,00 with the marks of the file.`,
  )
}

function textAt(block: Block, row: number): string {
  return block.texts?.[row] ?? String(block.numbers[row])
}

function wholeIfInteger(value: number, type: ValueType): number {
  return type === 'number' || isWhole(value) ? value : Number.NaN
}

/**
 * True when a number surely prints as the text it was read from: at most 15 digits, no sign but a minus, no zeros that
 * printing would drop, nothing as small as printing would give an exponent.
 */
function printsAs(text: string, value: number, decimal: number): boolean {
  const { length } = text
  if (length > 15 || value === 0) return text === '0'
  const negative = text.charCodeAt(0) === 45
  const first = text.charCodeAt(negative ? 1 : 0)
  if (Number.isInteger(value)) {
    if (first === 48) return false
    for (let at = negative ? 1 : 0; at < length; at++) {
      const code = text.charCodeAt(at)
      if (code < 48 || code > 57) return false
    }
    return true
  }
  const size = Math.abs(value)
  if (decimal !== 46 || first === 46 || first === 43 || text.charCodeAt(length - 1) === 48 || size < 1e-5) return false
  const whole = text.indexOf('.')
  if (whole < 0 || (first === 48 && whole !== (negative ? 2 : 1))) return false
  return !text.includes('e') && !text.includes('E')
}
