import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { basename, join } from 'node:path'
import { createInterface } from 'node:readline'
import { Readable } from 'node:stream'
import { setTimeout as wait } from 'node:timers/promises'
import { BookFile, type FileTable, rowsOfFile } from '@mellow-abacus/files'
import { operationsPhrase } from '@mellow-abacus/host'
import type { Operation, OperationJson, Workbook } from 'mellow-abacus'
import { counted } from 'mellow-abacus'
import { bookPath, followedText, isUrl, stamp, withFile } from '../../books/index.js'
import type { ChangeArguments, ReadingArguments } from '../../options/index.js'
import { furtherTable, loadFile } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { ExitCode, makePaint, UsageFault } from '../../shell/index.js'
import { type OperationLine, operationLines } from './operation-lines.js'

/** What `mellow replay` is told. */
export interface ReplayArguments extends ChangeArguments, ReadingArguments {
  readonly source: readonly string[]
  readonly pace?: string
  readonly step?: boolean
}

/** Runs `mellow replay`: the whole journal is read, and what is to be read in place of files, before the first step is taken. */
export async function runReplay(file: string, book: string, args: ReplayArguments, io: Io): Promise<number> {
  if (isUrl(book))
    throw new UsageFault(
      'a journal is replayed into a workbook of its own: replay it into a file, and put that in at the server.',
    )
  const pace = args.pace === undefined ? 0 : Number(args.pace)
  if (!(pace >= 0)) throw new UsageFault(`--pace takes seconds, not ${JSON.stringify(args.pace)}.`)
  const sources = new Map<string, FileTable>()
  for (const text of args.source) {
    const { table, path } = furtherTable(text)
    sources.set(table, await loadFile(path, args, 'UTC', io))
  }
  const lines: OperationLine[] = []
  for await (const line of operationLines(file, io)) lines.push(line)
  refuseUnread(sources, lines)
  const replay: Replay = { lines, sources, pace }
  const path = bookPath(book)
  if (args.preview === true && !existsSync(path)) return previewInNew(basename(path), replay, args, io)
  if (!existsSync(path)) BookFile.create(path).close()
  return withFile(book, args.preview !== true, args, io, (opened) =>
    takeSteps(args.preview === true ? opened.draft() : opened, replay, args, io),
  )
}

/** A preview of a workbook that is not there begins with an empty one, which goes again. */
async function previewInNew(name: string, replay: Replay, args: ReplayArguments, io: Io): Promise<number> {
  const folder = mkdtempSync(join(tmpdir(), 'mellow-'))
  try {
    const path = join(folder, name)
    BookFile.create(path).close()
    return await withFile(path, true, args, io, (opened) => takeSteps(opened, replay, args, io))
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

interface Replay {
  readonly lines: readonly OperationLine[]
  /** Files that are read in place of those of the journal, by table. */
  readonly sources: Map<string, FileTable>
  /** Seconds after each step. */
  readonly pace: number
}

/** A file for a table into which the journal reads no rows is a mistake. */
function refuseUnread(sources: ReadonlyMap<string, FileTable>, lines: readonly OperationLine[]): void {
  const read = new Set(
    lines.flatMap(({ operations }) =>
      operations.flatMap((one) => (one.op === 'insert-rows' ? [(one as { readonly table?: string }).table] : [])),
    ),
  )
  const unread = [...sources.keys()].filter((table) => !read.has(table))
  if (unread.length > 0) throw new UsageFault(`the journal reads no rows into ${unread.join(', ')}.`)
}

/** Takes the steps, in a workbook in a file or in memory alone. Gives the exit code. */
async function takeSteps(target: BookFile | Workbook, replay: Replay, args: ReplayArguments, io: Io): Promise<number> {
  const book = target instanceof BookFile ? target.book : target
  const paint = makePaint(io.colours)
  const keys = args.step === true ? createInterface({ input: Readable.from(io.input) }) : null
  const presses = keys?.[Symbol.asyncIterator]()
  // What the steps of the journal are called here.
  const revisions = new Map<number, number>()
  let done = 0
  for (const { kind, operations, author, at, revision, of } of replay.lines) {
    if (presses !== undefined) {
      io.err(`next: ${kind === 'apply' ? operationsPhrase(operations as never) : kind} (Enter)`)
      if ((await presses.next()).done === true) {
        io.err('\n')
        break
      }
    }
    const options = { ...stamp(book, args), ...(author !== undefined && { author }), ...(at !== undefined && { at }) }
    const withSources = (): OperationJson[] => operations.flatMap((one) => withSource(one, replay.sources))
    const change =
      kind === 'apply' ? target.applyJson(withSources(), options) : target.turnStep(kind, stepHere(kind, of, revisions), options)
    if (revision !== undefined && change !== null) revisions.set(revision, change.revision)
    done++
    if (args.preview !== true) await io.out(`${change?.revision ?? book.revision}\n`)
    else if (change !== null) io.show(followedText(change, paint, kind === 'apply' ? undefined : kind))
    if (replay.pace > 0) await wait(replay.pace * 1000)
  }
  keys?.close()
  const all = counted(replay.lines.length, 'step')
  if (args.preview === true) io.err('Nothing was changed: this is a preview.\n')
  else io.err(done === replay.lines.length ? `${all} replayed\n` : `${done} of ${all} replayed\n`)
  return ExitCode.done
}

/** The step that an undo or redo takes, as it is called here; null for the next one. */
function stepHere(kind: OperationLine['kind'], of: number | undefined, revisions: ReadonlyMap<number, number>): number | null {
  if (of === undefined) return null
  const here = revisions.get(of)
  if (here === undefined) throw new UsageFault(`the journal has ${kind} of step ${of}, which is not among the steps before it.`)
  return here
}

/** The first rows of a table from another file; columns that the file has not stay blank, those that are new come along. */
function withSource(operation: OperationJson, sources: Map<string, FileTable>): OperationJson[] {
  const { op, table } = operation as { readonly op: string; readonly table?: string }
  const read = table === undefined ? undefined : sources.get(table)
  if (read === undefined || table === undefined || op !== 'insert-rows') return [operation]
  sources.delete(table)
  const rows: Operation = { op: 'insert-rows', table, ...rowsOfFile(read) }
  return [rows]
}
