import { statSync } from 'node:fs'
import {
  BINARY_FORMATS,
  type Loss,
  type LossKind,
  type NamedResult,
  WRITABLE_ENDINGS,
  type WritableFormat,
  WriteFault,
  writableFormatOf,
  writeSheets,
  writeTable,
} from '@mellow-abacus/files'
import { counted, type Finding, finding, type GroupedResult, printName, type QueryResult, Refusal } from 'mellow-abacus'
import type { Io } from '../shell/index.js'
import { forEyes, makePaint, type Paint, UsageFault } from '../shell/index.js'
import { findingsJson, findingText } from './findings.js'
import { groupedText, isGrouped } from './grouped-text.js'
import { replaceFile } from './output-file.js'
import { startBar } from './progress.js'
import { type RowsShown, tableText } from './table-text.js'

/** Where rows go, and in which format. */
export interface OutputArguments {
  readonly output?: string
  readonly to?: WritableFormat | 'table'
  readonly findings?: 'json'
  /** Refuses where the format cannot hold everything. */
  readonly strict?: boolean
  /** Shows all digits in a table. */
  readonly exact?: boolean
  /** Puts an apostrophe before texts that could be taken for formulas. */
  readonly neutralize?: boolean
}

/** The format of the output: the one asked for, that of the file's name, a table on a terminal, else csv. */
export function outputFormat(args: OutputArguments, io: Io): WritableFormat | 'table' {
  if (args.to !== undefined) return args.to
  if (args.output !== undefined) return formatOfOutput(args.output)
  return io.isTerminal ? 'table' : 'csv'
}

/** The format that the name of a file says; csv where it has no ending, or is no plain file. */
function formatOfOutput(output: string): WritableFormat {
  const format = writableFormatOf(output)
  const ending = /[^/\\.]\.([^./\\]+)$/.exec(output)?.[1]
  if (format !== undefined || ending === undefined || statSync(output, { throwIfNoEntry: false })?.isFile() === false)
    return format ?? 'csv'
  throw new UsageFault(
    `the ending of ${output} says no format; there are ${WRITABLE_ENDINGS.map((one) => `.${one}`).join(', ')}. Or say it: --to csv`,
  )
}

/** What goes with rows that are shown. */
export interface Shown extends RowsShown {
  /** Name of their table, or of the report. */
  readonly name?: string
  readonly locale?: string
  /** Lines deeper than this level are folded. */
  readonly foldedFrom?: number
  /** How many lines are folded out of sight. */
  readonly folded?: number
}

/** Writes rows to standard output, or to a file that is replaced in one step; says what the format could not hold. */
export async function writeResult(
  result: QueryResult | GroupedResult,
  args: OutputArguments,
  io: Io,
  shown: Shown = {},
): Promise<readonly Finding[]> {
  const format = outputFormat(args, io)
  const paint: Paint = makePaint(io.colours && args.output === undefined)
  if (args.output === undefined && io.isTerminal && BINARY_FORMATS.has(format))
    throw new UsageFault(`${format} is not for the eye; write it to a file with -o, or pipe it on.`)
  const { exact = false } = args
  const options = { name: 'table', ...shown, exact, ...(args.neutralize !== undefined && { neutralize: args.neutralize }) }
  const writeTo = async (sink: Sink, onProgress?: (rows: number) => void): Promise<readonly Loss[]> => {
    if (format !== 'table') return writeTable(result, format, sink, { ...options, ...(onProgress && { onProgress }) })
    const width = args.output === undefined && io.isTerminal ? io.columns : Number.POSITIVE_INFINITY
    const text = isGrouped(result)
      ? groupedText(result, { ...shown, exact }, paint, width)
      : tableText(result, paint, width, { ...shown, exact })
    await sink(forEyes(text))
    return []
  }
  if (args.output === undefined) return lossFindings(await writeTo((text) => io.out(text)), format)
  const notHeld = await writeFile(args.output, format, result.slots.length, writeTo, args, io)
  if (args.findings !== 'json')
    io.err(`${counted(result.slots.length, 'row')}, ${counted(result.columns.length, 'column')} written to ${args.output}\n`)
  return notHeld
}

/** Writes tables as sheets of one XLSX file. */
export async function writeAsSheets(
  tables: readonly NamedResult[],
  output: string,
  args: OutputArguments,
  io: Io,
): Promise<readonly Finding[]> {
  const rows = tables.reduce((sum, { result }) => sum + result.slots.length, 0)
  const notHeld = await writeFile(output, 'xlsx', rows, (sink, onProgress) => writeSheets(tables, sink, { onProgress }), args, io)
  if (args.findings !== 'json')
    io.err(`${counted(tables.length, 'sheet')}, ${counted(rows, 'row')} in all, written to ${output}\n`)
  return notHeld
}

type Sink = (text: string | Uint8Array) => void | Promise<void>

async function writeFile(
  output: string,
  format: string,
  total: number,
  write: (sink: Sink, onProgress: (rows: number) => void) => Promise<readonly Loss[]>,
  args: OutputArguments,
  io: Io,
): Promise<readonly Finding[]> {
  const bar = await startBar({ verb: 'writing', total, unit: 'rows' }, io)
  let notHeld: readonly Finding[] = []
  try {
    await replaceFile(output, async (sink) => {
      const losses = await write(sink, (rows) => bar.update(rows))
      notHeld = lossFindings(losses, format)
      const [first, ...others] = notHeld
      if (args.strict === true && first !== undefined) throw new Refusal([first, ...others])
    })
  } catch (error) {
    if (error instanceof WriteFault) throw new UsageFault(`cannot write ${output}: ${error.message}`)
    throw error
  } finally {
    bar.stop()
  }
  return notHeld
}

/** How a format has what it cannot hold. */
const HOW: Readonly<Record<LossKind, string>> = {
  misfit: 'texts that do not fit their column are blank there',
  error: 'errors have no code there',
  'error-text': 'errors are texts there',
  'long-text': 'texts are cut at 32 767 signs',
  'early-date': 'dates before March 1900 are texts there',
}

function lossFindings(losses: readonly Loss[], format: string): Finding[] {
  return losses.map(({ column, kind, cells, sample }) => {
    const parameters = { count: counted(cells, 'cell'), name: printName(column), format, how: HOW[kind], sample }
    return { ...finding('not-held', parameters), column, rows: cells }
  })
}

/** Says what a format could not hold. */
export function tellNotHeld(notHeld: readonly Finding[], args: OutputArguments, io: Io): void {
  if (notHeld.length === 0) return
  if (args.findings === 'json') return io.err(findingsJson(notHeld))
  const paint = makePaint(io.colours)
  for (const one of notHeld) io.err(findingText(one, one.column ?? 'file', undefined, paint))
}
