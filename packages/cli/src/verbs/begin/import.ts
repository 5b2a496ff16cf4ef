import { existsSync, rmSync } from 'node:fs'
import { resolve } from 'node:path'
import { BookFile, type FileTable } from '@mellow-abacus/files'
import { printName } from 'mellow-abacus'
import { bookPath, change, counted, lookAt } from '../../books/index.js'
import { fileOperations, loadFile, tableNameOf } from '../../input/load.js'
import { surroundings } from '../../options/reading-options.js'
import { findingText } from '../../terminal/findings.js'
import type { Io } from '../../terminal/io.js'
import { makePaint } from '../../terminal/paint.js'
import { ExitCode } from '../../terminal/usage.js'
import { splitNames } from '../calc/names.js'
import type { ImportArguments } from './commands.js'
import { readingSource } from './reading-source.js'

/** Runs `mellow import`: a table from a file, in a workbook that is made if there is none. */
export async function runImport(book: string, file: string, args: ImportArguments, io: Io): Promise<number> {
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
