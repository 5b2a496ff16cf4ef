import { existsSync } from 'node:fs'
import { createInterface } from 'node:readline'
import { Readable } from 'node:stream'
import { setTimeout as wait } from 'node:timers/promises'
import { BookFile, type FileTable } from '@mellow-abacus/files'
import type { OperationInput } from 'mellow-abacus'
import { bookPath, counted, operationsPhrase, stamp, withBook } from '../../books/index.js'
import { furtherTable, loadFile } from '../../input/load.js'
import type { Io } from '../../terminal/io.js'
import { UsageFault } from '../../terminal/usage.js'
import type { ReplayArguments } from './commands.js'
import { type OperationLine, operationLines } from './operation-lines.js'

/** Runs `mellow replay`: the whole journal is read before the first step is taken. */
export async function runReplay(path: string, book: string, args: ReplayArguments, io: Io): Promise<number> {
  const pace = args.pace === undefined ? 0 : Number(args.pace)
  if (!(pace >= 0)) throw new UsageFault(`--pace takes seconds, not ${JSON.stringify(args.pace)}.`)
  const sources = new Map<string, FileTable>()
  for (const text of args.source) {
    const { table, path: file } = furtherTable(text)
    sources.set(table, await loadFile(file, args, 'UTC', io))
  }
  const lines: OperationLine[] = []
  for await (const line of operationLines(path, io)) lines.push(line)
  const target = bookPath(book)
  if (!existsSync(target)) BookFile.create(target).close()
  return withBook(book, true, args, io, async (file) => {
    const keys = args.step === true ? createInterface({ input: Readable.from(io.input) }) : null
    const presses = keys?.[Symbol.asyncIterator]()
    let done = 0
    for (const { kind, operations, author, at } of lines) {
      if (presses !== undefined) {
        io.err(`next: ${kind === 'apply' ? operationsPhrase(operations as never) : kind} (Enter)`)
        if ((await presses.next()).done === true) {
          io.err('\n')
          break
        }
      }
      const given = { ...(author !== undefined && { author }), ...(at !== undefined && { at }) }
      const options = { ...stamp(file.book, args), ...given }
      const change =
        kind === 'undo'
          ? file.undo(options)
          : kind === 'redo'
            ? file.redo(options)
            : file.apply(
                operations.flatMap((one) => withSource(one, sources)),
                options,
              )
      done++
      await io.out(`${change?.revision ?? file.book.revision}\n`)
      if (pace > 0) await wait(pace * 1000)
    }
    keys?.close()
    const unused = [...sources.keys()]
    if (done === lines.length && unused.length > 0) throw new UsageFault(`the journal reads no rows into ${unused.join(', ')}.`)
    io.err(
      done === lines.length ? `${counted(done, 'step')} replayed\n` : `${done} of ${counted(lines.length, 'step')} replayed\n`,
    )
    return undefined
  })
}

/** The first rows of a table from another file; columns that the file has not stay blank, those that are new come along. */
function withSource(operation: OperationInput, sources: Map<string, FileTable>): OperationInput[] {
  const { op, table } = operation as { readonly op: string; readonly table?: string }
  const read = table === undefined ? undefined : sources.get(table)
  if (read === undefined || table === undefined || op !== 'insert-rows') return [operation]
  sources.delete(table)
  const block = Object.fromEntries(read.columns.flatMap(({ name, column }) => (column === null ? [] : [[name, column]])))
  return [{ op: 'insert-rows', table, block, count: read.rowCount }]
}
