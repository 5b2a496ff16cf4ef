import { lstatSync } from 'node:fs'
import type Database from 'libsql'
import {
  type ApplyOptions,
  BookReader,
  type ChangeSet,
  type GivenSurroundings,
  type KeptRevision,
  type Operation,
  type ReaderOptions,
  type Workbook,
  type WorkbookView,
} from 'mellow-abacus'
import { asking, BookFileFault, existing, faultOfDatabase, unwritable } from './book-file-fault.js'
import { BOOK_TABLES, type BookTable, type Keeper, type RowValue, type WrittenRow } from './book-rows.js'
import type { JournalEntry } from './journal-entry.js'
import { answerTo, type KeptAnswer, keepAnswer } from './kept-answers.js'
import { type FirstSteps, makeFile } from './make-book.js'
import { openDatabase } from './open-database.js'
import { type OpenedFile, openedFile, readBook } from './read-book.js'
import { withSalvage } from './salvage.js'
import { holderOf, noteHolder, upgradeSchema } from './schema.js'
import { keepRevision, writeSnapshot } from './write-book.js'
import { realPath, thisWriter, WRITE_WAIT_MS, WriterLock } from './writer-lock.js'

/** How a workbook file is made. */
export interface CreateOptions extends Pick<OpenOptions, 'waitMs'> {
  /** First steps, which belong to the making: where one is refused, there is no file. */
  readonly begin?: FirstSteps
}

/** How a workbook file is opened. */
export interface OpenOptions {
  /** Whether it is to be changed, false when left out; one process changes a workbook at a time, and any number look at it meanwhile. */
  readonly writes?: boolean
  /** Milliseconds to wait for another process that changes it, 10 000 unless given. */
  readonly waitMs?: number
  /** Of a file that is a copy: keeps what is written where it is kept for good. */
  readonly keeper?: Keeper
}

/** Entries of the journal after which cells are written anew, so that opening never has much to repeat. */
const MOST_REPEATED = 2_000
/** Characters of operations after which they are, for few large entries. */
const MOST_REPEATED_TEXT = 2_000_000

/**
 * A workbook in a file: a SQLite database with a journal, in which every call that was answered is kept, and the cells as they
 * were some calls ago. Opening reads those and repeats the calls since; cells are read when they are first touched.
 */
export class BookFile {
  readonly path: string
  /** The workbook to look at and to listen to. It is changed by `apply`, `undo` and `redo` of the file alone, which keep a journal. */
  readonly book: WorkbookView
  readonly #workbook: Workbook
  readonly #opened: OpenedFile
  readonly #lock: WriterLock | null
  #repeated: number
  #repeatedText: number
  /** True while calls wait to be committed. */
  #isStaged = false
  /** True when calls that waited were lost: the file is to be opened again. */
  #isLost = false

