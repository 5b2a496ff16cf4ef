import { finding, nearestName, printName } from 'mellow-abacus'
import { MS_PER_DAY, printDate, printDateTime } from 'mellow-abacus/storage'
import { allBytes } from '../all-bytes.js'
import type { ByteChunks } from '../decoded-text.js'
import type { ReadingOptions } from '../options.js'
import { ReadFault } from '../read-fault.js'
import { type FileTable, TableReader } from '../table-reader.js'
import { unfoldParts } from '../zip-parts.js'
import { type BookParts, readBookParts } from './book-parts.js'
import { unescapedText, xmlSink } from './xml-events.js'

/** Days from 1899-12-30, and from 1904-01-01, to 1970-01-01. */
const FROM_1900 = 25_569
const FROM_1904 = 24_107
/** What a sheet has at most (ECMA-376 part 1, 18.3.1.73). */
const MOST_COLUMNS = 16_384
const MOST_ROWS = 1_048_576
/** Cells that a sheet may leave out, and so many times those that are there. */
const LEAST_LEFT_OUT = 10_000_000
const MOST_TIMES_LEFT_OUT = 100

/**
 * Reads one sheet of an XLSX file (ECMA-376 part 1): the values, those of formulas as they were last saved. The package that
 * writes such files cannot read them here: it decodes each piece of bytes by itself, which breaks signs that two pieces share.
 *
 * @throws ReadFault, naming the sheets there are when the one wanted is not among them.
 */
export async function readXlsx(chunks: ByteChunks, options: ReadingOptions): Promise<FileTable> {
  const bytes = await allBytes(chunks, options.onProgress)
  const parts = readBookParts(bytes)
  const sheet = chosenSheet(parts, options.sheet)
  const reader = new SheetReader(parts, options)
  let isThere = false
  unfoldParts(bytes, 'an XLSX file', (part) => {
    if (part !== sheet.part) return null
    isThere = true
    return xmlSink(part, reader)
  })
  if (!isThere) throw new ReadFault(`this is not a whole XLSX file: the part of its sheet ${sheet.name} is missing.`)
  return reader.finish()
}

function chosenSheet({ sheets }: BookParts, wanted: string | undefined): BookParts['sheets'][number] {
  const names = sheets.map(({ name }) => name)
  const found =
    wanted === undefined ? (sheets.find((one) => !one.isHidden) ?? sheets[0]) : sheets.find(({ name }) => name === wanted)
  if (found !== undefined) return found
  const near = nearestName(wanted ?? '', names)
  throw new ReadFault(
    `there is no sheet called ${wanted}; there are ${names.join(', ')}.${near === undefined ? '' : ` Nearest: ${near}.`}`,
  )
}

/** A cell while it is read. */
interface OpenCell {
  readonly column: number
  readonly type: string
  readonly style: number
  text: string
  hasValue: boolean
  hasFormula: boolean
}

/** An error that the program which wrote the file had calculated, such as `#DIV/0!`. */
class SheetError {
  readonly text: string

  constructor(text: string) {
    this.text = text
  }
}

type SheetValue = string | number | boolean | SheetError

class SheetReader {
  readonly #parts: BookParts
  readonly #table: TableReader
  readonly #headerRow: number
  #row = 0
  #cell: OpenCell | null = null
  /** True inside what holds the value of a cell, and not the formula. */
  #isValue = false
  #isAid = false
  #cells: { readonly column: number; readonly value: SheetValue }[] = []
  /** The place of a sheet's column in the table, once there is a header. */
  #places: Map<number, number> | null = null
  #rowCount = 0
  /** Formulas without a saved value, by the sheet's columns. */
  readonly #unsaved: Map<number, number> = new Map()
  #cellCount = 0
  #firstRow = 0

  constructor(parts: BookParts, options: ReadingOptions) {
    this.#parts = parts
    this.#table = new TableReader(options)
    this.#headerRow = options.headerRow ?? 1
  }

