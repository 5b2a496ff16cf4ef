import { type Finding, finding, printName, type ReadonlyColumn, type ValueType } from 'mellow-abacus'
import { foldName } from 'mellow-abacus/storage'
import { ColumnReader, type ReadColumn } from './column-reader.js'
import type { ReadingOptions } from './options.js'
import { ReadFault } from './read-fault.js'

/** A column of a file that was read. */
export interface FileColumn extends ReadColumn {
  readonly name: string
  /** True when its type was said, not found. */
  readonly declared: boolean
}

/** Rows that were read, wherever they come from. */
export interface ReadRows {
  /** The columns by name; null for one without any value. */
  readonly columns: readonly { readonly name: string; readonly column: ReadonlyColumn | null }[]
  readonly rowCount: number
}

/** A file that was read. */
export interface FileTable extends ReadRows {
  readonly columns: readonly FileColumn[]
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
   * @throws ReadFault when there is one of that name, or of that name but for case, and for one too many.
   */
  addColumn(given: string, line?: number, own?: ValueType): ColumnReader {
    const name = this.#freeName(given.toWellFormed())
    if (this.columns.length === MOST_COLUMNS)
      throw new ReadFault(`the file has more than ${MOST_COLUMNS} columns; a table has no more.`, line)
    const known = this.#folded.get(foldName(name))
    if (known !== undefined) {
      const other = this.names[known] as string
      const how =
        other === name
          ? `two columns are called ${printName(name)}`
          : `the columns ${printName(other)} and ${printName(name)} differ only in case`
      throw new ReadFault(`${how}; names of one table must differ. To have the second one renamed: --duplicates rename`, line)
    }
    const { types, formerTypes, decimal = '.', thousands = null, blanks = [], zone = 'UTC' } = this.#options
    const declared = types?.get(name) ?? formerTypes?.get(name) ?? (own === undefined ? undefined : { type: own })
    const reader = new ColumnReader(declared, { decimal, thousands }, new Set(blanks), zone)
    this.#folded.set(foldName(name), this.columns.length)
    this.names.push(name)
    this.columns.push(reader)
    return reader
  }

  /** The name itself, or one with a number behind it where it is taken and is to be renamed. */
  #freeName(name: string): string {
    if (this.#options.duplicates !== 'rename' || !this.#folded.has(foldName(name))) return name
    let number = 2
    while (this.#folded.has(foldName(`${name}_${number}`))) number++
    const to = `${name}_${number}`
    this.findings.push(finding('renamed-column', { name: printName(name), to: printName(to) }))
    return to
  }

  /** Fills a column up with blanks to so many rows. */
  padTo(column: ColumnReader, rowCount: number): void {
    while (column.rowCount < rowCount) column.pushBlank()
  }

  /**
   * Ends the table.
   *
   * @throws ReadFault when a type was said for a column that is not there
   */
  finish(rowCount: number): FileTable {
    for (const name of this.#options.types?.keys() ?? []) {
      if (!this.names.includes(name))
        throw new ReadFault(`a type is given for ${printName(name)}, but the file has no such column.`)
    }
    const columns = this.columns.map((reader, index) => {
      const name = this.names[index] as string
      return { name, declared: this.#options.types?.has(name) ?? false, ...reader.finish() }
    })
    return { columns, rowCount, findings: [...this.findings, ...columns.flatMap((one) => notesOf(one, columns))] }
  }
}

/** What is to be known of a column besides its cells. */
function notesOf({ name, otherReading, mendedTexts, values }: FileColumn, columns: readonly FileColumn[]): Finding[] {
  const notes: Finding[] = []
  if (mendedTexts > 0) {
    const count = mendedTexts === 1 ? '1 text' : `${mendedTexts} texts`
    notes.push(finding('mended-text', { count, name: printName(name) }, { rows: mendedTexts }))
  }
  if (otherReading === null) return notes
  const { what, type, marks, fits, or } = otherReading
  const isDecimal = marks !== null && marks.thousands === null
  const broken = columns.filter((one) => one.name !== name && one.pointNumbers > 0)
  const others = broken.reduce((sum, { pointNumbers }) => sum + pointNumbers, 0)
  // The mark of a whole file is offered only where it reads every number of it.
  const option = isDecimal && others === 0 ? `--decimal ${marks.decimal}` : `--type ${shellWord(`${name}=${type}`)}`
  const kept =
    isDecimal && others > 0
      ? ` (--decimal ${marks.decimal} for the whole file would not read ${others} numbers of ${broken.map((one) => printName(one.name)).join(', ')})`
      : ''
  const left = values - fits
  const rest = left === 0 ? '' : `; ${left} would not fit`
  const rival = or === null ? '' : ` They may as well be ${or}.`
  const parameters = { count: `${fits} of ${values} values`, name: printName(name), what, option, rest, kept, rival }
  return [...notes, finding('readable-otherwise', parameters, { rows: fits })]
}

/** A word as a shell takes it. */
const shellWord = (word: string): string => (/^[\w=:.,/-]+$/.test(word) ? word : `'${word.replaceAll("'", "'\\''")}'`)
