import { realpathSync, statSync } from 'node:fs'
import { hostname } from 'node:os'
import { basename, dirname, join } from 'node:path'
import Database from 'libsql'
import { BookFileFault } from './book-file-fault.js'
import { userName } from './user-name.js'

/** Milliseconds that someone who wants to write waits for the one who does, unless said. */
export const WRITE_WAIT_MS = 10_000

/**
 * Workbooks that this process writes, by their real paths. Locks of files belong to processes (POSIX, fcntl), not to who asks
 * for them, so this is the one thing that is known of a whole process.
 */
const written = new Set<string>()

/** The one path of a file, whichever links lead to it; of one that is yet to be made too. */
export function realPath(path: string): string {
  try {
    return realpathSync(path)
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw faultOfPath(error, path)
  }
  try {
    return join(realpathSync(dirname(path)), basename(path))
  } catch (error) {
    throw faultOfPath(error, path)
  }
}

function faultOfPath(error: unknown, path: string): BookFileFault {
  const { code, message } = error as NodeJS.ErrnoException
  const reason =
    code === 'ENOENT' || code === 'ENOTDIR'
      ? `there is no folder ${dirname(path)}`
      : code === 'EACCES'
        ? 'its folder may not be looked into'
        : message
  return new BookFileFault(
    code === 'ENOENT' || code === 'ENOTDIR' ? 'missing' : 'unwritable',
    `cannot use ${path}: ${reason}.`,
    error,
  )
}

/**
 * Holds the right to write a workbook for as long as it is open. What locks is an open transaction in a file beside the
 * workbook, which the system takes back however the process ends. That file is never removed: who has it open already and who
 * comes next must have the same one.
 */
export class WriterLock {
  readonly #path: string
  readonly #database: Database.Database

  /**
   * @param path - the real path of the workbook
   * @param waitMs - how long to wait for someone who writes
   * @param holder - who that is, as far as the workbook says
   * @throws BookFileFault when someone writes for longer, or nothing can be written there
   */
  constructor(path: string, waitMs: number, holder: () => string | null) {
    this.#path = path
    if (written.has(path)) throw heldFault(path, 'this process', 0)
    let database: Database.Database | undefined
    try {
      database = new Database(`${path}-writer`)
      database.exec(`PRAGMA busy_timeout = ${Math.round(waitMs)}; BEGIN EXCLUSIVE`)
      this.#database = database
    } catch (error) {
      database?.close()
      if ((error as { code?: unknown }).code === 'SQLITE_BUSY') throw heldFault(path, holder(), waitMs, error)
      throw new BookFileFault('unwritable', `${path} cannot be written: nothing can be written beside it. ${LOOKING}`, error)
    }
    written.add(path)
  }

  release(): void {
    this.#database.exec('ROLLBACK')
    this.#database.close()
    written.delete(this.#path)
  }
}

const LOOKING = 'Looking is possible: mellow show.'

function heldFault(path: string, holder: string | null, waitMs: number, cause?: unknown): BookFileFault {
  const waited = waitMs > 0 ? ` Waited ${(waitMs / 1000).toLocaleString('en')} seconds for it.` : ''
  return new BookFileFault(
    'in-use',
    `${path} is held by ${holder ?? 'another process'}, which changes it; one writes at a time.${waited} Try again when it is done. ${LOOKING}`,
    cause,
  )
}

/** Who this is, for others who want to write. */
export function thisWriter(): string {
  const since = new Date().toISOString().slice(0, 19)
  return `process ${process.pid} of ${userName()} on ${hostname()}, since ${since}Z`
}

/** True for a file that belongs to a workbook which this process writes: opening it otherwise would give up the lock on it. */
export function isWrittenHere(path: string): boolean {
  const found = statSync(path, { throwIfNoEntry: false })
  if (found === undefined) return false
  const isSame = (other: string): boolean => {
    const own = statSync(other, { throwIfNoEntry: false })
    return own !== undefined && own.ino === found.ino && own.dev === found.dev
  }
  return [...written].some((book) => ['', '-wal', '-shm', '-writer'].some((part) => isSame(book + part)))
}
