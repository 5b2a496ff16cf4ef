import { crc32 } from 'node:zlib'
import type Database from 'libsql'
import type { SnapshotCells } from 'mellow-abacus'
import type { StoredCells } from 'mellow-abacus/storage'
import { asking, BookFileFault } from './book-file-fault.js'
import type { BookRows } from './book-rows.js'
import { chunkBytes, chunkOfBytes, numberBytes, numbersOfBytes, textBytes, textsOfBytes } from './chunk-bytes.js'
import { textOfBytes } from './text-of-bytes.js'

/** Adds up what a part holds, so that damage is noticed where it is read. */
export const checksumOf = (bytes: Uint8Array | string): number => crc32(bytes)

/** What SQLite calls the index of the keys of parts (SQLite, "The Schema Table"). */
const INDEX = 'sqlite_autoindex_chunks_1'

/** The parts of a workbook file that hold cells: each some bytes with a checksum, by owner and place. */
export class Parts {
  readonly #path: string
  readonly #find: Database.Statement
  readonly #read: Database.Statement
  readonly #astray: Database.Statement
  readonly #rows: BookRows
  readonly #owners: Database.Statement
  readonly #sizes: Database.Statement
  #areKeysChecked = false

  constructor(database: Database.Database, path: string, rows: BookRows) {
    this.#path = path
    this.#rows = rows
    this.#find = database.prepare(`SELECT rowid AS id FROM chunks INDEXED BY ${INDEX} WHERE owner = ? AND place = ?`)
    this.#read = database.prepare(
      'SELECT CAST(owner AS BLOB) AS owner, place, bytes, seal AS checksum FROM chunks WHERE rowid = ?',
    )
    this.#astray = database.prepare(`
      SELECT COUNT(*) AS parts, (SELECT COUNT(*) FROM chunks INDEXED BY ${INDEX}) AS keys, COALESCE(SUM(NOT EXISTS (
        SELECT 1 FROM chunks AS found INDEXED BY ${INDEX} WHERE found.owner = part.owner AND found.place = part.place
      )), 0) AS lost FROM chunks AS part NOT INDEXED
    `)
    this.#sizes = database.prepare('SELECT CAST(owner AS BLOB) AS owner, SUM(LENGTH(bytes)) AS size FROM chunks GROUP BY 1')
    this.#owners = database.prepare('SELECT DISTINCT CAST(owner AS BLOB) AS owner FROM chunks')
  }

  /**
   * The bytes of a part; undefined where there is none.
   *
   * @throws BookFileFault when they are damaged
   */
  read(owner: string, place: number): Uint8Array | undefined {
    const row = this.#row(owner, place)
    if (row === undefined) return undefined
    if (checksumOf(row.bytes) !== row.checksum)
      throw new BookFileFault('damaged', `${this.#path} is damaged: part ${place} of ${owner} is not what was written.`)
    return new Uint8Array(row.bytes.buffer, row.bytes.byteOffset, row.bytes.byteLength)
  }

  #row(owner: string, place: number): { bytes: Buffer; checksum: number } | undefined {
    return asking(this.#path, () => {
      const key = this.#find.get(owner, place) as { id: number } | undefined
      if (key === undefined) {
        this.#checkKeys()
        return undefined
      }
      const row = this.#read.get(key.id) as { owner: Uint8Array; place: number; bytes: Buffer; checksum: number } | undefined
      if (row === undefined || row.place !== place || textOfBytes(row.owner, this.#path) !== owner) throw this.#lost()
      return row
    })
  }

  /**
   * What is not there is blank, so a part must not merely not be found: before the first time that one is taken for blank, every
   * part is looked for by its key, and every key has its part.
   */
  #checkKeys(): void {
    if (this.#areKeysChecked) return
    const { parts, keys, lost } = this.#astray.get() as { parts: number; keys: number; lost: number }
    if (lost > 0 || parts !== keys) throw this.#lost()
    this.#areKeysChecked = true
  }

  #lost(): BookFileFault {
    return new BookFileFault('damaged', `${this.#path} is damaged: not all of its cells can be found.`)
  }

  /** Writes a part, in place of what it was. */
  write(owner: string, place: number, bytes: Uint8Array): void {
    this.#rows.put('chunks', [owner, place, bytes, checksumOf(bytes)])
  }

  /** Takes all parts of an owner away. */
  drop(owner: string): void {
    this.#rows.dropOwner(owner)
  }

  /** All owners of parts. */
  owners(): string[] {
    return (this.#owners.all() as { owner: Uint8Array }[]).map(({ owner }) => textOfBytes(owner, this.#path))
  }

  /** Bytes of all parts of each owner. */
  sizes(): { owner: string; size: number }[] {
    const rows = asking(this.#path, () => this.#sizes.all()) as { owner: Uint8Array; size: number }[]
    return rows.map(({ owner, size }) => ({ owner: textOfBytes(owner, this.#path), size }))
  }

  /** Writes cells of a column: chunks by their places, and what goes with them. */
  writeCells(
    owner: string,
    chunks: readonly { index: number; chunk: Parameters<typeof chunkBytes>[0] }[],
    side: SideCells,
  ): void {
    for (const { index, chunk } of chunks) this.write(owner, index, chunkBytes(chunk))
    this.write(`${owner} texts`, 0, textBytes(side.texts()))
    this.write(`${owner} misfits`, 0, new TextEncoder().encode(JSON.stringify([...side.misfits()])))
  }

  /** The cells of a column, each chunk read when it is needed. */
  cells(owner: string): StoredCells {
    const read = (name: string): Uint8Array | undefined => this.read(`${owner} ${name}`, 0)
    return {
      chunk: (index) => {
        const bytes = this.read(owner, index)
        return bytes === undefined ? undefined : chunkOfBytes(bytes)
      },
      texts: () => {
        const bytes = read('texts')
        return bytes === undefined ? [] : textsOfBytes(bytes)
      },
      misfits: () => {
        const bytes = read('misfits')
        return bytes === undefined ? [] : (JSON.parse(new TextDecoder().decode(bytes)) as [number, string][])
      },
    }
  }

  /** The cells of a whole workbook. */
  snapshotCells(): SnapshotCells {
    return {
      cells: (column) => this.cells(columnOwner(column)),
      marks: (column, block) => this.read(marksOwner(column), block),
      order: (table) => numbersOfBytes(this.read(orderOwner(table), 0) ?? numberBytes(new Int32Array(0))),
    }
  }
}

type SideCells = Pick<StoredCells, 'texts' | 'misfits'>

/** Owners of parts, by what they hold. */
export const columnOwner = (column: number): string => `column:${column}`
export const marksOwner = (column: number): string => `marks:${column}`
export const orderOwner = (table: number): string => `order:${table}`
export const payloadOwner = (revision: number, place: number): string => `payload:${revision}.${place}`
