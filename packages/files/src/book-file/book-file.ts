import { closeSync, existsSync, openSync, readSync, rmSync, statSync } from 'node:fs'
import Database from 'libsql'
import {
  type ApplyOptions,
  type BookImage,
  type ChangeSet,
  type Operation,
  type OperationInput,
  type Step,
  type Surroundings,
  Workbook,
} from 'mellow-abacus'
import { asking, BookFileFault, faultOfDatabase } from './book-file-fault.js'
import { textOfOperations } from './carried-operations.js'
import { numberBytes } from './chunk-bytes.js'
import { type JournalRow, JournalRows } from './journal-rows.js'
import { columnOwner, marksOwner, orderOwner, Parts, sealOf } from './parts.js'
import { Payloads } from './payloads.js'
import { createSchema, isSealed, upgradedImage, upgradeSchema } from './schema.js'
import { textOfBytes } from './text-of-bytes.js'
import { WriterLock } from './writer-lock.js'

/** One step of the history of a workbook. */
export interface JournalEntry {
  readonly revision: number
  readonly kind: 'apply' | 'undo' | 'redo'
  /** Wall-clock time, ISO 8601. */
  readonly at: string
  readonly author: string
  readonly operations: readonly Operation[]
  /** Calculated cells that followed, by column. */
  readonly recalculated: readonly { readonly table: string; readonly column: string; readonly rows: number }[]
}

/** Entries of the journal after which cells are written anew, so that opening never has much to repeat. */
const MOST_REPEATED = 64
/** Characters of operations after which they are, for few large entries. */
const MOST_REPEATED_TEXT = 2_000_000

/**
 * A workbook in a file: a SQLite database with a journal, in which every call that was answered is kept, and the cells as they
 * were some calls ago. Opening reads those and repeats the calls since; cells are read when they are first touched.
 */
export class BookFile {
  readonly path: string
  readonly book: Workbook
  readonly #database: Database.Database
  readonly #parts: Parts
  readonly #journal: JournalRows
  readonly #payloads: Payloads
  readonly #lock: WriterLock | null
  #repeated = 0
  #repeatedText = 0
  /** Set when the file could not be written: what is in memory is then ahead of it. */
  #failure: unknown = null

  private constructor(path: string, { database, parts, journal, payloads }: OpenedFile, book: Workbook, lock: WriterLock | null) {
    this.path = path
    this.#database = database
    this.#parts = parts
    this.#journal = journal
    this.#payloads = payloads
    this.book = book
    this.#lock = lock
  }

  /**
   * Makes a new workbook file.
   *
   * Errors: BookFileFault when there is a file already, or none can be written there.
   */
  static create(path: string, surroundings: Partial<Surroundings> = {}): BookFile {
    if (existsSync(path)) throw new BookFileFault('exists', `${path} exists already.`)
    const lock = new WriterLock(path)
    try {
      const database = openDatabase(path)
      createSchema(database)
      const file = new BookFile(path, openedFile(database, path), new Workbook(surroundings), lock)
      file.#writeImage()
      return file
    } catch (error) {
      lock.release()
      rmSync(path, { force: true })
      throw error
    }
  }

  /**
   * Opens a workbook file.
   *
   * Errors: BookFileFault when it is missing, no workbook, newer than this tool, damaged, or, to be written, in use.
   */
  static open(path: string, { writes }: { readonly writes: boolean }): BookFile {
    if (!existsSync(path)) throw new BookFileFault('missing', `there is no workbook ${path}.`)
    const lock = writes ? new WriterLock(path) : null
    let database: Database.Database | undefined
    try {
      refuseCutShort(path)
      database = openDatabase(path)
      upgradeSchema(database, path, writes)
      const opened = openedFile(database, path)
      // One state of the file is read throughout, whoever writes meanwhile.
      if (!writes) database.exec('BEGIN')
      const { image, revision } = readImage(database, path)
      const book = Workbook.open(image, opened.parts.imageCells(), stepsUpTo(opened, revision))
      const file = new BookFile(path, opened, book, lock)
      file.#repeatSince(revision)
      return file
    } catch (error) {
      database?.close()
      lock?.release()
      throw withSalvage(faultOfDatabase(error, path), path)
    }
  }

  /** Repeats what was done since the cells were written. */
  #repeatSince(revision: number): void {
    for (const row of this.#journal.since(revision)) {
      const options = { author: row.author, at: row.at }
      const change =
        row.kind === 'undo'
          ? this.book.undo(options)
          : row.kind === 'redo'
            ? this.book.redo(options)
            : this.book.apply(this.#payloads.operationsIn(row, 'operations'), options)
      if (change?.revision !== row.revision)
        throw new BookFileFault('damaged', `${this.path} is damaged: step ${row.revision} of its journal cannot be repeated.`)
      this.#count(row.operations.length)
    }
  }

