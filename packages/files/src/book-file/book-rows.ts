import type Database from 'libsql'

/**
 * The tables of a workbook file that hold what is kept, with their columns, those that tell rows apart, and whether
 * a row may be put in place of another one. Who writes it, and which
 * format it has, belongs to the file alone.
 */
export const BOOK_TABLES = {
  snapshot: { columns: ['one', 'revision', 'image', 'seal'], key: ['one'], isReplaced: true },
  journal: {
    columns: ['revision', 'kind', 'at', 'author', 'operations', 'inverse', 'summary', 'undoes', 'seal'],
    key: ['revision'],
    isReplaced: false,
  },
  payloads: { columns: ['revision', 'place', 'head', 'seal'], key: ['revision', 'place'], isReplaced: false },
  chunks: { columns: ['owner', 'place', 'bytes', 'seal'], key: ['owner', 'place'], isReplaced: true },
  answers: { columns: ['key', 'fingerprint', 'seen', 'at', 'answer'], key: ['key'], isReplaced: true },
} as const

/** A table of a workbook file. */
export type BookTable = keyof typeof BOOK_TABLES

/** What a column of such a table holds. */
export type RowValue = string | number | Uint8Array | null

/** Something that was written into a table: a row, in place of one of the same key, or all rows of an owner or of a time taken away. */
export type WrittenRow =
  | { readonly table: BookTable; readonly row: readonly RowValue[] }
  | { readonly table: 'chunks'; readonly droppedOwner: string }
  | { readonly table: 'answers'; readonly droppedBefore: number }

/**
 * Keeps elsewhere what is written into a workbook file, which then is a copy: it is told before that is done here.
 *
 * @throws where it cannot be kept: then it has not happened
 */
export type Keeper = (written: readonly WrittenRow[]) => void

/** Writes the tables of an open workbook file, and knows what belongs together. */
export class BookRows {
  readonly #database: Database.Database
  readonly #keeper: Keeper | null
  readonly #statements: Map<string, Database.Statement> = new Map()
  #written: WrittenRow[] = []

  constructor(database: Database.Database, keeper: Keeper | null = null) {
    this.#database = database
    this.#keeper = keeper
  }

  /** Writes a row, where the table has it so in place of one of the same key. */
  put(table: BookTable, row: readonly RowValue[]): void {
    this.#run(putting(table), row.map(asBuffer), { table, row })
  }

  /** Takes all parts of an owner away. */
  dropOwner(droppedOwner: string): void {
    this.#run('DELETE FROM chunks WHERE owner = ?', [droppedOwner], { table: 'chunks', droppedOwner })
  }

  /** Takes all answers from before a time away. */
  dropAnswersBefore(droppedBefore: number): void {
    this.#run('DELETE FROM answers WHERE at < ?', [droppedBefore], { table: 'answers', droppedBefore })
  }

  #run(text: string, values: readonly unknown[], written: WrittenRow): void {
    let statement = this.#statements.get(text)
    if (statement === undefined) {
      statement = this.#database.prepare(text)
      this.#statements.set(text, statement)
    }
    statement.run(...values)
    if (this.#keeper !== null) this.#written.push(written)
  }

  /** Writes all of something, or nothing; within what is begun already, as a part of that. */
  together(write: () => void): void {
    if (this.#database.inTransaction) return this.#part(write)
    this.begin()
    try {
      write()
      this.commit()
    } catch (error) {
      this.rollBack()
      throw error
    }
  }

  #part(write: () => void): void {
    const before = this.#written.length
    this.#database.exec('SAVEPOINT part')
    try {
      write()
      this.#database.exec('RELEASE part')
    } catch (error) {
      if (this.#database.inTransaction) this.#database.exec('ROLLBACK TO part; RELEASE part')
      this.#written.length = before
      throw error
    }
  }

  /** Writes one row: by itself it is written whole or not at all, unless it is kept elsewhere too. */
  alone(write: () => void): void {
    if (this.#keeper === null) write()
    else this.together(write)
  }

  /** Begins something of which all is written or nothing. */
  begin(): void {
    this.#database.exec('BEGIN IMMEDIATE')
  }

  /** Brings what was begun to its end. @throws where that cannot be; it is then to be rolled back */
  commit(): void {
    const written = this.#written
    this.#written = []
    if (written.length > 0) this.#keeper?.(written)
    this.#database.exec('COMMIT')
  }

  /** Takes back what was begun, where it is not taken back already. */
  rollBack(): void {
    this.#written = []
    if (this.#database.inTransaction) this.#database.exec('ROLLBACK')
  }
}

/** The statement that writes a row of a table. */
function putting(table: BookTable): string {
  const { columns, isReplaced } = BOOK_TABLES[table]
  const verb = isReplaced ? 'INSERT OR REPLACE' : 'INSERT'
  return `${verb} INTO ${table} (${columns.join(', ')}) VALUES (${columns.map(() => '?').join(', ')})`
}

/** Bytes as the database takes them. */
function asBuffer(value: RowValue): RowValue {
  return value instanceof Uint8Array ? Buffer.from(value.buffer, value.byteOffset, value.byteLength) : value
}
