import { userInfo } from 'node:os'
import { BookFile, BookFileFault } from '@mellow-abacus/files'
import {
  type ApplyOptions,
  type ChangeSet,
  type Finding,
  type OperationInput,
  printDateTime,
  Refusal,
  type WorkbookView,
  zonedWallClock,
} from 'mellow-abacus'
import { findingsJson, findingText, placeOf } from '../terminal/findings.js'
import type { Io } from '../terminal/io.js'
import { makePaint } from '../terminal/paint.js'
import { ExitCode, UsageFault } from '../terminal/usage.js'
import { bookPath } from './book-path.js'
import type { ChangeArguments } from './change-options.js'
import { followedText } from './followed.js'
import { operationsPhrase } from './phrases.js'
import { previewText } from './preview-text.js'
import { waysOn } from './ways-on.js'

/** What is asked of every verb that works with a workbook. */
type LookArguments = Pick<ChangeArguments, 'findings' | 'color'>

/** Opens a workbook to look at it, and closes it. Gives the exit code. */
export async function lookAt(
  name: string,
  args: LookArguments,
  io: Io,
  look: (file: BookFile) => number | undefined | Promise<number | undefined>,
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
  make: (book: WorkbookView) => readonly OperationInput[] | Promise<readonly OperationInput[]>,
): Promise<number> {
  return withBook(name, args.preview !== true, args, io, async (file) => {
    const operations = await make(file.book)
    if (operations.length === 0) {
      io.out('Nothing to change.\n')
      return
    }
    if (args.preview !== true && args.strict !== true) return apply(name, file, operations, args, io)
    const isRefused = orRefused(name, file.book, operations, args, io, () => {
      const preview = file.book.preview(operations)
      const warnings = preview.change.findings.added.filter((one) => one.severity === 'warning')
      if (args.strict === true && warnings.length > 0) {
        tell(warnings, file.book, args, io)
        if (args.findings !== 'json') io.err('Nothing was changed, because --strict refuses on warnings.\n')
        return ExitCode.refused
      }
      if (args.preview === true) {
        io.out(previewText(preview, operationsPhrase(preview.change.operations), makePaint(io.colours)))
        tell(preview.change.findings.added, file.book, args, io)
      }
      return ExitCode.done
    })
    if (isRefused !== ExitCode.done || args.preview === true) return isRefused
    return apply(name, file, operations, args, io)
  })
}

/** Applies operations as one step and says what followed. Gives the exit code. */
export function apply(
  name: string,
  file: BookFile,
  operations: readonly OperationInput[],
  args: ChangeArguments,
  io: Io,
): number {
  return orRefused(name, file.book, operations, args, io, () => {
    report(file.book, file.apply(operations, stamp(file.book, args)), args, io)
    return ExitCode.done
  })
}

/** Does something with operations; where they are refused, says so with the formulas they give. */
function orRefused(
  name: string,
  book: WorkbookView,
  operations: readonly OperationInput[],
  args: LookArguments,
  io: Io,
  work: () => number,
): number {
  try {
    return work()
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    refuse(error, book, name, givenFormulas(operations), args, io)
    return ExitCode.refused
  }
}

/** Says what a step did. */
export function report(book: WorkbookView, done: ChangeSet, args: LookArguments, io: Io, turn?: 'undo' | 'redo'): void {
  io.out(followedText(done, makePaint(io.colours), turn))
  tell(done.findings.added, book, args, io)
  if (args.findings === 'json') return
  const paint = makePaint(io.colours)
  for (const one of done.findings.removed)
    io.err(`${paint.quiet(`gone: ${placeOf(one, 'book')}: ${one.code}: ${one.message}`)}\n`)
}

/** Who does something, and when: the time of the machine in the zone of the workbook. */
export function stamp(book: WorkbookView, { author }: Pick<ChangeArguments, 'author'>): ApplyOptions {
  const { zone } = book.surroundings
  return { author: author ?? userInfo().username, at: printDateTime(Math.floor(zonedWallClock(zone)(Date.now()) / 1000) * 1000) }
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
  readonly rewritten: (formula: string) => OperationInput
}

/** The formula that a finding points into, and how it is written anew; undefined where there is none. */
export function formulaAt(book: WorkbookView, { table, column: name }: Finding): PlacedFormula | undefined {
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

/** Opens a workbook for as long as something is done with it. */
export async function withBook(
  name: string,
  writes: boolean,
  args: LookArguments,
  io: Io,
  work: (file: BookFile) => number | undefined | Promise<number | undefined>,
): Promise<number> {
  if (!args.color) io.colours = false
  let file: BookFile | undefined
  try {
    file = BookFile.open(bookPath(name), { writes })
    const exitCode = (await work(file)) ?? ExitCode.done
    const opened = file
    file = undefined
    opened.close()
    return exitCode
  } catch (error) {
    if (error instanceof Refusal) {
      refuse(error, file?.book, name, new Map(), args, io)
      return ExitCode.refused
    }
    if (error instanceof BookFileFault) return refuseFile(error, io)
    throw error
  } finally {
    closeAfterFault(file)
  }
}

/** Closes a file of which something went wrong already: what else does says no more. */
function closeAfterFault(file: BookFile | undefined): void {
  try {
    file?.close()
  } catch (error) {
    if (!(error instanceof BookFileFault)) throw error
  }
}

/** What is wrong with a file; one that somebody else writes, or that is there already, is no mistake of the command. */
export function refuseFile(error: BookFileFault, io: Io): number {
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
  args: LookArguments,
  io: Io,
): void {
  if (args.findings === 'json') return io.err(findingsJson(error.findings))
  const paint = makePaint(io.colours)
  // What was refused is not in the workbook, so the formula is the one that was given.
  for (const one of error.findings) {
    const formula = given.get(one.column ?? '') ?? (book === undefined ? undefined : formulaOf(book, one))
    io.err(findingText(one, placeOf(one, 'book'), formula, paint))
    for (const way of waysOn(name, one)) io.err(`  ${paint.quiet(way)}\n`)
  }
  io.err('Nothing was changed.\n')
}

/** The formulas that operations give, by column. */
function givenFormulas(operations: readonly OperationInput[]): Map<string, string> {
  const given = new Map<string, string>()
  for (const one of operations as readonly GivenFormula[]) {
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
