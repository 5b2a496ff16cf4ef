import { statSync } from 'node:fs'
import { pathToFileURL } from 'node:url'
import Database from 'libsql'
import { BookFileFault } from './book-file-fault.js'

/** Milliseconds that a look at a workbook waits for someone who puts its file in order. */
const LOOK_WAIT_MS = 10_000

/**
 * Opens the database of a workbook. Everything that is asked of the file is asked through the database: the one who opens and closes
 * the file otherwise drops the locks that the whole process has on it (POSIX, fcntl).
 *
 * @throws BookFileFault when there is none, it is something else, or it may not be read
 */
export function openDatabase(path: string, writes: boolean): Database.Database {
  const found = statSync(path, { throwIfNoEntry: false })
  if (found === undefined) throw new BookFileFault('missing', `there is no workbook ${path}.`)
  if (!found.isFile())
    throw new BookFileFault(
      'not-a-workbook',
      `${path} is no workbook: it is ${found.isDirectory() ? 'a folder' : 'no plain file'}.`,
    )
  const database = new Database(path)
  try {
    database.exec(`PRAGMA busy_timeout = ${LOOK_WAIT_MS}`)
    if (writes) database.exec('PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL')
    else database.prepare('SELECT 1 FROM sqlite_schema').get()
    refuseCutShort(database, path)
    return database
  } catch (error) {
    database.close()
    if (!writes && isUnwritable(error)) return openUnchanging(path)
    throw error
  }
}

/**
 * Makes a database. It has no log of writes, nor an index of one, until it is opened to be written: those go by the file itself,
 * and would stay those of its first name when it gets another while this connection is not finalized yet.
 */
export function makeDatabase(path: string): Database.Database {
  const database = new Database(path)
  database.exec('PRAGMA journal_mode = DELETE; PRAGMA synchronous = FULL')
  return database
}

/**
 * Opens a file that cannot be written, nor a log of reads be put beside it: on a medium or in a folder that are only read.
 * No one has it open to write then, or there would be a log; so it is taken for one that does not change.
 */
function openUnchanging(path: string): Database.Database {
  const database = new Database(`${pathToFileURL(path).href}?immutable=1`)
  try {
    refuseCutShort(database, path)
    return database
  } catch (error) {
    database.close()
    throw error
  }
}

function isUnwritable(error: unknown): boolean {
  const { code, rawCode } = error as { code?: unknown; rawCode?: unknown }
  // The lowest byte is the kind of an extended code: 8 is SQLITE_READONLY, 14 SQLITE_CANTOPEN (SQLite, "Result and error codes").
  const kind = typeof rawCode === 'number' ? rawCode & 0xff : Number(/_ERROR_(\d+)$/.exec(String(code))?.[1] ?? 0) & 0xff
  return kind === 8 || kind === 14
}

/**
 * Refuses a file that ends within its last page; where pages are missing altogether the database notices itself. Beside a log
 * of writes that are yet to be taken over, pages may well be missing.
 */
function refuseCutShort(database: Database.Database, path: string): void {
  const logged = statSync(`${path}-wal`, { throwIfNoEntry: false })?.size ?? 0
  if (logged > 0) return
  const bytes = pragma(database, 'page_count') * pragma(database, 'page_size')
  const size = statSync(path).size
  if (size < bytes) throw new BookFileFault('damaged', `${path} is damaged: it ends after ${size} of ${bytes} bytes.`)
}

/** A number that the database says of itself. */
export function pragma(database: Database.Database, name: string): number {
  const row = database.prepare(`PRAGMA ${name}`).get() as Record<string, number>
  return row[name] ?? 0
}