  private constructor(path: string, opened: OpenedFile, lock: WriterLock | null) {
    this.path = path
    this.#opened = opened
    this.#lock = lock
    const { workbook, repeated } = readBook(opened, (made) => this.#keep(made))
    this.#workbook = workbook
    this.book = workbook.view
    this.#repeated = repeated.steps
    this.#repeatedText = repeated.characters
  }

  /**
   * Makes a new workbook file. It is there when it is whole, or not at all.
   *
   * @throws BookFileFault when there is a file already, or none can be written there; Refusal for first steps that cannot be
   */
  static create(
    path: string,
    surroundings: GivenSurroundings = {},
    { waitMs = WRITE_WAIT_MS, begin }: CreateOptions = {},
  ): BookFile {
    if (lstatSync(path, { throwIfNoEntry: false }) !== undefined) throw existing(path)
    const real = realPath(path)
    const lock = new WriterLock(real, waitMs, () => null)
    try {
      // Someone may have been quicker while this one waited.
      if (lstatSync(real, { throwIfNoEntry: false }) !== undefined) throw existing(path)
      makeFile(real, surroundings, begin)
      return BookFile.#openLocked(path, real, lock)
    } catch (error) {
      lock.release()
      throw faultOfDatabase(error, path)
    }
  }

  /**
   * Opens a workbook file.
   *
   * @throws BookFileFault when it is missing, no workbook, newer than this tool, damaged, or, to be written, held by another
   */
  static open(path: string, { writes = false, waitMs = WRITE_WAIT_MS, keeper }: OpenOptions = {}): BookFile {
    if (lstatSync(path, { throwIfNoEntry: false }) === undefined)
      throw new BookFileFault('missing', `there is no workbook ${path}.`)
    const real = realPath(path)
    const lock = writes ? new WriterLock(real, waitMs, () => holderIn(real)) : null
    try {
      return BookFile.#openLocked(path, real, lock, keeper)
    } catch (error) {
      lock?.release()
      throw error
    }
  }

  /** Opens a file that is locked already, where it is to be written: so what is read is what the last writer left. */
  static #openLocked(path: string, real: string, lock: WriterLock | null, keeper: Keeper | null = null): BookFile {
    let database: Database.Database | undefined
    try {
      database = openDatabase(real, lock !== null)
      upgradeSchema(database, path, lock !== null)
      // What is kept elsewhere need not wait for the disk here.
      if (keeper !== null) database.exec('PRAGMA synchronous = OFF')
      if (lock !== null) noteHolder(database, thisWriter())
      // One state of the file is read throughout, no matter who writes meanwhile.
      else database.exec('BEGIN')
      return new BookFile(path, openedFile(database, path, keeper), lock)
    } catch (error) {
      database?.close()
      throw withSalvage(faultOfDatabase(error, path), real)
    }
  }

  /**
   * Applies operations as `Workbook.apply` does; when it returns, they are in the file for good. Listeners hear of it after that.
   *
   * @throws Refusal for what cannot be, BookFileFault when the file cannot be written; the workbook is then as it was
   */
  apply(operations: Operation | readonly Operation[], options: ApplyOptions = {}): ChangeSet {
    return this.#writing(() => this.#workbook.apply(operations, options))
  }

  /**
   * Applies operations that came from outside as JSON; see `Workbook.applyJson`.
   *
   * @throws Refusal naming the field that is not as it should be, and for all that `apply` throws
   */
  applyJson(json: unknown, options: ApplyOptions = {}): ChangeSet {
    return this.#writing(() => this.#workbook.applyJson(json, options))
  }

  /** Takes the last step back, of whichever process; null when none is left. */
  undo(options: Omit<ApplyOptions, 'expects' | 'strict'> = {}): ChangeSet | null {
    return this.#writing(() => this.#workbook.undo(options))
  }

  /** Does the last undone step again; null when none is left. */
  redo(options: Omit<ApplyOptions, 'expects' | 'strict'> = {}): ChangeSet | null {
    return this.#writing(() => this.#workbook.redo(options))
  }

  /** Takes back, or does again, a step that need not be the last one, as a journal says; see `Workbook.turnStep`. */
  turnStep(
    kind: 'undo' | 'redo',
    revision: number | null,
    options: Omit<ApplyOptions, 'expects' | 'strict'> = {},
  ): ChangeSet | null {
    return this.#writing(() => this.#workbook.turnStep(kind, revision, options))
  }

