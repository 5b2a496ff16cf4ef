import {
  closeSync,
  fchmodSync,
  fchownSync,
  fsyncSync,
  openSync,
  readlinkSync,
  readSync,
  realpathSync,
  renameSync,
  rmSync,
  type Stats,
  statSync,
  writeSync,
} from 'node:fs'
import { basename, dirname, join, resolve } from 'node:path'
import { isWrittenHere } from '@mellow-abacus/files'
import { CommandRefusal, UsageFault } from '../shell/index.js'

/** Refuses early to write where nothing can be written, or over a workbook. To be asked before a workbook is opened. */
export function refuseBadPath(path: string): void {
  const folder = dirname(path)
  const found = statSync(folder, { throwIfNoEntry: false })
  if (found === undefined || !found.isDirectory()) throw new UsageFault(`cannot write ${path}: there is no folder ${folder}.`)
  const target = statSync(path, { throwIfNoEntry: false })
  if (target?.isDirectory() === true) throw new UsageFault(`cannot write ${path}: it is a folder.`)
  if (target?.isFile() === true && isOfWorkbook(path))
    throw new CommandRefusal(`${path} is a workbook, or belongs to one; it is not written over. Name another file.`)
}

/** What a database file begins with (SQLite, "Database File Format"). */
const DATABASE = 'SQLite format 3\0'

function isOfWorkbook(path: string): boolean {
  if (isWrittenHere(path)) return true
  const real = realpathSync(path)
  const book = real.replace(/-(wal|shm|writer|new)$/, '')
  if (book !== real && statSync(book, { throwIfNoEntry: false })?.isFile() === true) return true
  let file: number | undefined
  try {
    file = openSync(path, 'r')
    const start = Buffer.alloc(DATABASE.length)
    readSync(file, start, 0, start.length, 0)
    return start.toString('latin1') === DATABASE
  } catch {
    // One that may not be read is no workbook of this user; whether it can be replaced is seen when it is.
    return false
  } finally {
    if (file !== undefined) closeSync(file)
  }
}

/**
 * Writes a file that is replaced in one step when all of it is there: readers see the old file or the new one, and a failure
 * leaves the old one. It keeps its mode and owner; a link goes on leading to it. What is no plain file, a pipe or a device, is
 * written to as it comes.
 */
export async function replaceFile(
  path: string,
  write: (sink: (text: string | Uint8Array) => void) => Promise<void>,
): Promise<void> {
  const target = behindLinks(path)
  const former = statSync(target, { throwIfNoEntry: false })
  if (former !== undefined && !former.isFile()) return writeThrough(path, target, write)
  const temporary = join(dirname(target), `.${basename(target)}.${process.pid}.${Date.now().toString(36)}.part`)
  let file = openFor(path, temporary, 'wx')
  try {
    if (former !== undefined) takeAfter(file, former)
    await write((text) => writeAll(path, file, text))
    fsyncSync(file)
    closeSync(file)
    file = -1
    renameSync(temporary, target)
  } catch (error) {
    if (file >= 0) closeSync(file)
    rmSync(temporary, { force: true })
    throw error
  }
}

async function writeThrough(
  path: string,
  target: string,
  write: (sink: (text: string | Uint8Array) => void) => Promise<void>,
): Promise<void> {
  const file = openFor(path, target, 'w')
  try {
    await write((text) => writeAll(path, file, text))
  } finally {
    closeSync(file)
  }
}

/** The file that a path leads to over links, which may be yet to be made. */
function behindLinks(path: string): string {
  try {
    return realpathSync(path)
  } catch {
    try {
      return resolve(dirname(path), readlinkSync(path))
    } catch {
      // No link, and nothing there: the path itself.
      return path
    }
  }
}

function openFor(path: string, target: string, flags: 'w' | 'wx'): number {
  try {
    return openSync(target, flags)
  } catch (error) {
    throw new UsageFault(`cannot write ${path}: ${writeReason(error)}`)
  }
}

/** Gives a file the mode and owner of the one that it is to replace. */
function takeAfter(file: number, { mode, uid, gid }: Stats): void {
  fchmodSync(file, mode & 0o7777)
  try {
    fchownSync(file, uid, gid)
  } catch {
    // Only the superuser gives files away; anybody else is their owner already, or may replace them all the same.
  }
}

function writeAll(path: string, file: number, text: string | Uint8Array): void {
  const bytes = typeof text === 'string' ? Buffer.from(text, 'utf8') : text
  let written = 0
  try {
    while (written < bytes.length) written += writeSync(file, bytes, written)
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EPIPE') process.exit(0)
    throw new UsageFault(`cannot write ${path}: ${writeReason(error)}`)
  }
}

/** Why something cannot be written, in plain words. */
function writeReason(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException
  const reasons: Readonly<Record<string, string>> = {
    EACCES: 'nothing may be written there.',
    EPERM: 'nothing may be written there.',
    EROFS: 'nothing can be written there: it is only read.',
    ENOSPC: 'there is no room left.',
    EFBIG: 'it would be larger than a file may be.',
    EDQUOT: 'there is no room left for this user.',
    ENOENT: 'there is no such folder.',
    ENAMETOOLONG: 'its name is too long.',
  }
  return reasons[code ?? ''] ?? `${message}.`
}
