import { closeSync, createReadStream, openSync, readSync, statSync } from 'node:fs'
import { basename } from 'node:path'
import { type DeclaredType, type FileTable, isWrittenHere, ReadFault, readTable } from '@mellow-abacus/files'
import type { ReadingArguments } from '../options/index.js'
import { startBar } from '../output/index.js'
import type { Io } from '../shell/index.js'
import { readReason, UsageFault } from '../shell/index.js'
import { formatOfInput } from './input-format.js'
import { readingOptions } from './reading-options.js'

/** The name a file's table gets: the file's, without folder and ending; standard input is `input`. */
export function tableNameOf(path: string): string {
  return path === '-' ? 'input' : basename(path).replace(/\.[^.]+$/, '') || 'input'
}

/**
 * Reads the file of a command.
 *
 * @throws UsageFault naming the file, and the line where it is known
 */
export async function loadFile(
  path: string,
  args: ReadingArguments,
  zone: string,
  io: Io,
  formerTypes: ReadonlyMap<string, DeclaredType> = new Map(),
): Promise<FileTable> {
  if (path !== '-') refuseWorkbook(path)
  const options = { ...readingOptions(args, zone), formerTypes }
  const shown = path === '-' ? 'standard input' : path
  const size = path === '-' ? 0 : fileSize(path)
  const bar = await startBar({ verb: 'reading', total: size, unit: 'bytes' }, io)
  try {
    const bytes = path === '-' ? io.input : (createReadStream(path, { highWaterMark: CHUNK_BYTES }) as AsyncIterable<Uint8Array>)
    return await readTable(bytes, formatOfInput(args.from, path), { ...options, onProgress: bar.update })
  } catch (error) {
    if (error instanceof ReadFault) throw new UsageFault(`${shown}: ${error.message}`)
    if ((error as NodeJS.ErrnoException).syscall !== undefined) throw new UsageFault(`cannot read ${shown}: ${readReason(error)}`)
    throw error
  } finally {
    bar.stop()
  }
}

/** What a database file begins with (SQLite, "Database File Format"). */
const DATABASE = 'SQLite format 3\0'

/** A workbook is no file of rows; one that this process has open is not even looked into. */
function refuseWorkbook(path: string): void {
  const isOpen = isWrittenHere(path)
  if (!isOpen && statSync(path, { throwIfNoEntry: false })?.isFile() !== true) return
  if (!isOpen && startOf(path) !== DATABASE) return
  const book = path.replace(/\.mellow$/, '')
  throw new UsageFault(
    `${path} is a workbook, not a file of rows. To look at it: mellow show ${book}. To take rows out: mellow export ${book} <table> -o rows.csv`,
  )
}

function startOf(path: string): string {
  let file: number | undefined
  try {
    file = openSync(path, 'r')
    const start = Buffer.alloc(DATABASE.length)
    readSync(file, start, 0, start.length, 0)
    return start.toString('latin1')
  } catch (error) {
    throw new UsageFault(`cannot read ${path}: ${readReason(error)}`)
  } finally {
    if (file !== undefined) closeSync(file)
  }
}

/** Bytes read from a file at a time. */
const CHUNK_BYTES = 1 << 16

function fileSize(path: string): number {
  try {
    const found = statSync(path)
    if (!found.isDirectory()) return found.size
  } catch (error) {
    throw new UsageFault(`cannot read ${path}: ${readReason(error)}`)
  }
  throw new UsageFault(`cannot read ${path}: it is a folder.`)
}

/** A further table of a command: `hives=hives.csv`. */
export interface FurtherTable {
  readonly table: string
  readonly path: string
}

/**
 * Takes `table=file` apart.
 *
 * @throws UsageFault
 */
export function furtherTable(text: string): FurtherTable {
  const at = text.indexOf('=')
  const [table, path] = [text.slice(0, at).trim(), text.slice(at + 1).trim()]
  if (at < 0 || table === '' || path === '')
    throw new UsageFault(`--with expects table=file, such as hives=hives.csv, not "${text}"`)
  return { table, path }
}

/** The types given for one table: `hives.since=date` for that table, without a table for the main one. */
export function typesOf(types: readonly string[], table: string, isMain: boolean): string[] {
  return types.flatMap((text) => {
    const own = text.startsWith(`${table}.`) ? text.slice(table.length + 1) : null
    if (own !== null) return [own]
    return isMain && !/^[^=]*\./.test(text) ? [text] : []
  })
}
