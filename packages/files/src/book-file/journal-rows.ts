import type Database from 'libsql'
import { asking, BookFileFault } from './book-file-fault.js'
import type { BookRows } from './book-rows.js'
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
  /** The revision that an undo or redo is about, where that is not the last one. */
  readonly of: number | null
}

const TEXTS = ['kind', 'at', 'author', 'operations', 'inverse', 'summary'] as const
type Texts = Record<(typeof TEXTS)[number], Uint8Array>

/** The journal of a workbook file, row by row; each has a checksum, so that damage is noticed where it is read. */
export class JournalRows {
  readonly #path: string
  readonly #since: Database.Statement
  readonly #at: Database.Statement
  readonly #kinds: Database.Statement
  readonly #rows: BookRows

  /** @param has - what files of this format have: checksums, and undo of steps that are not the last */
  constructor(
    database: Database.Database,
    path: string,
    rows: BookRows,
    has: { readonly checksums: boolean; readonly ofSteps: boolean },
  ) {
    this.#path = path
    this.#rows = rows
    const of = has.ofSteps ? 'undoes AS of' : 'NULL AS of'
    const blobs = TEXTS.map((name) => `CAST(${name} AS BLOB) AS ${name}`).join(', ')
    const columns = `revision, ${blobs}, ${of}, ${has.checksums ? 'seal AS checksum' : 'NULL AS checksum'}`
    this.#since = database.prepare(`SELECT ${columns} FROM journal WHERE revision > ? ORDER BY revision`)
    this.#at = database.prepare(`SELECT ${columns} FROM journal WHERE revision = ?`)
    this.#kinds = database.prepare(
      `SELECT revision, CAST(kind AS BLOB) AS kind, CAST(author AS BLOB) AS author, ${of} FROM journal WHERE revision <= ? ORDER BY revision`,
    )
  }

  /** Puts a row in. */
  add(row: JournalRow): void {
    this.#rows.put('journal', [row.revision, ...TEXTS.map((name) => row[name]), row.of, checksumOfRow(row)])
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
  kindsUpTo(revision: number): (Pick<JournalRow, 'revision' | 'kind' | 'of'> & { readonly author: string | null })[] {
    const rows = asking(this.#path, () => this.#kinds.all(revision)) as {
      revision: number
      kind: Uint8Array
      author: Uint8Array
      of: number | null
    }[]
    for (let at = 1; at <= revision; at++) if (rows[at - 1]?.revision !== at) throw this.#damaged(at)
    return rows.map(({ revision, kind, author, of }) => {
      const who = textOfBytes(author, this.#path)
      return { revision, of, author: who === '' ? null : who, kind: this.#kindOf(textOfBytes(kind, this.#path), revision) }
    })
  }

  #kindOf(kind: string, revision: number): JournalRow['kind'] {
    if (kind === 'apply' || kind === 'undo' || kind === 'redo') return kind
    throw this.#damaged(revision)
  }

  #rowOf(read: unknown): JournalRow {
    const { revision, checksum, of, ...texts } = read as { revision: number; checksum: number | null; of: number | null } & Texts
    const text = (name: keyof Texts): string => textOfBytes(texts[name], this.#path)
    const row = {
      revision,
      kind: this.#kindOf(text('kind'), revision),
      at: text('at'),
      author: text('author'),
      operations: text('operations'),
      inverse: text('inverse'),
      summary: text('summary'),
      of,
    }
    if (checksum !== null && checksumOfRow(row) !== checksum) throw this.#damaged(revision)
    return row
  }

  #damaged(revision: number): BookFileFault {
    return new BookFileFault('damaged', `${this.#path} is damaged: step ${revision} of its journal is not what was written.`)
  }
}

function checksumOfRow(row: JournalRow): number {
  return checksumOf(JSON.stringify([row.revision, ...TEXTS.map((name) => row[name]), ...(row.of === null ? [] : [row.of])]))
}
