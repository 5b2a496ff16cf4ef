import type Database from 'libsql'
import type { Operation, ValueType } from 'mellow-abacus'
import { Column } from 'mellow-abacus/storage'
import { asking, BookFileFault } from './book-file-fault.js'
import type { BookRows } from './book-rows.js'
import { operationsOfText } from './carried-operations.js'
import type { JournalRow } from './journal-rows.js'
import { checksumOf, type Parts, payloadOwner } from './parts.js'
import { textOfBytes } from './text-of-bytes.js'

/** What a payload is besides its cells. */
interface PayloadHead {
  readonly type: ValueType
  readonly head: ReturnType<Column['head']>
}

interface PayloadRow {
  readonly revision: number
  readonly place: number
  readonly head: Uint8Array
  readonly checksum: number | null
}

/** Where payloads and their cells are written. */
interface PayloadTables {
  readonly rows: BookRows
  readonly parts: Parts
}

/** Columns that came with a step as finished storage. Those of its inverse have negative places, from -1 down. */
export class Payloads {
  readonly #path: string
  readonly #parts: Parts
  readonly #find: Database.Statement
  readonly #read: Database.Statement
  readonly #rows: BookRows

  /** @param hasChecksums - whether the file is of a format that has checksums */
  constructor(database: Database.Database, path: string, { rows, parts }: PayloadTables, hasChecksums: boolean) {
    this.#path = path
    this.#rows = rows
    this.#parts = parts
    const checksum = hasChecksums ? 'seal AS checksum' : 'NULL AS checksum'
    this.#find = database.prepare('SELECT rowid AS id FROM payloads WHERE revision = ? AND place = ?')
    this.#read = database.prepare(`SELECT revision, place, CAST(head AS BLOB) AS head, ${checksum} FROM payloads WHERE rowid = ?`)
  }

  /** Keeps the columns of a step. */
  add(revision: number, field: 'operations' | 'inverse', columns: readonly Column[]): void {
    for (const [index, column] of columns.entries()) {
      const place = placeOf(field, index)
      const slots = column.valueCount + column.blankCount + column.faultCount()
      const head: PayloadHead = { type: column.type, head: column.head(slots) }
      const text = JSON.stringify(head)
      this.#rows.put('payloads', [revision, place, text, checksumOf(text)])
      this.#parts.writeCells(payloadOwner(revision, place), column.written.all(), column.written.side())
    }
  }

  /**
   * The operations of a step, or its inverse, with their columns.
   *
   * @throws BookFileFault for what is not what was written
   */
  operationsIn(row: JournalRow, field: 'operations' | 'inverse'): Operation[] {
    return operationsOfText(row[field], (index) => {
      const place = placeOf(field, index)
      const { type, head } = this.#headOf(row.revision, place)
      return Column.stored(type, head, this.#parts.cells(payloadOwner(row.revision, place)))
    })
  }

  #headOf(revision: number, place: number): PayloadHead {
    const row = asking(this.#path, () => {
      const key = this.#find.get(revision, place) as { id: number } | undefined
      return key === undefined ? undefined : (this.#read.get(key.id) as PayloadRow | undefined)
    })
    const isIt = row !== undefined && row.revision === revision && row.place === place
    if (!isIt || (row.checksum !== null && checksumOf(row.head) !== row.checksum))
      throw new BookFileFault('damaged', `${this.#path} is damaged: cells of step ${revision} are not what was written.`)
    return JSON.parse(textOfBytes(row.head, this.#path)) as PayloadHead
  }
}

const placeOf = (field: 'operations' | 'inverse', index: number): number => (field === 'operations' ? index : -1 - index)
