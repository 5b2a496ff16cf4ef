import { BATCH_ROWS, formatOfName, WRITABLE_FORMATS, type WritableFormat, writeTable } from '@mellow-abacus/files'
import type { QueryResult } from 'mellow-abacus'
import type { Io } from './io.js'
import { replaceFile } from './output-file.js'
import { makePaint, type Paint } from './paint.js'
import { startBar } from './progress.js'
import { tableText } from './table-text.js'

/** Where rows go, and in which format. */
export interface OutputArguments {
  readonly output?: string
  readonly to?: WritableFormat | 'table'
  readonly findings?: 'json'
}

/** The format of the output: the one asked for, that of the file's name, a table on a terminal, else csv. */
export function outputFormat(args: OutputArguments, io: Io): WritableFormat | 'table' {
  if (args.to !== undefined) return args.to
  if (args.output !== undefined) {
    const named = formatOfName(args.output)
    return WRITABLE_FORMATS.find((format) => format === named) ?? 'csv'
  }
  return io.isTerminal ? 'table' : 'csv'
}

/** Writes rows to standard output, or to a file that is replaced in one step. */
export async function writeResult(result: QueryResult, args: OutputArguments, io: Io): Promise<void> {
  const format = outputFormat(args, io)
  const paint: Paint = makePaint(io.colours && args.output === undefined)
  const writeTo = async (sink: (text: string | Uint8Array) => void | Promise<void>): Promise<void> => {
    if (format === 'table')
      await sink(tableText(result, paint, args.output === undefined && io.isTerminal ? io.columns : Number.POSITIVE_INFINITY))
    else await writeTable(result, format, sink)
  }
  if (args.output === undefined) return writeTo((text) => io.out(text))
  // Formats go out in batches of this many rows, which is fine enough for a bar.
  const bar = await startBar({ verb: 'writing', total: result.slots.length, unit: 'rows' }, io)
  let rows = 0
  await replaceFile(args.output, (sink) =>
    writeTo((text) => {
      sink(text)
      rows = Math.min(result.slots.length, rows + BATCH_ROWS)
      bar.update(rows)
    }),
  ).finally(bar.stop)
  if (args.findings !== 'json')
    io.err(`${counted(result.slots.length, 'row')}, ${counted(result.columns.length, 'column')} written to ${args.output}\n`)
}

function counted(count: number, noun: string): string {
  return `${count} ${noun}${count === 1 ? '' : 's'}`
}
