import { existsSync, readFileSync } from 'node:fs'
import { resolve } from 'node:path'
import { type FileTable, type ReadBundle, ReadFault, readBundle, tableOperations } from '@mellow-abacus/files'
import { counted, isSameName, type Operation, printName, splitNames } from 'mellow-abacus'
import { bookPath, change, isAtServer, isUrl, lookAt, makeBook } from '../../books/index.js'
import type { ChangeArguments, ReadingArguments, SurroundingArguments } from '../../options/index.js'
import { findingText } from '../../output/index.js'
import { loadFile, readingSource, surroundings, tableNameOf } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { ExitCode, makePaint, readReason, UsageFault } from '../../shell/index.js'

/** What `mellow import` is told. */
export interface ImportArguments extends ChangeArguments, ReadingArguments, SurroundingArguments {
  readonly table?: string
  readonly label?: string
  readonly key?: string
}

/** Runs `mellow import`: a table from a file, in a workbook that is made if there is none. */
export async function runImport(book: string, file: string, args: ImportArguments, io: Io): Promise<number> {
  if (file.toLowerCase().endsWith('.zip') && args.from === undefined) return importBundle(book, file, args, io)
  const path = isUrl(book) ? book : bookPath(book)
  const isNew = !(await isThere(path))
  const around = surroundings(args)
  let zone = around.zone
  if (!isNew) {
    const opened = await lookAt(book, args, io, (held) => {
      zone = held.book.surroundings.zone
      return undefined
    })
    if (opened !== ExitCode.done) return opened
  }
  // The whole file is read before anything is made.
  const read = await loadFile(file, args, zone, io)
  const table = args.table ?? tableNameOf(file)
  const key = args.key === undefined ? [] : splitNames(args.key)
  const columns = read.columns.map(({ name }) => name)
  const source = file === '-' ? null : { file: resolve(file), options: readingSource(args), columns }
  const operations: Operation[] = [
    ...tableOperations(table, read),
    {
      op: 'change-table',
      table,
      set: { source, ...(args.label !== undefined && { label: args.label }), ...(key.length > 0 && { key }) },
    },
  ]
  const isTold = args.findings !== 'json'
  if (isNew && args.preview === true) {
    io.show(`${path} would be made, with the table ${printName(table)}.\n`)
    if (isTold) io.err(readingReport(table, file, read, key, io))
    return ExitCode.done
  }
  const exitCode = isNew ? await makeBook(path, around, operations, args, io) : await change(book, args, io, () => operations)
  if (exitCode === ExitCode.done && isTold) io.err(readingReport(table, file, read, key, io))
  return exitCode
}

async function isThere(path: string): Promise<boolean> {
  return isUrl(path) ? isAtServer(path) : existsSync(path)
}

/** Makes a workbook of a bundle. */
async function importBundle(book: string, file: string, args: ImportArguments, io: Io): Promise<number> {
  const path = isUrl(book) ? book : bookPath(book)
  if (await isThere(path)) throw new UsageFault(`a bundle makes a workbook of its own, and ${path} is there already.`)
  if (args.preview === true) throw new UsageFault('a bundle makes a new workbook, so there is nothing to preview.')
  const { operations, surroundings: around } = await loadBundle(file)
  return makeBook(path, around, operations, args, io)
}

async function loadBundle(file: string): Promise<ReadBundle> {
  try {
    return await readBundle(readFileSync(file))
  } catch (error) {
    if (error instanceof ReadFault) throw new UsageFault(`${file}: ${error.message}`)
    if ((error as NodeJS.ErrnoException).syscall !== undefined) throw new UsageFault(`cannot read ${file}: ${readReason(error)}`)
    throw error
  }
}

/** What was read: rows, the type of each column and what does not fit it. */
function readingReport(table: string, file: string, read: FileTable, key: readonly string[], io: Io): string {
  const paint = makePaint(io.colours)
  const lines = read.columns.map(({ name, column, declared, reason }) => {
    const type =
      column === null
        ? 'no type yet: it has no values'
        : `${column.type}${declared ? ', as said' : reason === null ? '' : ` (${reason})`}`
    const misfits = column === null ? 0 : column.faultCount()
    const sample =
      misfits === 0
        ? ''
        : `; ${counted(misfits, 'cell')} that ${misfits === 1 ? 'does' : 'do'} not fit, such as ${JSON.stringify(column?.sampleMisfit() ?? '')}`
    const blanks = column === null || column.blankCount === 0 ? '' : `; ${counted(column.blankCount, 'blank')}`
    return `  ${printName(name)}: ${type}${blanks}${sample}\n`
  })
  const shared = key.length === 0 ? 0 : sharedKeys(read, key)
  if (shared > 0)
    lines.push(`  key ${key.map(printName).join(', ')}: ${counted(shared, 'row')} with a key that another row has too\n`)
  const remarks = read.findings.map((one) => findingText(one, file, undefined, paint))
  return `${printName(table)}: ${counted(read.rowCount, 'row')} read from ${file}\n${lines.join('')}${remarks.join('')}`
}

/** How many rows share their key with another one. */
function sharedKeys({ columns, rowCount }: FileTable, key: readonly string[]): number {
  const parts = key.map((name) => columns.find((one) => isSameName(one.name, name))?.column)
  const counts = new Map<string, number>()
  for (let row = 0; row < rowCount; row++) {
    const text = JSON.stringify(parts.map((column) => column?.read(row) ?? null))
    counts.set(text, (counts.get(text) ?? 0) + 1)
  }
  return [...counts.values()].reduce((sum, count) => sum + (count > 1 ? count : 0), 0)
}