  #count(characters: number): void {
    this.#repeated++
    this.#repeatedText += characters
  }

  /** Applies operations as `Workbook.apply` does; when it returns, they are in the file for good. */
  apply(operations: OperationInput | readonly OperationInput[], options: ApplyOptions = {}): ChangeSet {
    return this.#keep('apply', this.book.apply(operations, this.#stamped(options)))
  }

  /** Takes the last step back, of whichever process; null when none is left. */
  undo(options: Omit<ApplyOptions, 'expects'> = {}): ChangeSet | null {
    const change = this.book.undo(this.#stamped(options))
    return change === null ? null : this.#keep('undo', change)
  }

  /** Does the last undone step again; null when none is left. */
  redo(options: Omit<ApplyOptions, 'expects'> = {}): ChangeSet | null {
    const change = this.book.redo(this.#stamped(options))
    return change === null ? null : this.#keep('redo', change)
  }

  #stamped<Options extends ApplyOptions>(options: Options): Options {
    if (this.#lock === null) throw new BookFileFault('in-use', `${this.path} was opened to be read.`)
    if (this.#failure !== null)
      throw new BookFileFault('unwritable', `${this.path} could not be written before; open it again.`, this.#failure)
    return options
  }

  #keep(kind: JournalEntry['kind'], change: ChangeSet): ChangeSet {
    const forth = textOfOperations(change.operations)
    const back = textOfOperations(change.inverse)
    const summary = JSON.stringify(change.recalculated.map(({ table, column, rows }) => [table, column, rows]))
    try {
      this.#inTransaction(() => {
        const { revision, at, author } = change
        const row = { revision, kind, at: at ?? '', author: author ?? '', operations: forth.text, inverse: back.text, summary }
        this.#journal.add(row)
        this.#payloads.add(revision, 'operations', forth.payloads)
        this.#payloads.add(revision, 'inverse', back.payloads)
      })
      this.#count(forth.text.length)
      const isBulk = forth.payloads.length > 0 || this.#repeatedText > MOST_REPEATED_TEXT
      if (isBulk || this.#repeated >= MOST_REPEATED) this.#writeImage()
    } catch (error) {
      this.#failure = error
      throw new BookFileFault('unwritable', `${this.path} cannot be written: ${(error as Error).message}.`, error)
    }
    return change
  }

  /** Writes the cells that have changed since they were last written, so that opening has nothing to repeat. */
  #writeImage(): void {
    const taken = this.book.image()
    this.#inTransaction(() => {
      for (const { column, chunks, side, marks, replacesCells, replacesMarks } of taken.unsaved) {
        if (replacesCells) this.#parts.drop(columnOwner(column))
        if (replacesMarks) this.#parts.drop(marksOwner(column))
        if (replacesCells || chunks.length > 0) this.#parts.writeCells(columnOwner(column), chunks, side)
        for (const [block, bytes] of marks) this.#parts.write(marksOwner(column), block, bytes)
      }
      for (const [table, order] of taken.orders) this.#parts.write(orderOwner(table), 0, numberBytes(order))
      for (const owner of this.#parts.owners()) {
        const column = /^(?:column|marks):(\d+)/.exec(owner)?.[1]
        if (column !== undefined && !taken.columns.has(Number(column))) this.#parts.drop(owner)
      }
      const image = JSON.stringify(taken.image)
      this.#database
        .prepare('INSERT OR REPLACE INTO snapshot (one, revision, image, seal) VALUES (1, ?, ?, ?)')
        .run(this.book.revision, image, sealOf(image))
    })
    taken.settle()
    this.#repeated = 0
    this.#repeatedText = 0
  }

  #inTransaction(write: () => void): void {
    this.#database.exec('BEGIN IMMEDIATE')
    try {
      write()
      this.#database.exec('COMMIT')
    } catch (error) {
      if (this.#database.inTransaction) this.#database.exec('ROLLBACK')
      throw error
    }
  }

  /** Bytes that the cells of each column take in the file, by id. */
  storedBytes(): ReadonlyMap<number, number> {
    const sizes = new Map<number, number>()
    for (const { owner, size } of this.#parts.sizes()) {
      const column = Number(/^column:(\d+)/.exec(owner)?.[1] ?? Number.NaN)
      if (!Number.isNaN(column)) sizes.set(column, (sizes.get(column) ?? 0) + size)
    }
    return sizes
  }

  /** The steps of the history, oldest first. */
  *journal(): Generator<JournalEntry> {
    for (const row of this.#journal.since(-1)) {
      const summary = JSON.parse(row.summary) as [string, string, number][]
      yield {
        revision: row.revision,
        kind: row.kind,
        at: row.at,
        author: row.author,
        operations: this.#payloads.operationsIn(row, 'operations'),
        recalculated: summary.map(([table, column, rows]) => ({ table, column, rows })),
      }
    }
  }

  /** Closes the file; what was answered is in it already. Errors: BookFileFault where it turns out to be damaged. */
  close(): void {
    try {
      asking(this.path, () => {
        // So that whoever opens it next has nothing to repeat.
        if (this.#lock !== null && this.#failure === null && this.#repeated > 0) this.#writeImage()
        if (this.#database.inTransaction) this.#database.exec('ROLLBACK')
        // Whoever copies the file has all of it: nothing stays in a log beside it.
        if (this.#lock !== null) this.#database.exec('PRAGMA wal_checkpoint(TRUNCATE)')
      })
    } finally {
      this.#database.close()
      this.#lock?.release()
    }
  }
}

/**
 * Refuses a file that ends before its last page; the database itself would notice that only where it reads there. Beside a
 * log of writes that are yet to be taken over, pages may well be missing.
 *
 * Source: the SQLite database file format, bytes 16 to 17 and 28 to 31 of the header.
 */
function refuseCutShort(path: string): void {
  const logged = statSync(`${path}-wal`, { throwIfNoEntry: false })?.size ?? 0
  const header = Buffer.alloc(32)
  const file = openSync(path, 'r')
  try {
    if (logged > 0 || readSync(file, header, 0, 32, 0) < 32 || !header.toString('latin1').startsWith('SQLite format 3')) return
  } finally {
    closeSync(file)
  }
  const pageSize = header.readUInt16BE(16) === 1 ? 65_536 : header.readUInt16BE(16)
  const [size, pages] = [statSync(path).size, header.readUInt32BE(28)]
  if (size < pageSize * pages)
    throw new BookFileFault('damaged', `${path} is damaged: it ends after ${size} of ${pageSize * pages} bytes.`)
}

/** Says of a damaged workbook what of it can still be read. */
function withSalvage(error: unknown, path: string): unknown {
  if (!(error instanceof BookFileFault) || error.code !== 'damaged') return error
  const count = salvagedSteps(path).length
  const steps = `${count} ${count === 1 ? 'step' : 'steps'} of its journal can still be read`
  return new BookFileFault('damaged', `${error.message} ${steps}: mellow journal <book> --salvage, then mellow replay.`, error)
}

/** The steps of a damaged workbook that can still be read, from the first on. */
export function salvagedSteps(path: string): JournalEntry[] {
  const steps: JournalEntry[] = []
  let database: Database.Database | undefined
  try {
    database = openDatabase(path)
    const { journal, payloads } = openedFile(database, path)
    for (let revision = 1; ; revision++) {
      const row = journal.at(revision)
      if (row === undefined) break
      const operations = payloads.operationsIn(row, 'operations')
      // Cells of it are read here, so that a step is whole or left out.
      steps.push({ ...row, operations: JSON.parse(JSON.stringify(operations)) as Operation[], recalculated: [] })
    }
  } catch {
    // Where reading ends is what is asked for: the steps before it are whole.
    return steps
  } finally {
    database?.close()
  }
  return steps
}

function openDatabase(path: string): Database.Database {
  const database = new Database(path)
  try {
    database.exec('PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; PRAGMA busy_timeout = 3000')
  } catch (error) {
    database.close()
    throw error
  }
  return database
}

function readImage(database: Database.Database, path: string): { image: BookImage; revision: number } {
  const row = database.prepare('SELECT revision, CAST(image AS BLOB) AS image, seal FROM snapshot').get() as
    | { revision: number; image: Uint8Array; seal: number }
    | undefined
  if (row === undefined || sealOf(row.image) !== row.seal)
    throw new BookFileFault('damaged', `${path} is damaged: its definitions are not what was written.`)
  return { image: upgradedImage(JSON.parse(textOfBytes(row.image, path)) as BookImage), revision: row.revision }
}

/** A database with what reads and writes its tables. */
interface OpenedFile {
  readonly database: Database.Database
  readonly parts: Parts
  readonly journal: JournalRows
  readonly payloads: Payloads
}

function openedFile(database: Database.Database, path: string): OpenedFile {
  const parts = new Parts(database, path)
  const sealed = isSealed(database)
  return {
    database,
    parts,
    journal: new JournalRows(database, path, sealed),
    payloads: new Payloads(database, path, parts, sealed),
  }
}

/** What undo and redo do in a workbook of some revision; each step is read when it is taken. */
function stepsUpTo({ journal, payloads }: OpenedFile, revision: number): { undo: Step[]; redo: Step[] } {
  const undo: number[] = []
  const redo: number[] = []
  for (const row of journal.kindsUpTo(revision)) {
    if (row.kind === 'apply') redo.length = 0
    if (row.kind === 'undo') undo.pop()
    else undo.push(row.revision)
    if (row.kind === 'redo') redo.pop()
    if (row.kind === 'undo') redo.push(row.revision)
  }
  const step = (of: number): Step => {
    return () => payloads.operationsIn(journal.at(of) as JournalRow, 'inverse')
  }
  return { undo: undo.map(step), redo: redo.map(step) }
}