  open(name: string, attributes: Readonly<Record<string, string>>): void {
    if (name === 'row') {
      this.#row = attributes.r === undefined ? this.#row + 1 : Number(attributes.r)
      if (!(this.#row >= 1 && this.#row <= MOST_ROWS)) throw new ReadFault(`row ${attributes.r} is no row of a sheet.`)
      this.#cells = []
    } else if (name === 'c') {
      const column = attributes.r === undefined ? (this.#cells.at(-1)?.column ?? 0) + 1 : columnOf(attributes.r)
      if (!(column >= 1 && column <= MOST_COLUMNS)) throw new ReadFault(`the cell ${attributes.r} is no place of a sheet.`)
      this.#cell = {
        column,
        type: attributes.t ?? 'n',
        style: Number(attributes.s ?? 0),
        text: '',
        hasValue: false,
        hasFormula: false,
      }
    } else if (name === 'f' && this.#cell !== null) this.#cell.hasFormula = true
    else if (name === 'rPh') this.#isAid = true
    else if ((name === 'v' || name === 't') && this.#cell !== null && !this.#isAid) {
      this.#isValue = true
      this.#cell.hasValue = true
    }
  }

  text(piece: string): void {
    if (this.#isValue && this.#cell !== null) this.#cell.text += piece
  }

  close(name: string): void {
    if (name === 'v' || name === 't') this.#isValue = false
    if (name === 'rPh') this.#isAid = false
    if (name === 'c' && this.#cell !== null) {
      const value = this.#cell.hasValue ? this.#valueOf(this.#cell) : null
      if (value === null && this.#cell.hasFormula)
        this.#unsaved.set(this.#cell.column, (this.#unsaved.get(this.#cell.column) ?? 0) + 1)
      if (value !== null) this.#cells.push({ column: this.#cell.column, value })
      this.#cell = null
    }
    if (name === 'row') this.#takeRow()
  }

  #valueOf({ type, text, style }: OpenCell): SheetValue | null {
    switch (type) {
      case 's': {
        const shared = this.#parts.sharedTexts[Number(text)]
        if (shared === undefined) throw new ReadFault(`row ${this.#row} names the shared text ${text}, which is not there.`)
        return shared
      }
      case 'str':
      case 'inlineStr':
        return unescapedText(text)
      case 'b':
        return text === '1' || text === 'true'
      case 'e':
        return new SheetError(text)
      case 'd':
        return text
      default:
        return text === '' ? null : this.#numberOf(Number(text), text, this.#parts.looks[style] ?? 'number')
    }
  }

  #numberOf(value: number, text: string, look: 'number' | 'date' | 'datetime'): string | number {
    if (!Number.isFinite(value)) return text
    if (look === 'number') return value
    const { from1904 } = this.#parts
    // Day 60 of 1900 is a 29 February that never was; the days before it are counted one too high.
    if (!from1904 && Math.floor(value) === 60) return '1900-02-29'
    const shift = from1904 ? FROM_1904 : value < 60 ? FROM_1900 - 1 : FROM_1900
    const time = Math.round((value - shift) * MS_PER_DAY)
    if (time < -62_135_596_800_000 || time >= 253_402_300_800_000) return text
    return look === 'date' && time % MS_PER_DAY === 0 ? printDate(time / MS_PER_DAY) : printDateTime(time)
  }

  #takeRow(): void {
    if (this.#places === null) {
      if (this.#row < this.#headerRow || this.#cells.length === 0) return
      this.#takeHeader()
      return
    }
    const { columns } = this.#table
    this.#cellCount += this.#cells.length
    if ((this.#row - this.#firstRow) * columns.length > LEAST_LEFT_OUT + MOST_TIMES_LEFT_OUT * this.#cellCount)
      throw new ReadFault(
        `the sheet reaches to row ${this.#row} over ${columns.length} columns and has ${this.#cellCount} cells; it is not read.`,
      )
    // Rows without any cell are left out of the file, and of the table, at its end only.
    if (this.#cells.length === 0) return
    const rowsBefore = this.#row - this.#firstRow
    for (const { column, value } of this.#cells) {
      const place = this.#places.get(column) ?? this.#addUnnamed(column, this.#places)
      const reader = columns[place] as (typeof columns)[number]
      if (reader.rowCount > rowsBefore) throw new ReadFault(`row ${this.#row} is there twice, or has a cell twice.`)
      this.#table.padTo(reader, rowsBefore)
      if (typeof value === 'number') reader.pushNumber(value)
      else if (value instanceof SheetError) reader.pushError(value.text)
      else if (typeof value === 'boolean') reader.push(String(value))
      else reader.pushText(value)
    }
    this.#rowCount = rowsBefore + 1
  }

  #takeHeader(): void {
    this.#places = new Map()
    this.#firstRow = this.#row + 1
    for (const { column, value } of this.#cells) {
      const name = value instanceof SheetError ? value.text : String(value)
      if (name.trim() === '') continue
      this.#places.set(column, this.#table.columns.length)
      this.#table.addColumn(name)
    }
  }

  /** A column with cells and without a name in the header. */
  #addUnnamed(column: number, places: Map<number, number>): number {
    const name = `column_${column}`
    const place = this.#table.columns.length
    this.#table.findings.push(finding('unnamed-column', { place: column, name }))
    this.#table.addColumn(name)
    places.set(column, place)
    return place
  }

  finish(): FileTable {
    if (this.#places === null)
      throw new ReadFault(
        this.#headerRow === 1
          ? 'the sheet is empty; expected at least a header.'
          : `the sheet has no header from row ${this.#headerRow} on.`,
      )
    for (const column of this.#table.columns) this.#table.padTo(column, this.#rowCount)
    for (const [column, cells] of this.#unsaved) {
      const name = this.#table.names[this.#places.get(column) ?? -1] ?? `column_${column}`
      const count = cells === 1 ? '1 cell' : `${cells} cells`
      this.#table.findings.push(finding('unsaved-formulas', { count, name: printName(name) }, { rows: cells }))
    }
    return this.#table.finish(this.#rowCount)
  }
}

/** The number of a column from a cell's reference: `AB12` is 28. */
function columnOf(reference: string): number {
  let column = 0
  for (const letter of /^[A-Z]{1,3}/.exec(reference)?.[0] ?? '') column = column * 26 + letter.charCodeAt(0) - 64
  return column
}
