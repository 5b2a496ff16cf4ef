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
 * @throws ReadFault, naming the row, for anything that is not an object, a key twice in one row, or broken JSON.
 */
export async function readJson(
  text: AsyncIterable<string>,
  format: 'json' | 'ndjson',
  options: ReadingOptions,
): Promise<FileTable> {
  const reader = new JsonReader(format, options)
  const tokenizer = new WrittenNumbers(format === 'ndjson' ? { separator: '\n' } : {})
  let line = 1
  let broken: Error | undefined
  tokenizer.onToken = ({ token, value }) => reader.token(token, value as Primitive)
  tokenizer.onError = (error) => {
    broken ??= error
  }
  tokenizer.onEnd = () => undefined
  const failIfBroken = (): void => {
    if (broken instanceof ReadFault) throw format === 'ndjson' ? new ReadFault(broken.message, line) : broken
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

/** Gives numbers as they are written, so that a whole number beyond 2^53 keeps its digits. */
class WrittenNumbers extends Tokenizer {
  protected override parseNumber(written: string): number {
    return written as unknown as number
  }
}

type Primitive = string | boolean | null

/** Cells that rows may leave out, and so many times those that are there. */
const LEAST_LEFT_OUT = 10_000_000
const MOST_TIMES_LEFT_OUT = 100

/** What may come next. The tokenizer knows JSON's words only; its grammar is kept here. */
type Expected =
  | 'array'
  | 'row or "]"'
  | 'row'
  | '"," or "]"'
  | 'a key or "}"'
  | 'a key'
  | '":"'
  | 'a value'
  | '"," or "}"'
  | 'the end'

const OPENING: readonly TokenType[] = [TokenType.LEFT_BRACE, TokenType.LEFT_BRACKET]
const CLOSING: readonly TokenType[] = [TokenType.RIGHT_BRACE, TokenType.RIGHT_BRACKET]
const PLAIN: readonly TokenType[] = [TokenType.STRING, TokenType.NUMBER, TokenType.TRUE, TokenType.FALSE, TokenType.NULL]

class JsonReader {
  readonly #table: TableReader
  readonly #isArray: boolean
  #expected: Expected
  #rowCount = 0
  #column: ColumnReader | null = null
  #key = ''
  /** JSON text of a nested value while it is read, and how deep it is. */
  #nested: { text: string; depth: number } | null = null
  #nestedCount = 0
  #cellCount = 0

  constructor(format: 'json' | 'ndjson', options: ReadingOptions) {
    this.#table = new TableReader(options)
    this.#isArray = format === 'json'
    this.#expected = this.#isArray ? 'array' : 'row'
  }

  /** True when no row is open. */
  get isBetweenRows(): boolean {
    return this.#expected === 'row'
  }

  token(type: TokenType, value: Primitive): void {
    if (this.#nested !== null) return this.#nest(this.#nested, type, value)
    const next = this.#take(type, value)
    if (next === null) throw this.#unexpected(type, value)
    this.#expected = next
  }

  /** Takes a token in and gives what is expected after it, or null when it cannot stand here. */
  #take(type: TokenType, value: Primitive): Expected | null {
    const opensRow = type === TokenType.LEFT_BRACE
    switch (this.#expected) {
      case 'array':
        return type === TokenType.LEFT_BRACKET ? 'row or "]"' : null
      case 'row or "]"':
        return opensRow ? 'a key or "}"' : type === TokenType.RIGHT_BRACKET ? 'the end' : null
      case 'row':
        return opensRow ? 'a key or "}"' : type === TokenType.SEPARATOR ? 'row' : null
      case '"," or "]"':
        return type === TokenType.COMMA ? 'row' : type === TokenType.RIGHT_BRACKET ? 'the end' : null
      case 'a key or "}"':
      case 'a key':
        if (type === TokenType.STRING) {
          this.#key = value as string
          return '":"'
        }
        return type === TokenType.RIGHT_BRACE && this.#expected === 'a key or "}"' ? this.#endRow() : null
      case '":"':
        if (type !== TokenType.COLON) return null
        this.#column = this.#columnOf(this.#key)
        return 'a value'
      case 'a value':
        if (OPENING.includes(type)) {
          this.#nested = { text: String(value), depth: 1 }
          return '"," or "}"'
        }
        return PLAIN.includes(type) ? this.#cell(type, value) : null
      case '"," or "}"':
        return type === TokenType.COMMA ? 'a key' : type === TokenType.RIGHT_BRACE ? this.#endRow() : null
      case 'the end':
        return null
    }
  }

  #unexpected(type: TokenType, value: Primitive): ReadFault {
    const after = this.#rowCount > 0 ? ` after row ${this.#rowCount}` : ''
    const isStart = this.#expected === 'array' || this.#expected === 'row' || this.#expected === 'row or "]"'
    const expected = isStart ? (this.#isArray ? 'an array of objects' : 'an object a line') : this.#expected
    const found = PLAIN.includes(type)
      ? `the value ${type === TokenType.NUMBER ? String(value) : JSON.stringify(value)}`
      : type === TokenType.LEFT_BRACKET
        ? 'a list'
        : type === TokenType.LEFT_BRACE
          ? 'an object'
          : `"${value}"`
    return new ReadFault(`expected ${expected}, found ${found}${after}.`)
  }

  #columnOf(key: string): ColumnReader {
    const name = key === '' ? 'unnamed' : key
    const place = this.#table.placeOf(name)
    const column = place === undefined ? this.#newColumn(name) : (this.#table.columns[place] as ColumnReader)
    if (column.rowCount > this.#rowCount) throw new ReadFault(`row ${this.#rowCount + 1} has the key "${key}" twice.`)
    this.#table.padTo(column, this.#rowCount)
    return column
  }

  /** A key that comes late leaves as many cells out as there are rows before. */
  #newColumn(name: string): ColumnReader {
    const { columns } = this.#table
    if ((columns.length + 1) * this.#rowCount > LEAST_LEFT_OUT + MOST_TIMES_LEFT_OUT * this.#cellCount)
      throw new ReadFault(
        `${this.#rowCount} rows have ${columns.length + 1} different keys and ${this.#cellCount} values between them; such a table is not read.`,
      )
    return this.#table.addColumn(name)
  }

  #cell(type: TokenType, value: Primitive): Expected {
    const column = this.#column as ColumnReader
    this.#cellCount++
    if (value === null) column.pushBlank()
    else if (type === TokenType.NUMBER) this.#number(column, value as string)
    else if (typeof value === 'boolean') column.push(String(value))
    else column.pushLiteral(value)
    return '"," or "}"'
  }

  #number(column: ColumnReader, written: string): void {
    const value = Number(written)
    if (!Number.isFinite(value)) throw new ReadFault(`row ${this.#rowCount + 1} has a number beyond 1.7976931348623157e308.`)
    // A whole number that would lose digits is a text, as in CSV.
    if (Number.isSafeInteger(value) || !/^-?\d+$/.test(written)) column.pushNumber(value)
    else column.push(written)
  }

  /** Collects the tokens of a nested value; the platform's own parser says whether they are JSON. */
  #nest(nested: { text: string; depth: number }, type: TokenType, value: Primitive): void {
    nested.text += type === TokenType.STRING || value === null ? JSON.stringify(value) : String(value)
    if (OPENING.includes(type)) nested.depth++
    if (CLOSING.includes(type)) nested.depth--
    if (nested.depth > 0) return
    this.#nested = null
    try {
      JSON.parse(nested.text)
    } catch {
      throw new ReadFault(`this is not JSON: the value of "${this.#key}" in row ${this.#rowCount + 1}.`)
    }
    this.#column?.pushLiteral(nested.text)
    this.#nestedCount++
  }

  #endRow(): Expected {
    this.#rowCount++
    return this.#isArray ? '"," or "]"' : 'row'
  }

  finish(): FileTable {
    if (this.#expected !== 'the end' && this.#expected !== 'row')
      throw new ReadFault(`the file ends in the middle of ${this.#isArray ? 'its array' : 'a row'}.`)
    if (this.#isArray && this.#expected === 'row') throw new ReadFault('the file ends in the middle of its array.')
    for (const column of this.#table.columns) this.#table.padTo(column, this.#rowCount)
    if (this.#nestedCount > 0) {
      const count = this.#nestedCount === 1 ? '1 nested value is' : `${this.#nestedCount} nested values are`
      this.#table.findings.push(finding('nested-values', { count }))
    }
    return this.#table.finish(this.#rowCount)
  }
}
