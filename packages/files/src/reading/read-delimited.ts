import { finding } from 'mellow-abacus'
import Papa from 'papaparse'
import { countLines } from './decoded-text.js'
import type { ReadingOptions } from './options.js'
import { ReadFault } from './read-fault.js'
import { type FileTable, TableReader } from './table-reader.js'

/** What the parser gives for a piece of text. */
interface Piece {
  readonly data: readonly (readonly string[])[]
  readonly errors: readonly { readonly code: string; readonly row: number }[]
  readonly meta: { readonly cursor: number }
}

/**
 * Text is handed to the parser in pieces of about this many characters: small enough that their rows are gone before the
 * collector would move them out of its nursery (half the reading time against pieces of a megabyte; bench: calc).
 */
const PIECE_LENGTH = 1 << 16

/** A sign that no text has where quotes are literal: cells with it would hold together. */
const NO_QUOTE = '\uffff'

const delimiters = [',', ';', '\t', '|']

/**
 * Reads CSV or TSV (RFC 4180) as it comes in. A short row is blank at its end, with a note.
 *
 * @throws ReadFault, naming the line, for a long row, a quote never closed, text after a closing quote, equal headers, and a
 * file without a header line.
 */
export async function readDelimited(
  text: AsyncIterable<string>,
  format: 'csv' | 'tsv',
  options: ReadingOptions,
): Promise<FileTable> {
  const reader = new DelimitedReader(format, options)
  let pending = ''
  let wanted = PIECE_LENGTH
  for await (const chunk of text) {
    pending += chunk
    if (pending.length < wanted) continue
    const taken = reader.take(pending, false)
    // A piece without the end of a row (a very large cell) is tried again only when it has doubled, so reading stays linear.
    wanted = taken === 0 ? pending.length * 2 : PIECE_LENGTH
    pending = pending.slice(taken)
  }
  if (pending !== '') reader.take(pending, true)
  return reader.finish()
}

class DelimitedReader {
  readonly #table: TableReader
  readonly #options: ReadingOptions
  readonly #format: 'csv' | 'tsv'
  #parser: { parse(text: string, base: number, ignoreLastRow: boolean): Piece } | null = null
  #newline = '\n'
  /** Lines of the file before the piece at hand. */
  #lines = 0
  #rowsSkipped = 0
  #rowCount = 0
  #shortRows = 0
  #firstShort = 0
  #longRows = 0
  #firstLong = 0

  constructor(format: 'csv' | 'tsv', options: ReadingOptions) {
    this.#format = format
    this.#options = options
    this.#table = new TableReader(options)
  }