  /**
   * The workbook as one reader has it; what they change is in the file for good when their call returns. See `Workbook.reader`.
   *
   * @throws Refusal for a role that there is not
   */
  reader(options: ReaderOptions = {}): BookReader {
    return new BookReader(this.#workbook, options, (change) => this.#writing(change))
  }

  /** The workbook as it is, to try things on in memory: nothing of it reaches the file. */
  draft(): Workbook {
    return asking(this.path, () => readBook(this.#opened).workbook)
  }

  /**
   * Lets the calls that follow be in the file for good only when they are committed, all with one wait for the disk. Until then
   * no one may be told of them: where committing fails, none of them has happened, and the file is to be opened again.
   */
  stage(): void {
    this.#refuseReadOnly()
    try {
      this.#opened.rows.begin()
    } catch (error) {
      throw unwritable(this.path, error)
    }
    this.#isStaged = true
  }

  /**
   * Brings the calls since `stage` into the file for good.
   *
   * @throws BookFileFault when the file cannot be written: the workbook is then ahead of it, and to be opened again
   */
  commit(): void {
    this.#isStaged = false
    const { rows } = this.#opened
    try {
      rows.commit()
    } catch (error) {
      rows.rollBack()
      throw unwritable(this.path, error)
    }
    this.#saveNowAndThen()
  }

  #writing<Done>(change: () => Done): Done {
    this.#refuseReadOnly()
    const done = change()
    if (!this.#isStaged) this.#saveNowAndThen()
    return done
  }

  #refuseReadOnly(): void {
    if (this.#lock === null) throw new BookFileFault('in-use', `${this.path} was opened to be read.`)
  }

  /** Puts a revision into the journal. Where it cannot be written, it is told by throwing, and the workbook takes it back. */
  #keep(made: KeptRevision): void {
    if (this.#isLost) throw unwritable(this.path, new Error('what came before it could not be'))
    const { characters, isBulk } = this.#kept(made)
    this.#repeated++
    this.#repeatedText += isBulk ? MOST_REPEATED_TEXT : characters
  }

  #kept(made: KeptRevision): ReturnType<typeof keepRevision> {
    try {
      return keepRevision(this.#opened, made)
    } catch (error) {
      // A database in trouble may take back all that is staged; what comes after that must not be kept without it.
      this.#isLost = this.#isStaged && !this.#opened.database.inTransaction
      throw error
    }
  }

  /** Writes cells anew once there is much to repeat. Where that fails nothing is lost: the journal has it all. */
  #saveNowAndThen(): void {
    if (this.#repeated < MOST_REPEATED && this.#repeatedText < MOST_REPEATED_TEXT) return
    this.#tryToSave()
  }

  #tryToSave(): void {
    try {
      writeSnapshot(this.#opened, this.#workbook)
      this.#repeated = 0
      this.#repeatedText = 0
    } catch (error) {
      const fault = faultOfDatabase(error, this.path)
      if (!(fault instanceof BookFileFault) || fault.code !== 'unwritable') throw fault
      // Tried again when there is as much again to repeat.
      this.#repeated = 1
      this.#repeatedText = 0
    }
  }

  /** Bytes that the cells of each column take in the file, by id. */
  storedBytes(): ReadonlyMap<number, number> {
    const sizes = new Map<number, number>()
    for (const { owner, size } of this.#opened.parts.sizes()) {
      const column = Number(/^column:(\d+)/.exec(owner)?.[1] ?? Number.NaN)
      if (!Number.isNaN(column)) sizes.set(column, (sizes.get(column) ?? 0) + size)
    }
    return sizes
  }

  /** The answer that was kept under a key. */
  answerTo(key: string): KeptAnswer | undefined {
    this.#refuseReadOnly()
    return answerTo(this.#opened.database, key)
  }

  /**
   * Keeps an answer under a key; of calls that are staged it is in the file together with them.
   *
   * @param keptSince - answers from before are forgotten, in milliseconds since 1970
   * @throws BookFileFault when the file cannot be written
   */
  keepAnswer(key: string, answer: KeptAnswer, keptSince: number): void {
    this.#refuseReadOnly()
    try {
      const { rows } = this.#opened
      rows.alone(() => keepAnswer(rows, key, answer, keptSince))
    } catch (error) {
      throw unwritable(this.path, error)
    }
  }

  /** The steps of the history, oldest first. */
  *journal(): Generator<JournalEntry> {
    for (const row of this.#opened.journal.since(-1)) {
      const summary = JSON.parse(row.summary) as [string, string, number][]
      yield {
        revision: row.revision,
        kind: row.kind,
        ...(row.of !== null && { of: row.of }),
        at: row.at,
        author: row.author,
        operations: this.#opened.payloads.operationsIn(row, 'operations'),
        recalculated: summary.map(([table, column, rows]) => ({ table, column, rows })),
      }
    }
  }

  /** The operations that take a step back; none for a revision that there is not. */
  inverseOf(revision: number): Operation[] {
    const row = this.#opened.journal.at(revision)
    return row === undefined ? [] : this.#opened.payloads.operationsIn(row, 'inverse')
  }

  /** All rows of all tables, to be kept elsewhere. */
  *rows(): Generator<WrittenRow> {
    for (const [table, { columns }] of Object.entries(BOOK_TABLES) as [BookTable, { readonly columns: readonly string[] }][]) {
      const all = this.#opened.database.prepare(`SELECT ${columns.join(', ')} FROM ${table}`).iterate()
      for (const row of all as IterableIterator<Record<string, RowValue | ArrayBuffer>>)
        yield { table, row: columns.map((column) => rowValue(row[column])) }
    }
  }

  /**
   * Writes a consistent copy into another file, which must not be there.
   *
   * @throws BookFileFault when it cannot be written
   */
  copyTo(path: string): void {
    if (lstatSync(path, { throwIfNoEntry: false }) !== undefined) throw existing(path)
    try {
      // The database copies itself: opening the file once more and closing it would let go of its lock.
      this.#opened.database.prepare('VACUUM INTO ?').run(path)
    } catch (error) {
      throw unwritable(path, error)
    }
  }

  /**
   * Closes the file; what was answered is in it already.
   *
   * @throws BookFileFault where it turns out to be damaged
   */
  close(): void {
    const { database, rows } = this.#opened
    try {
      asking(this.path, () => {
        rows.rollBack()
        if (this.#lock !== null) this.#finish()
      })
    } finally {
      database.close()
      this.#lock?.release()
    }
  }

  /** Closes the file as it was last committed: what was staged since has not happened. */
  abandon(): void {
    const { database, rows } = this.#opened
    try {
      rows.rollBack()
    } finally {
      database.close()
      this.#lock?.release()
    }
  }

  /** Leaves the file so that the one who opens it next has nothing to repeat, and the one who copies it has all of it. */
  #finish(): void {
    const { database } = this.#opened
    if (this.#repeated > 0) this.#tryToSave()
    try {
      noteHolder(database, null)
      database.exec('PRAGMA wal_checkpoint(TRUNCATE)')
    } catch (error) {
      const fault = faultOfDatabase(error, this.path)
      // Where there is no room, the log beside the file has what is not in it yet.
      if (!(fault instanceof BookFileFault) || fault.code !== 'unwritable') throw fault
    }
  }
}

/**
 * Writes a consistent copy of a workbook file that others may be changing meanwhile into another file, which must not be there.
 *
 * @throws BookFileFault when it cannot be read, or the copy cannot be written
 */
export function copyBookFile(path: string, target: string): void {
  if (lstatSync(path, { throwIfNoEntry: false }) === undefined)
    throw new BookFileFault('missing', `there is no workbook ${path}.`)
  if (lstatSync(target, { throwIfNoEntry: false }) !== undefined) throw existing(target)
  let database: Database.Database | undefined
  try {
    database = openDatabase(realPath(path), false)
    upgradeSchema(database, path, false)
    database.prepare('VACUUM INTO ?').run(target)
  } catch (error) {
    throw faultOfDatabase(error, path)
  } finally {
    database?.close()
  }
}

/** Who writes a workbook, as far as can be told. */
function holderIn(path: string): string | null {
  let database: Database.Database | undefined
  try {
    database = openDatabase(path, false)
    return holderOf(database)
  } catch {
    // What is wrong with it is told to the one who opens it; here it only says nothing.
    return null
  } finally {
    database?.close()
  }
}

/** A value as it is written; bytes that are read one row after the other come without a view. */
function rowValue(read: RowValue | ArrayBuffer | undefined): RowValue {
  return read instanceof ArrayBuffer ? new Uint8Array(read) : (read ?? null)
}
