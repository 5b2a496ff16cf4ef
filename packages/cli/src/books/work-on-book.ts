import { BookFile, BookFileFault, type CreateOptions, userName } from '@mellow-abacus/files'
import { operationsPhrase } from '@mellow-abacus/host'
import {
  type ApplyOptions,
  type ChangeSet,
  type Finding,
  type GroupedView,
  isSameName,
  type Operation,
  type OperationJson,
  Refusal,
  type Surroundings,
  type WorkbookView,
} from 'mellow-abacus'
import { printDateTime, zonedWallClock } from 'mellow-abacus/storage'
import type { ChangeArguments } from '../options/index.js'
import { findingsJson, findingText, placeOf } from '../output/index.js'
import type { Io } from '../shell/index.js'
import { ExitCode, makePaint, UsageFault } from '../shell/index.js'
import type { BookAtHand, Followed } from './book-at-hand.js'
import { BookAtServer, isUrl, makeAtServer } from './book-at-server.js'
import { bookPath } from './book-path.js'
import { followedText } from './followed.js'
import { heldElsewhere } from './held-elsewhere.js'
import { previewText } from './preview-text.js'
import { waysOn } from './ways-on.js'

/** What is asked of every verb that works with a workbook. */
type LookArguments = Pick<ChangeArguments, 'findings' | 'color' | 'wait'>

/** Opens a workbook to look at it, and closes it. Gives the exit code. */
export async function lookAt(
  name: string,
  args: LookArguments,
  io: Io,
  look: (file: BookAtHand) => number | undefined | Promise<number | undefined>,
): Promise<number> {
  return withBook(name, false, args, io, look)
}

/**
 * Opens a workbook, applies what is made of it as one step, and says what followed; with `--preview` what would. Gives the
 * exit code: 1 when the step is refused, and then the workbook is as it was.
 */
export async function change(
  name: string,
  args: ChangeArguments,
  io: Io,
  make: (book: WorkbookView) => readonly Operation[] | Promise<readonly Operation[]>,
): Promise<number> {
  return withBook(name, args.preview !== true, args, io, async (file) => {
    const operations = await make(file.book)
    if (operations.length === 0) {
      io.show('Nothing to change.\n')
      return
    }
    if (args.preview !== true) return apply(name, file, operations, args, io)
    return orRefused(name, file.book, operations, args, io, async () => {
      const preview = file.book.previewJson(operations, { strict: args.strict === true })
      io.show(previewText(preview, operationsPhrase(preview.change.operations), makePaint(io.colours)))
      tell(preview.change.findings.added, file.book, args, io)
      return ExitCode.done
    })
  })
}

/** Makes a workbook whose first step is these operations, and says what followed. There is none where they are refused. */
export async function makeBook(
  name: string,
  around: Partial<Surroundings>,
  operations: readonly OperationJson[],
  args: ChangeArguments,
  io: Io,
): Promise<number> {
  if (!args.color) io.colours = false
  const make = (path: string, put?: (file: BookFile) => Promise<void>): Promise<number> =>
    orRefused(name, undefined, operations, args, io, async () => {
      let done: ChangeSet | null = null
      const begin: CreateOptions['begin'] = (workbook) => {
        const zone = around.zone ?? 'UTC'
        done = workbook.applyJson(operations, stampIn(zone, args))
      }
      const file = BookFile.create(path, around, { ...waitOf(args), ...(operations.length > 0 && { begin }) })
      try {
        await put?.(file)
        if (done !== null) report(file.book, done, args, io)
      } finally {
        file.close()
      }
      return ExitCode.done
    })
  try {
    return isUrl(name) ? await makeAtServer(name, make) : await make(bookPath(name))
  } catch (error) {
    if (error instanceof BookFileFault) return refuseFile(error, io)
    throw error
  }
}

/** Applies operations as one step and says what followed. Gives the exit code. */
function apply(
  name: string,
  file: BookAtHand,
  operations: readonly OperationJson[],
  args: ChangeArguments,
  io: Io,
): Promise<number> {
  return orRefused(name, file.book, operations, args, io, async () => {
    report(file.book, await file.applyJson(operations, stamp(file.book, args)), args, io)
    return ExitCode.done
  })
}

/** Does something with operations; where they are refused, says so with the formulas they give. */
async function orRefused(
  name: string,
  book: WorkbookView | undefined,
  operations: readonly OperationJson[],
  args: LookArguments,
  io: Io,
  work: () => Promise<number>,
): Promise<number> {
  try {
    return await work()
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    refuse(error, book, name, givenFormulas(operations), args, io)
    return ExitCode.refused
  }
}

