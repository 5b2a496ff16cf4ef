import { createReadStream } from 'node:fs'
import { createInterface } from 'node:readline'
import { Readable } from 'node:stream'
import { type JournalEntry, salvagedSteps } from '@mellow-abacus/files'
import { operationsPhrase } from '@mellow-abacus/host'
import type { OperationJson } from 'mellow-abacus'
import { counted } from 'mellow-abacus'
import { bookPath, lookAt, previewText, stamp, tell, withBook } from '../../books/index.js'
import type { ChangeArguments } from '../../options/index.js'
import { refuseBadPath, replaceFile } from '../../output/index.js'
import type { Io } from '../../shell/index.js'
import { ExitCode, makePaint, readReason, UsageFault } from '../../shell/index.js'

/** What `mellow journal` is told. */
export interface JournalArguments extends ChangeArguments {
  readonly output?: string
  readonly trim?: boolean
  readonly salvage?: boolean
}

/** A line of a file of operations: what was done, and when and by whom where that is said. */
export interface OperationLine {
  readonly kind: JournalEntry['kind']
  /** The revision that it made in the workbook that the journal is of. */
  readonly revision?: number
  /** The revision of that workbook that an undo or redo takes, where that is not the next one. */
  readonly of?: number
  readonly operations: readonly OperationJson[]
  readonly author?: string
  readonly at?: string
  readonly expects?: number
}

/**
 * The lines of a file of operations, one after the other.
 *
 * @throws UsageFault naming the line
 */
export async function* operationLines(path: string, io: Io): AsyncGenerator<OperationLine> {
  const shown = path === '-' ? 'standard input' : path
  const input = path === '-' ? Readable.from(io.input) : createReadStream(path)
  let number = 0
  try {
    for await (const line of createInterface({ input, crlfDelay: Number.POSITIVE_INFINITY })) {
      number++
      if (line.trim() !== '') yield operationLine(line, `${shown}, line ${number}`)
    }
  } catch (error) {
    if ((error as NodeJS.ErrnoException).syscall !== undefined) throw new UsageFault(`cannot read ${shown}: ${readReason(error)}`)
    throw error
  }
}

function operationLine(line: string, where: string): OperationLine {
  let json: unknown
  try {
    json = JSON.parse(line)
  } catch (error) {
    throw new UsageFault(`${where} is no JSON: ${(error as Error).message}.`)
  }
  if (Array.isArray(json)) return { kind: 'apply', operations: json.map((one) => operationOf(one, where)) }
  if (typeof json !== 'object' || json === null)
    throw new UsageFault(`${where}: expected an operation, a list of them, or a step of a journal.`)
  const { operations, kind = 'apply', revision, of, author, at, expects, op } = json as Partial<OperationLine> & { op?: unknown }
  if (op !== undefined) return { kind: 'apply', operations: [operationOf(json, where)] }
  if (!['apply', 'undo', 'redo'].includes(kind))
    throw new UsageFault(`${where}: a step is apply, undo or redo, not ${JSON.stringify(kind)}.`)
  if (!Array.isArray(operations)) throw new UsageFault(`${where}: a step needs a list of operations.`)
  return {
    kind,
    operations: operations.map((one) => operationOf(one, where)),
    ...(revision !== undefined && { revision }),
    ...(of !== undefined && { of }),
    ...(author !== undefined && { author }),
    ...(at !== undefined && { at }),
    ...(expects !== undefined && { expects }),
  }
}

function operationOf(json: unknown, where: string): OperationJson {
  if (typeof json !== 'object' || json === null || typeof (json as { op?: unknown }).op !== 'string')
    throw new UsageFault(`${where}: expected an operation, such as {"op":"set-cells",…}.`)
  return json as OperationJson
}

/** Runs `mellow apply`: a revision a line, printed once the file holds it. */
export function runApply(book: string, path: string, args: ChangeArguments, io: Io): Promise<number> {
  return withBook(book, args.preview !== true, args, io, async (file) => {
    // A line of a preview is about what the one before leaves, which is nowhere but in memory.
    const draft = args.preview === true ? file.draft() : null
    for await (const { operations, author, at, expects } of operationLines(path, io)) {
      if (draft !== null) {
        const preview = draft.view.previewJson(operations)
        io.show(previewText(preview, operationsPhrase(preview.change.operations), makePaint(io.colours)))
        tell(preview.change.findings.added, draft.view, args, io)
        draft.applyJson(operations)
        continue
      }
      const given = {
        ...(author !== undefined && { author }),
        ...(at !== undefined && { at }),
        ...(expects !== undefined && { expects }),
      }
      const change = await file.applyJson(operations, { ...stamp(file.book, args), ...given })
      await io.out(`${change.revision}\n`)
      if (args.findings === 'json') continue
      for (const one of change.met ?? []) io.err(`${one}\n`)
      tell(change.findings.added, file.book, args, io)
    }
    return undefined
  })
}

/** Runs `mellow journal`. */
export async function runJournal(book: string, args: JournalArguments, io: Io): Promise<number> {
  if (args.output !== undefined) refuseBadPath(args.output)
  if (args.salvage === true) {
    const steps = salvagedSteps(bookPath(book))
    await writeSteps(steps, args, io)
    io.err(`${counted(steps.length, 'step')} read\n`)
    return ExitCode.done
  }
  return lookAt(book, args, io, async (file) => {
    await writeSteps(file.journal(), args, io)
    return undefined
  })
}

async function writeSteps(steps: Iterable<JournalEntry>, args: JournalArguments, io: Io): Promise<void> {
  const entries = args.trim === true ? trimmed([...steps]) : steps
  const write = async (sink: (text: string) => void | Promise<void>): Promise<void> => {
    for (const { revision, kind, of, at, author, operations } of entries) {
      const said = { ...(at !== '' && { at }), ...(author !== '' && { author }) }
      await sink(`${JSON.stringify({ revision, kind, of, ...said, operations })}\n`)
    }
  }
  if (args.output === undefined) await write((text) => io.out(text))
  else await replaceFile(args.output, write)
}

/** The steps that stand: those that were undone, and the undoing, are left out. */
function trimmed(entries: readonly JournalEntry[]): JournalEntry[] {
  // What a step is called changes with each time that it is taken back or done again.
  interface Taken {
    readonly called: number
    readonly entry: JournalEntry
  }
  const standing: Taken[] = []
  const undone: Taken[] = []
  for (const entry of entries) {
    const { kind, revision: called, of } = entry
    const from = kind === 'redo' ? undone : standing
    const at = of === undefined ? from.length - 1 : from.findLastIndex((step) => step.called === of)
    const [taken] = kind === 'apply' ? [] : from.splice(at, 1)
    const into = kind === 'undo' ? undone : standing
    into.push({ called, entry: taken?.entry ?? entry })
  }
  return standing.map(({ entry }) => entry)
}