  /** Takes the whole rows of a text in; gives back how many characters they had. */
  take(text: string, isLast: boolean): number {
    this.#parser ??= this.#makeParser(text)
    const { data, errors, meta } = this.#parser.parse(text, 0, !isLast)
    const consumed = isLast ? text.length : meta.cursor
    // Without quotes no cell has a line break, so rows are lines.
    const hasQuotes = this.#newline === '\n' && text.includes('"')
    const lineCount = hasQuotes ? countLines(consumed === text.length ? text : text.slice(0, consumed)) : data.length
    const lineOf = (row: number): number =>
      this.#lines + 1 + (lineCount === data.length || lineCount === data.length - 1 ? row : embeddedLines(data, row))
    const fault = errors.find((one) => one.code === 'MissingQuotes' || one.code === 'InvalidQuotes')
    if (fault !== undefined) {
      const what =
        fault.code === 'MissingQuotes'
          ? 'a quote is opened and never closed. Where quotes are signs like any other: --quotes literal'
          : 'there is text after a closing quote; a quote inside a quoted cell is written twice. Where quotes are signs like any other: --quotes literal'
      throw new ReadFault(what, lineOf(fault.row))
    }
    // In a file of one column an empty line is a blank cell, but for the one that the last line end makes.
    const endsInEmptyLine = isLast && text.endsWith(this.#newline) && data.at(-1)?.length === 1
    const rowCount = endsInEmptyLine ? data.length - 1 : data.length
    for (let row = 0; row < rowCount; row++) this.#row(data[row] as readonly string[], row, lineOf)
    this.#lines += lineCount
    return consumed
  }

  #makeParser(text: string): { parse(text: string, base: number, ignoreLastRow: boolean): Piece } {
    this.#newline = text.includes('\n') || !text.includes('\r') ? '\n' : '\r'
    let delimiter = this.#options.delimiter ?? (this.#format === 'tsv' ? '\t' : ',')
    if (this.#options.delimiter === undefined && this.#format === 'csv') {
      const header = text.split(this.#newline, this.#options.headerRow ?? 1).at(-1) ?? ''
      const unquoted = header.replace(/"(?:[^"]|"")*"/g, '')
      const found = unquoted.includes(',') ? undefined : delimiters.find((one) => unquoted.includes(one))
      if (found !== undefined) {
        delimiter = found
        this.#table.findings.push(finding('guessed-delimiter', { found: found === '\t' ? 'a tab' : `"${found}"` }))
      }
    }
    const quoteChar = this.#options.quotes === 'literal' ? NO_QUOTE : '"'
    return new Papa.Parser({ delimiter, newline: this.#newline as '\n', quoteChar }) as never
  }

  #row(cells: readonly string[], row: number, lineOf: (row: number) => number): void {
    const { columns } = this.#table
    const last = cells.length - 1
    const lastCell = cells[last] as string
    // Lines that end in CR LF come with the CR at the end of their last cell.
    const trimmed = lastCell.charCodeAt(lastCell.length - 1) === 13 ? lastCell.slice(0, -1) : lastCell
    if (columns.length === 0) {
      if (++this.#rowsSkipped < (this.#options.headerRow ?? 1)) return
      this.#header([...cells.slice(0, last), trimmed], lineOf(row))
      return
    }
    const isEmptyLine = last === 0 && trimmed === ''
    if (isEmptyLine && columns.length > 1) return
    if (cells.length > columns.length) return this.#longRow([...cells.slice(0, last), trimmed], lineOf(row))
    if (cells.length < columns.length) {
      if (this.#shortRows++ === 0) this.#firstShort = lineOf(row)
    }
    for (let place = 0; place < last; place++) columns[place]?.push(cells[place] as string)
    columns[last]?.push(trimmed)
    for (let place = cells.length; place < columns.length; place++) columns[place]?.pushBlank()
    this.#rowCount++
  }

  /** A row that is longer than the header. */
  #longRow(cells: readonly string[], line: number): void {
    const { columns } = this.#table
    const { longRows = 'refuse' } = this.#options
    // What is blank beyond the header is nothing that could be lost.
    const isBlankBeyond = cells.slice(columns.length).every((cell) => cell === '')
    if (longRows === 'refuse' && !isBlankBeyond)
      throw new ReadFault(
        `expected ${columns.length} ${columns.length === 1 ? 'cell' : 'cells'} as in the header, found ${cells.length}. To keep what is too much in columns of its own: --long-rows keep; to leave it out: --long-rows cut`,
        line,
      )
    if (!isBlankBeyond && this.#longRows++ === 0) this.#firstLong = line
    if (longRows === 'keep' && !isBlankBeyond)
      while (columns.length < cells.length) {
        const name = `column_${columns.length + 1}`
        this.#table.findings.push(finding('unnamed-column', { place: columns.length + 1, name }))
        this.#table.padTo(this.#table.addColumn(name), this.#rowCount)
      }
    for (const [place, column] of columns.entries()) column.push(cells[place] ?? '')
    this.#rowCount++
  }

  #header(names: readonly string[], line: number): void {
    if (names.every((name) => name.trim() === ''))
      throw new ReadFault('expected a header with column names, found an empty line.', line)
    names.forEach((name, place) => {
      if (name === '') {
        const given = `column_${place + 1}`
        this.#table.findings.push(finding('unnamed-column', { place: place + 1, name: given }))
        this.#table.addColumn(given, line)
      } else this.#table.addColumn(name, line)
    })
  }

  finish(): FileTable {
    const { columns } = this.#table
    if (columns.length === 0)
      throw new ReadFault(
        this.#rowsSkipped === 0
          ? 'the file is empty; expected at least a header line.'
          : `the file ends before line ${this.#options.headerRow}, where its header should be.`,
      )
    if (this.#shortRows > 0) {
      const count = this.#shortRows === 1 ? '1 row is' : `${this.#shortRows} rows are`
      this.#table.findings.push(finding('short-rows', { count, line: this.#firstShort }, { rows: this.#shortRows }))
    }
    if (this.#longRows > 0) {
      const count = this.#longRows === 1 ? '1 row is' : `${this.#longRows} rows are`
      const how = this.#options.longRows === 'keep' ? 'kept in columns of its own' : 'left out'
      this.#table.findings.push(finding('long-rows', { count, line: this.#firstLong, how }, { rows: this.#longRows }))
    }
    return this.#table.finish(this.#rowCount)
  }
}

/** The line of a row, counted from 0, in a piece whose cells have line breaks. */
function embeddedLines(data: readonly (readonly string[])[], row: number): number {
  let lines = 0
  for (let index = 0; index < row; index++) {
    lines++
    for (const cell of data[index] as readonly string[]) lines += countLines(cell)
  }
  return lines
}