/** Says what a step did. */
export function report(book: WorkbookView, done: Followed, args: LookArguments, io: Io, turn?: 'undo' | 'redo'): void {
  io.show(followedText(done, makePaint(io.colours), turn))
  if (args.findings !== 'json') for (const one of done.met ?? []) io.err(`${one}\n`)
  tell(done.findings.added, book, args, io)
  if (args.findings === 'json') return
  const paint = makePaint(io.colours)
  for (const one of done.findings.removed)
    io.err(`${paint.quiet(`gone: ${placeOf(one, 'book')}: ${one.code}: ${one.message}`)}\n`)
}

/** Who does something, when (the time of the machine in the zone of the workbook), and whether warnings stand against it. */
export function stamp(book: WorkbookView, args: Pick<ChangeArguments, 'author' | 'strict'>): ApplyOptions {
  return stampIn(book.surroundings.zone, args)
}

function stampIn(zone: string, { author, strict }: Pick<ChangeArguments, 'author' | 'strict'>): ApplyOptions {
  const at = printDateTime(Math.floor(zonedWallClock(zone)(Date.now()) / 1000) * 1000)
  return { ...(strict === true && { strict }), author: author ?? userName(), at }
}

/** Shows findings, with the formula they point into. */
export function tell(findings: readonly Finding[], book: WorkbookView, args: LookArguments, io: Io): void {
  if (args.findings === 'json') return io.err(findingsJson(findings))
  const paint = makePaint(io.colours)
  for (const one of findings) io.err(findingText(one, placeOf(one, 'book'), formulaOf(book, one), paint))
}

/** The formula that a finding points into, of a column, a tally or a named value. */
export function formulaOf(book: WorkbookView, finding: Finding): string | undefined {
  return formulaAt(book, finding)?.formula
}

/** A formula with the operation that writes another one in its place. */
export interface PlacedFormula {
  readonly formula: string
  readonly rewritten: (formula: string) => Operation
}

/** The formula that a finding points into, and how it is written anew; undefined where there is none. */
export function formulaAt(book: WorkbookView, finding: Finding): PlacedFormula | undefined {
  const { table, column: name, report } = finding
  if (finding.function !== undefined) return formulaOfFunction(book, finding.function)
  if (report !== undefined) return formulaOfReport(book, report, name)
  if (table === undefined || name === undefined) return undefined
  if (!book.tables.includes(table)) {
    const formula = book.values.includes(name) ? book.valueFormula(name) : null
    return formula === null ? undefined : { formula, rewritten: (text) => ({ op: 'set-value', name, formula: text }) }
  }
  const of = book.table(table)
  const own = of.columns.find((one) => one.name === name)?.formula ?? null
  if (own !== null)
    return { formula: own, rewritten: (text) => ({ op: 'change-column', table, column: name, set: { formula: text } }) }
  const formula = of.tallies.includes(name) ? of.tallyFormula(name) : null
  return formula === null ? undefined : { formula, rewritten: (text) => ({ op: 'set-tally', table, name, formula: text }) }
}

/** The formula of a function, and how it is written anew. */
function formulaOfFunction(book: WorkbookView, called: string): PlacedFormula | undefined {
  const found = book.functions.find((one) => isSameName(one.name, called))
  if (found === undefined) return undefined
  const { name, parameters, note } = found
  const rewritten = (formula: string): Operation => ({
    op: 'set-function',
    name,
    parameters,
    formula,
    ...(note !== null && { note }),
  })
  return { formula: found.formula, rewritten }
}

/** The formula of a column of a report, and how it is written anew. */
function formulaOfReport(book: WorkbookView, name: string, column: string | undefined): PlacedFormula | undefined {
  const view = book.reports.some((one) => isSameName(one, name)) ? book.reportDefinition(name) : {}
  for (const kind of ['columns', 'tallies', 'lines'] as const) {
    const list = (view as Partial<GroupedView>)[kind] ?? []
    const found = list.find((one) => one.name === column)
    if (found === undefined) continue
    const rewritten = (formula: string): Operation => ({
      op: 'set-report',
      name,
      report: { ...(view as GroupedView), [kind]: list.map((one) => (one === found ? { ...one, formula } : one)) },
    })
    return { formula: found.formula, rewritten }
  }
  return undefined
}

/** Opens a workbook for as long as something is done with it, in a file or at a server. */
export function withBook(
  name: string,
  writes: boolean,
  args: LookArguments & Pick<ChangeArguments, 'author'>,
  io: Io,
  work: (file: BookAtHand) => number | undefined | Promise<number | undefined>,
): Promise<number> {
  if (!isUrl(name)) {
    const open = async (): Promise<BookAtHand> => {
      const author = args.author ?? userName()
      const held = writes ? await heldElsewhere(bookPath(name), author) : null
      return held === null ? openFile(name, writes, args) : BookAtServer.open(held.url, held)
    }
    return withOpened(name, writes, args, io, open, work)
  }
  if (writes && args.author !== undefined)
    throw new UsageFault('at a server the author is the one whose token it is, so --author cannot be given.')
  return withOpened(name, writes, args, io, () => BookAtServer.open(name), work)
}

