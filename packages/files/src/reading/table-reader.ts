import { type Finding, foldName, printName, type ValueType } from 'mellow-abacus'
import { ColumnReader, type ReadColumn } from './column-reader.js'
import type { ReadingOptions } from './options.js'
import { ReadFault } from './read-fault.js'

/** A column of a file that was read. */
export interface FileColumn extends ReadColumn {
  readonly name: string
  /** True when its type was said, not found. */
  readonly declared: boolean
}

/** A file that was read. */
export interface FileTable {
  readonly columns: readonly FileColumn[]
  readonly rowCount: number
  /** What a reader of the file should know: short rows, unnamed columns, how it was read. */
  readonly findings: readonly Finding[]
}

/** Most columns of a file. */
const MOST_COLUMNS = 16_384

/** Collects the columns of a file while it is read, whatever its format. */
export class TableReader {
  readonly findings: Finding[] = []
  readonly columns: ColumnReader[] = []
  readonly names: string[] = []
  readonly #options: ReadingOptions
  readonly #folded: Map<string, number> = new Map()

  constructor(options: ReadingOptions) {
    this.#options = options
  }

  /** The place of the column of this exact name, or undefined. */
  placeOf(name: string): number | undefined {
    const place = this.#folded.get(foldName(name))
    return place !== undefined && this.names[place] === name ? place : undefined
  }

  /**
   * Begins a column.
   *
   * @param own - the type it has in its file, for formats that say so
   * Errors: ReadFault when there is one of that name, or of that name but for case, and for one too many.
   */
  addColumn(name: string, line?: number, own?: ValueType): ColumnReader {
    if (this.columns.length === MOST_COLUMNS)
      throw new ReadFault(`the file has more than ${MOST_COLUMNS} columns; a table has no more.`, line)
    const known = this.#folded.get(foldName(name))
    if (known !== undefined) {
      const other = this.names[known] as string
      const how =
        other === name
          ? `two columns are called ${printName(name)}`
          : `the columns ${printName(other)} and ${printName(name)} differ only in case`
      throw new ReadFault(`${how}; names of one table must differ.`, line)
    }
    const { types, formerTypes, decimal = '.', blanks = [], zone = 'UTC' } = this.#options
    const declared = types?.get(name) ?? formerTypes?.get(name) ?? (own === undefined ? undefined : { type: own })
    const reader = new ColumnReader(declared, decimal, new Set(blanks), zone)
    this.#folded.set(foldName(name), this.columns.length)
    this.names.push(name)
    this.columns.push(reader)
    return reader
  }

  /** Fills a column up with blanks to so many rows. */
  padTo(column: ColumnReader, rowCount: number): void {
    while (column.rowCount < rowCount) column.pushBlank()
  }

  /** Ends the table. Errors: ReadFault when a type was said for a column that is not there. */
  finish(rowCount: number): FileTable {
    for (const name of this.#options.types?.keys() ?? []) {
      if (!this.names.includes(name))
        throw new ReadFault(`a type is given for ${printName(name)}, but the file has no such column.`)
    }
    const columns = this.columns.map((reader, index) => {
      const name = this.names[index] as string
      return { name, declared: this.#options.types?.has(name) ?? false, ...reader.finish() }
    })
    return { columns, rowCount, findings: this.findings }
  }
}
