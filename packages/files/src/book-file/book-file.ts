import { linkSync, lstatSync, renameSync, rmSync } from 'node:fs'
import type Database from 'libsql'
import {
  type ApplyOptions,
  BookReader,
  type ChangeSet,
  type GivenSurroundings,
  type KeptRevision,
  type Operation,
  type ReaderOptions,
  Workbook,
  type WorkbookView,
} from 'mellow-abacus'
import { asking, BookFileFault, faultOfDatabase } from './book-file-fault.js'
import { textOfOperations } from './carried-operations.js'
import { numberBytes } from './chunk-bytes.js'
import type { JournalEntry } from './journal-entry.js'
import { answerTo, type KeptAnswer, keepAnswer } from './kept-answers.js'
import { inTransaction, makeDatabase, openDatabase } from './open-database.js'
import { checksumOf, columnOwner, marksOwner, orderOwner } from './parts.js'
import { type OpenedFile, openedFile, readBook } from './read-book.js'
import { withSalvage } from './salvage.js'
import { createSchema, holderOf, noteHolder, upgradeSchema } from './schema.js'
import { realPath, thisWriter, WRITE_WAIT_MS, WriterLock } from './writer-lock.js'

/** How a workbook file is made. */
export interface CreateOptions extends Omit<OpenOptions, 'writes'> {
  /** First steps, which belong to the making: where one is refused, there is no file. */
  readonly begin?: (workbook: Pick<Workbook, 'apply' | 'applyJson' | 'table' | 'check'>) => void
}

/** How a workbook file is opened. */
export interface OpenOptions {
  /** Whether it is to be changed, false when left out; one process changes a workbook at a time, and any number look at it meanwhile. */
  readonly writes?: boolean
  /** Milliseconds to wait for another process that changes it, 10 000 unless given. */
  readonly waitMs?: number
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
  static open(path: string, { writes = false, waitMs = WRITE_WAIT_MS }: OpenOptions = {}): BookFile {
    if (lstatSync(path, { throwIfNoEntry: false }) === undefined)
      throw new BookFileFault('missing', `there is no workbook ${path}.`)
    const real = realPath(path)
    const lock = writes ? new WriterLock(real, waitMs, () => holderIn(real)) : null
    try {
      return BookFile.#openLocked(path, real, lock)
    } catch (error) {
      lock?.release()
      throw error
    }
  }

  /** Opens a file that is locked already, where it is to be written: so what is read is what the last writer left. */
  static #openLocked(path: string, real: string, lock: WriterLock | null): BookFile {
    let database: Database.Database | undefined
    try {
      database = openDatabase(real, lock !== null)
      upgradeSchema(database, path, lock !== null)
      if (lock !== null) noteHolder(database, thisWriter())
      // One state of the file is read throughout, no matter who writes meanwhile.
      else database.exec('BEGIN')
      return new BookFile(path, openedFile(database, path), lock)
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
      this.#opened.database.exec('BEGIN IMMEDIATE')
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
    const { database } = this.#opened
    try {
      database.exec('COMMIT')
    } catch (error) {
      if (database.inTransaction) database.exec('ROLLBACK')
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
      keepAnswer(this.#opened.database, key, answer, keptSince)
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
    const { database } = this.#opened
    try {
      asking(this.path, () => {
        if (database.inTransaction) database.exec('ROLLBACK')
        if (this.#lock !== null) this.#finish()
      })
    } finally {
      database.close()
      this.#lock?.release()
    }
  }

  /** Closes the file as it was last committed: what was staged since has not happened. */
  abandon(): void {
    const { database } = this.#opened
    try {
      if (database.inTransaction) database.exec('ROLLBACK')
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

/** Writes a revision into the journal. */
function keepRevision(
  { path, database, journal, payloads }: OpenedFile,
  { kind, change, of }: KeptRevision,
): { characters: number; isBulk: boolean } {
  const forth = textOfOperations(change.operations)
  const back = textOfOperations(change.inverse)
  const summary = JSON.stringify(change.recalculated.map(({ table, column, rows }) => [table, column, rows]))
  const { revision, at, author } = change
  const row = { revision, kind, at: at ?? '', author: author ?? '', summary, of: of ?? null }
  const add = (): void => journal.add({ ...row, operations: forth.text, inverse: back.text })
  const isBulk = forth.payloads.length + back.payloads.length > 0
  try {
    // One row is written as a whole by itself.
    if (!isBulk) add()
    else
      inTransaction(database, () => {
        add()
        payloads.add(revision, 'operations', forth.payloads)
        payloads.add(revision, 'inverse', back.payloads)
      })
  } catch (error) {
    throw unwritable(path, error)
  }
  return { characters: forth.text.length, isBulk: forth.payloads.length > 0 }
}

function unwritable(path: string, error: unknown): BookFileFault {
  const reason = (error as Error).message
  return new BookFileFault('unwritable', `${path} cannot be written: ${reason}. It is as it was before this step.`, error)
}

function existing(path: string): BookFileFault {
  return new BookFileFault('exists', `${path} exists already.`)
}

/** Makes a whole workbook file under another name, and gives it its own in one step. */
function makeFile(path: string, surroundings: GivenSurroundings, begin: CreateOptions['begin']): void {
  const made = `${path}-new`
  const forget = (): void => {
    for (const part of ['', '-journal']) rmSync(made + part, { force: true })
  }
  // Who holds the lock is the only one who makes it; one that is there is of someone who was killed.
  forget()
  try {
    const database = makeDatabase(made)
    try {
      createSchema(database)
      const opened = openedFile(database, path)
      writeSnapshot(opened, new Workbook(surroundings))
      if (begin !== undefined) {
        const { workbook } = readBook(opened, (made) => keepRevision(opened, made))
        begin(workbook)
        writeSnapshot(opened, workbook)
      }
    } finally {
      database.close()
    }
    giveName(made, path)
  } finally {
    forget()
  }
}

function giveName(made: string, path: string): void {
  try {
    linkSync(made, path)
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException
    if (code === 'EEXIST') throw existing(path)
    // Some file systems have no links; there the lock alone keeps others of this tool away.
    renameSync(made, path)
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

/** Writes the cells that have changed since they were last written, so that opening has nothing to repeat. */
function writeSnapshot({ database, parts }: OpenedFile, workbook: Workbook): void {
  const taken = workbook.snapshot()
  inTransaction(database, () => {
    for (const { column, chunks, side, marks, replacesCells, replacesMarks } of taken.unsaved) {
      if (replacesCells) parts.drop(columnOwner(column))
      if (replacesMarks) parts.drop(marksOwner(column))
      if (replacesCells || chunks.length > 0) parts.writeCells(columnOwner(column), chunks, side)
      for (const [block, bytes] of marks) parts.write(marksOwner(column), block, bytes)
    }
    for (const [table, order] of taken.orders) parts.write(orderOwner(table), 0, numberBytes(order))
    for (const owner of parts.owners()) {
      const column = /^(?:column|marks):(\d+)/.exec(owner)?.[1]
      if (column !== undefined && !taken.columns.has(Number(column))) parts.drop(owner)
    }
    const snapshot = JSON.stringify(taken.snapshot)
    database
      .prepare('INSERT OR REPLACE INTO snapshot (one, revision, image, seal) VALUES (1, ?, ?, ?)')
      .run(workbook.revision, snapshot, checksumOf(snapshot))
  })
  taken.markSaved()
}