/** Opens the file of a workbook for as long as something is done with it. */
export function withFile(
  name: string,
  writes: boolean,
  args: LookArguments,
  io: Io,
  work: (file: BookFile) => number | undefined | Promise<number | undefined>,
): Promise<number> {
  return withOpened(name, writes, args, io, async () => openFile(name, writes, args), work)
}

function openFile(name: string, writes: boolean, args: LookArguments): BookFile {
  return BookFile.open(bookPath(name), { writes, ...waitOf(args) })
}

async function withOpened<Opened extends BookAtHand>(
  name: string,
  writes: boolean,
  args: LookArguments,
  io: Io,
  open: () => Promise<Opened>,
  work: (file: Opened) => number | undefined | Promise<number | undefined>,
): Promise<number> {
  if (!args.color) io.colours = false
  let file: Opened | undefined
  try {
    file = await open()
    const exitCode = (await work(file)) ?? ExitCode.done
    const opened = file
    file = undefined
    await opened.close()
    return exitCode
  } catch (error) {
    if (error instanceof Refusal) {
      refuse(error, file?.book, name, new Map(), args, io, writes)
      return ExitCode.refused
    }
    if (error instanceof BookFileFault) return refuseFile(error, io)
    throw error
  } finally {
    await closeAfterFault(file)
  }
}

/**
 * How long to wait for another process that changes the workbook.
 *
 * @throws UsageFault
 */
function waitOf({ wait }: LookArguments): { waitMs?: number } {
  if (wait === undefined) return {}
  const seconds = Number(wait)
  if (wait.trim() === '' || !(seconds >= 0 && seconds <= 86_400))
    throw new UsageFault(`--wait takes seconds, such as 30, received ${JSON.stringify(wait)}.`)
  return { waitMs: seconds * 1000 }
}

/** Closes a file of which something went wrong already: what else does says no more. */
async function closeAfterFault(file: BookAtHand | undefined): Promise<void> {
  try {
    await file?.close()
  } catch (error) {
    if (!(error instanceof BookFileFault)) throw error
  }
}

/** What is wrong with a file; one that someone else writes, or that is there already, is no mistake of the command. */
function refuseFile(error: BookFileFault, io: Io): number {
  if (error.code === 'in-use' || error.code === 'exists') {
    io.err(`mellow: ${error.message}\n`)
    return ExitCode.refused
  }
  const next = error.code === 'missing' ? ' Make one: mellow new, or mellow import.' : ''
  throw new UsageFault(`${error.message}${next}`)
}

function refuse(
  error: Refusal,
  book: WorkbookView | undefined,
  name: string,
  given: ReadonlyMap<string, string>,
  args: LookArguments & Pick<ChangeArguments, 'strict'>,
  io: Io,
  isChange = true,
): void {
  if (args.findings === 'json') return io.err(findingsJson(error.findings))
  const paint = makePaint(io.colours)
  // What was refused is not in the workbook, so the formula is the one that was given.
  for (const one of error.findings) {
    const formula = given.get(one.column ?? one.function ?? '') ?? (book === undefined ? undefined : formulaOf(book, one))
    io.err(findingText(one, placeOf(one, 'book'), formula, paint))
    for (const way of waysOn(name, one)) io.err(`  ${paint.quiet(way)}\n`)
  }
  if (!isChange) return
  const isStrict = args.strict === true && error.findings.every((one) => one.severity !== 'error')
  io.err(isStrict ? 'Nothing was changed, because --strict refuses on warnings.\n' : 'Nothing was changed.\n')
}

/** The formulas that operations give, by column. */
function givenFormulas(operations: readonly OperationJson[]): Map<string, string> {
  const given = new Map<string, string>()
  for (const one of operations as readonly unknown[] as readonly GivenFormula[]) {
    const formula = one.formula ?? one.set?.formula ?? (typeof one.column === 'object' ? one.column.formula : undefined)
    const name = one.name ?? (typeof one.column === 'object' ? one.column.name : one.column)
    if (typeof formula === 'string' && name !== undefined) given.set(name, formula)
  }
  return given
}

interface GivenFormula {
  readonly name?: string
  readonly formula?: string
  readonly column?: string | { readonly name: string; readonly formula?: string }
  readonly set?: { readonly formula?: string }
}
