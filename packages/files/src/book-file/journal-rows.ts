import type Database from 'libsql'
import { asking, BookFileFault } from './book-file-fault.js'
import { checksumOf } from './parts.js'
import { textOfBytes } from './text-of-bytes.js'

/** A step as the journal holds it. */
export interface JournalRow {
  readonly revision: number
  readonly kind: 'apply' | 'undo' | 'redo'
  readonly at: string
  readonly author: string
  /** JSON. */
  readonly operations: string
  readonly inverse: string
  readonly summary: string
}

const TEXTS = ['kind', 'at', 'author', 'operations', 'inverse', 'summary'] as const
type Texts = Record<(typeof TEXTS)[number], Uint8Array>

/** The journal of a workbook file, row by row; each has a checksum, so that damage is noticed where it is read. */
export class JournalRows {
  readonly #path: string
  readonly #since: Database.Statement
  readonly #at: Database.Statement
  readonly #kinds: Database.Statement
  readonly #add: Database.Statement | null

  /** @param hasChecksums - whether the file is of a format that has checksums */
  constructor(database: Database.Database, path: string, hasChecksums: boolean) {
    this.#path = path
    const columns = `revision, ${TEXTS.map((name) => `CAST(${name} AS BLOB) AS ${name}`).join(', ')}, ${hasChecksums ? 'seal AS checksum' : 'NULL AS checksum'}`
    this.#since = database.prepare(`SELECT ${columns} FROM journal WHERE revision > ? ORDER BY revision`)
    this.#at = database.prepare(`SELECT ${columns} FROM journal WHERE revision = ?`)
    this.#kinds = database.prepare(
      'SELECT revision, CAST(kind AS BLOB) AS kind FROM journal WHERE revision <= ? ORDER BY revision',
    )
    this.#add = hasChecksums
      ? database.prepare(`INSERT INTO journal (revision, ${TEXTS.join(', ')}, seal) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`)
      : null
  }

  /** Puts a row in. */
  add(row: JournalRow): void {
    this.#add?.run(row.revision, ...TEXTS.map((name) => row[name]), checksumOfRow(row))
  }

  /**
   * The rows after a revision.
   *
   * @throws BookFileFault for one that is not what was written
   */
  since(revision: number): JournalRow[] {
    return asking(this.#path, () => this.#since.all(revision)).map((row) => this.#rowOf(row))
  }

  /**
   * The row of a revision; undefined where there is none.
   *
   * @throws as since
   */
  at(revision: number): JournalRow | undefined {
    const row = asking(this.#path, () => this.#at.get(revision))
    return row === undefined ? undefined : this.#rowOf(row)
  }

  /**
   * What kind each step was, from the first one up to a revision.
   *
   * @throws as since, and where one is gone
   */
  kindsUpTo(revision: number): Pick<JournalRow, 'revision' | 'kind'>[] {
    const rows = asking(this.#path, () => this.#kinds.all(revision)) as { revision: number; kind: Uint8Array }[]
    for (let at = 1; at <= revision; at++) if (rows[at - 1]?.revision !== at) throw this.#damaged(at)
    return rows.map((row) => {
      return { revision: row.revision, kind: this.#kindOf(textOfBytes(row.kind, this.#path), row.revision) }
    })
  }

  #kindOf(kind: string, revision: number): JournalRow['kind'] {
    if (kind === 'apply' || kind === 'undo' || kind === 'redo') return kind
    throw this.#damaged(revision)
  }

  #rowOf(read: unknown): JournalRow {
    const { revision, checksum, ...texts } = read as { revision: number; checksum: number | null } & Texts
    const text = (name: keyof Texts): string => textOfBytes(texts[name], this.#path)
    const row = {
      revision,
      kind: this.#kindOf(text('kind'), revision),
      at: text('at'),
      author: text('author'),
      operations: text('operations'),
      inverse: text('inverse'),
      summary: text('summary'),
    }
    if (checksum !== null && checksumOfRow(row) !== checksum) throw this.#damaged(revision)
    return row
  }

  #damaged(revision: number): BookFileFault {
    return new BookFileFault('damaged', `${this.#path} is damaged: step ${revision} of its journal is not what was written.`)
  }
}

function checksumOfRow(row: JournalRow): number {
  return checksumOf(JSON.stringify([row.revision, ...TEXTS.map((name) => row[name])]))
}
