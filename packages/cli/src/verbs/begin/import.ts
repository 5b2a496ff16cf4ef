import { existsSync, readFileSync, rmSync } from 'node:fs'
import { resolve } from 'node:path'
import { BookFile, type FileTable, type ReadBundle, ReadFault, readBundle } from '@mellow-abacus/files'
import { printName } from 'mellow-abacus'
import { bookPath, change, counted, lookAt } from '../../books/index.js'
import { fileOperations, loadFile, tableNameOf } from '../../input/load.js'
import { readReason } from '../../input/read-reason.js'
import { surroundings } from '../../options/reading-options.js'
import { findingText } from '../../terminal/findings.js'
import type { Io } from '../../terminal/io.js'
import { makePaint } from '../../terminal/paint.js'
import { ExitCode, UsageFault } from '../../terminal/usage.js'
import { splitNames } from '../calc/names.js'
import type { ImportArguments } from './commands.js'
import { readingSource } from './reading-source.js'

/** Runs `mellow import`: a table from a file, in a workbook that is made if there is none. */
export async function runImport(book: string, file: string, args: ImportArguments, io: Io): Promise<number> {
  if (file.toLowerCase().endsWith('.zip') && args.from === undefined) return importBundle(book, file, args, io)
  const path = bookPath(book)
  const isNew = !existsSync(path)
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
  if (isNew && args.preview !== true) BookFile.create(path, around).close()
  const table = args.table ?? tableNameOf(file)
  const source = file === '-' ? null : { file: resolve(file), options: readingSource(args) }
  let isDone = false
  try {
    const exitCode = await change(book, args, io, () => [
      ...fileOperations(table, read),
      {
        op: 'change-table',
        table,
        set: {
          source,
          ...(args.label !== undefined && { label: args.label }),
          ...(args.key !== undefined && { key: splitNames(args.key) }),
        },
      },
    ])
    isDone = exitCode === ExitCode.done
    if (isDone && args.findings !== 'json') io.err(readingReport(table, file, read, io))
    return exitCode
  } finally {
    // A workbook that was made for nothing goes again.
    if (isNew && !isDone) for (const end of ['', '-wal', '-shm']) rmSync(path + end, { force: true })
  }
}

/** Makes a workbook of a bundle. */
async function importBundle(book: string, file: string, args: ImportArguments, io: Io): Promise<number> {
  const path = bookPath(book)
  if (existsSync(path)) throw new UsageFault(`a bundle makes a workbook of its own, and ${path} is there already.`)
  if (args.preview === true) throw new UsageFault('a bundle makes a new workbook, so there is nothing to preview.')
  const { operations, surroundings: around } = await loadBundle(file)
  BookFile.create(path, around).close()
  let exitCode: number = ExitCode.refused
  try {
    exitCode = await change(book, args, io, () => operations)
    return exitCode
  } finally {
    if (exitCode !== ExitCode.done) for (const end of ['', '-wal', '-shm']) rmSync(path + end, { force: true })
  }
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
function readingReport(table: string, file: string, read: FileTable, io: Io): string {
  const paint = makePaint(io.colours)
  const lines = read.columns.map(({ name, column, declared }) => {
    const type = column === null ? 'no type yet: it has no values' : `${column.type}${declared ? ', as said' : ''}`
    const misfits = column === null ? 0 : column.faultCount()
    const sample =
      misfits === 0
        ? ''
        : `; ${counted(misfits, 'cell')} that do not fit, such as ${JSON.stringify(column?.sampleMisfit() ?? '')}`
    const blanks = column === null || column.blankCount === 0 ? '' : `; ${counted(column.blankCount, 'blank')}`
    return `  ${printName(name)}: ${type}${blanks}${sample}\n`
  })
  const remarks = read.findings.map((one) => findingText(one, file, undefined, paint))
  return `${printName(table)}: ${counted(read.rowCount, 'row')} read from ${file}\n${lines.join('')}${remarks.join('')}`
}
