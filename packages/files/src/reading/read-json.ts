import { Tokenizer, TokenType } from '@streamparser/json'
import { finding } from 'mellow-abacus'
import type { ColumnReader } from './column-reader.js'
import type { ReadingOptions } from './options.js'
import { ReadFault } from './read-fault.js'
import { type FileTable, TableReader } from './table-reader.js'

/**
 * Reads JSON (an array of objects, RFC 8259) or NDJSON (an object a line) as it comes in. Columns stand in the order in which
 * their keys first appear, so a key like `2024` keeps its place. A text stays text; a nested value is kept as its JSON text.
 *
 * Errors: ReadFault, naming the row, for anything that is not an object, a key twice in one row, or broken JSON.
 */
export async function readJson(
  text: AsyncIterable<string>,
  format: 'json' | 'ndjson',
  options: ReadingOptions,
): Promise<FileTable> {
  const reader = new JsonReader(format, options)
  const tokenizer = new Tokenizer(format === 'ndjson' ? { separator: '\n' } : {})
  let line = 1
  let broken: Error | undefined
  tokenizer.onToken = ({ token, value }) => reader.token(token, value as Primitive)
  tokenizer.onError = (error) => {
    broken ??= error
  }
  tokenizer.onEnd = () => undefined
  const failIfBroken = (): void => {
    if (broken instanceof ReadFault) throw broken
    if (broken !== undefined)
      throw new ReadFault(
        `this is not JSON: ${broken.message.replace(/\. (State|Position).*$/i, '')}`,
        format === 'ndjson' ? line : undefined,
      )
  }
  let sawText = false
  for await (const chunk of text) {
    // NDJSON goes in line by line, so that a fault has its line; the tokenizer takes LF as the separator, CR is white space.
    const pieces = format === 'ndjson' ? chunk.split(/(?<=\n)/) : [chunk]
    for (const piece of pieces) {
      if (piece.trim() !== '') sawText = true
      // An empty line is no document; the separator belongs only behind one.
      if (format === 'json' || piece.trim() !== '' || !reader.isBetweenRows) tokenizer.write(piece)
      failIfBroken()
      if (piece.endsWith('\n')) line++
    }
  }
  if (!sawText)
    throw new ReadFault(`the file is empty; expected ${format === 'json' ? 'an array of objects' : 'an object a line'}.`)
  if (!tokenizer.isEnded) tokenizer.end()
  failIfBroken()
  return reader.finish()
}

type Primitive = string | number | boolean | null

class JsonReader {
  readonly #table: TableReader
  readonly #rowDepth: number
  #depth = 0
  #rowCount = 0
  #ended = false
  #key: string | null = null
  #column: ColumnReader | null = null
  /** JSON text of a nested value while it is read. */
  #nested: string | null = null
  #nestedCount = 0

  constructor(format: 'json' | 'ndjson', options: ReadingOptions) {
    this.#table = new TableReader(options)
    this.#rowDepth = format === 'json' ? 1 : 0
  }

  /** True when no row is open. */
  get isBetweenRows(): boolean {
    return this.#depth <= this.#rowDepth
  }

  token(type: TokenType, value: Primitive): void {
    if (this.#nested !== null) return this.#nest(type, value)
    switch (type) {
      case TokenType.LEFT_BRACKET:
        if (this.#depth === 0 && this.#rowDepth === 1) this.#depth = 1
        else if (this.#column !== null) this.#nest(type, value)
        else throw this.#unexpected('a list')
        return
      case TokenType.RIGHT_BRACKET:
        this.#depth--
        this.#ended = true
        return
      case TokenType.LEFT_BRACE:
        if (this.#column !== null) return this.#nest(type, value)
        if (this.#depth !== this.#rowDepth || this.#ended) throw this.#unexpected('an object')
        this.#depth++
        return
      case TokenType.RIGHT_BRACE:
        this.#endRow()
        return
      case TokenType.COLON:
        this.#column = this.#columnOf(this.#key as string)
        this.#key = null
        return
      case TokenType.COMMA:
      case TokenType.SEPARATOR:
        return
      default:
        if (this.#depth !== this.#rowDepth + 1) throw this.#unexpected(`the value ${JSON.stringify(value)}`)
        if (this.#column === null) this.#key = String(value)
        else this.#cell(value)
    }
  }

  #unexpected(found: string): ReadFault {
    const expected = this.#rowDepth === 1 ? 'an array of objects' : 'an object a line'
    return new ReadFault(`expected ${expected}, found ${found}${this.#rowCount > 0 ? ` after row ${this.#rowCount}` : ''}.`)
  }

  #columnOf(key: string): ColumnReader {
    const name = key === '' ? 'unnamed' : key
    const place = this.#table.placeOf(name)
    const column = place === undefined ? this.#table.addColumn(name) : (this.#table.columns[place] as ColumnReader)
    if (column.rowCount > this.#rowCount) throw new ReadFault(`row ${this.#rowCount + 1} has the key "${key}" twice.`)
    this.#table.padTo(column, this.#rowCount)
    return column
  }

  #cell(value: Primitive): void {
    const column = this.#column as ColumnReader
    this.#column = null
    if (value === null) column.pushBlank()
    else if (typeof value === 'number') {
      if (!Number.isFinite(value)) throw new ReadFault(`row ${this.#rowCount + 1} has a number beyond 1.7976931348623157e308.`)
      column.pushNumber(value)
    } else if (typeof value === 'boolean') column.push(String(value))
    else column.pushLiteral(value)
  }

  #nest(type: TokenType, value: Primitive): void {
    const opens = type === TokenType.LEFT_BRACE || type === TokenType.LEFT_BRACKET
    const closes = type === TokenType.RIGHT_BRACE || type === TokenType.RIGHT_BRACKET
    const isValue = [TokenType.STRING, TokenType.NUMBER, TokenType.TRUE, TokenType.FALSE, TokenType.NULL].includes(type)
    this.#nested = (this.#nested ?? '') + (isValue ? JSON.stringify(value) : String(value))
    if (opens) this.#depth++
    if (closes) this.#depth--
    if (!closes || this.#depth > this.#rowDepth + 1) return
    this.#column?.pushLiteral(this.#nested)
    this.#nested = null
    this.#column = null
    this.#nestedCount++
  }

  #endRow(): void {
    this.#depth--
    this.#rowCount++
  }

  finish(): FileTable {
    if (this.#rowDepth === 1 && !this.#ended) throw new ReadFault('the file ends in the middle of its array.')
    for (const column of this.#table.columns) this.#table.padTo(column, this.#rowCount)
    if (this.#nestedCount > 0) {
      const count = this.#nestedCount === 1 ? '1 nested value is' : `${this.#nestedCount} nested values are`
      this.#table.findings.push(finding('nested-values', { count }))
    }
    return this.#table.finish(this.#rowCount)
  }
}
