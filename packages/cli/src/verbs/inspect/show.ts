import { writableFormatOf } from '@mellow-abacus/files'
import { counted, displayNumber, printName, refuseErrors, type TableView, type WorkbookView } from 'mellow-abacus'
import { lookAt, tableOf } from '../../books/index.js'
import {
  COLUMNS_OF_GROUPS,
  outputFormat,
  refuseBadPath,
  replaceFile,
  SHOWN_ROWS,
  shownLines,
  tellNotHeld,
  writeAsSheets,
  writeResult,
} from '../../output/index.js'
import { type GivenView, givenView, splitNames, wholeNumber } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { ExitCode, makePaint, type Paint, UsageFault } from '../../shell/index.js'
import { type RowsArguments, type ShowArguments, tellStale } from './rows-arguments.js'

/** Runs `mellow show` and `mellow export`. */
export async function runShow(
  book: string,
  name: string | undefined,
  args: RowsArguments | ShowArguments,
  io: Io,
): Promise<number> {
  const limit = args.limit === undefined ? undefined : wholeNumber('--limit', args.limit, 0)
  if (args.output !== undefined) refuseBadPath(args.output)
  const kept = 'keep' in args && args.keep !== undefined ? await keepView(book, name, args, limit, io) : ExitCode.done
  if (kept !== ExitCode.done) return kept
  return lookAt(book, args, io, async ({ book: workbook }) => {
    const table = tableOf(workbook, name)
    const isTable = outputFormat(args, io) === 'table'
    const grouped = 'group' in args ? givenView(args) : null
    if (grouped !== null && 'group' in args) {
      await showGroups(workbook, table.name, grouped, args, limit, io)
      return tellStale(workbook, table, book, args, io)
    }
    const result = workbook.query({
      table: table.name,
      ...(args.where !== undefined && { where: args.where }),
      ...orderOf(args),
      ...(args.columns !== undefined && { columns: splitNames(args.columns) }),
      ...(limit !== undefined ? { limit } : isTable ? { limit: SHOWN_ROWS } : {}),
    })
    tellNotHeld(await writeResult(result, args, io, { name: table.name, locale: workbook.surroundings.locale }), args, io)
    if (isTable) io.show(totalsText(workbook, table, args.where, makePaint(io.colours)))
    return tellStale(workbook, table, book, args, io)
  })
}

/** Keeps what is asked for as a report, before it is shown. */
async function keepView(
  book: string,
  name: string | undefined,
  args: ShowArguments,
  limit: number | undefined,
  io: Io,
): Promise<number> {
  const grouped = givenView(args)
  if (grouped === null)
    throw new UsageFault('--keep makes a report, which has groups; it goes with --group, --column, --tally or --line.')
  if (grouped.faults.length > 0) return ExitCode.done
  return (await import('./keep-report.js')).keepReport(book, name, grouped.view, { ...args, limit }, io)
}

/** Shows rows in groups. */
async function showGroups(
  book: WorkbookView,
  table: string,
  { view, faults }: GivenView,
  args: ShowArguments,
  limit: number | undefined,
  io: Io,
): Promise<void> {
  if (args.columns !== undefined) throw new UsageFault(COLUMNS_OF_GROUPS)
  refuseErrors(faults.map(({ finding }) => finding))
  const given = book.group({ table, ...view, ...(limit !== undefined && { limit }) })
  const { result, ...folded } = shownLines(given, outputFormat(args, io), {
    ...(args.fold !== undefined && { fold: args.fold }),
    ...(limit !== undefined && { limit }),
  })
  const of = { name: table, locale: book.surroundings.locale, ...folded }
  tellNotHeld(await writeResult(result, args, io, of), args, io)
}

/** The order of rows, which may be said in parts. */
function orderOf({ order }: Pick<RowsArguments, 'order'>): { readonly order?: string } {
  return order.length === 0 ? {} : { order: order.join(', ') }
}

/** The tallies of a table, over all its rows and, under a filter, over the rows shown. */
function totalsText(workbook: WorkbookView, table: TableView, where: string | undefined, paint: Paint): string {
  if (table.tallies.length === 0) return ''
  const shows = (values: readonly unknown[]): string =>
    table.tallies.map((name, place) => `${printName(name)} = ${totalText(values[place])}`).join(', ')
  const all = `${paint.quiet('all rows:')} ${shows(table.tallies.map((name) => table.tally(name)))}\n`
  if (where === undefined) return all
  const tallies = table.tallies.map((name) => ({ name, formula: table.tallyFormula(name) ?? 'blank' }))
  const [filtered] = workbook.group({ table: table.name, tallies, where, flat: true }).rows()
  return `${all}${paint.quiet('rows shown:')} ${shows(filtered ?? [])}\n`
}

function totalText(value: unknown): string {
  return typeof value === 'number' ? displayNumber(value) : value === null || value === undefined ? 'blank' : String(value)
}

/** Runs `mellow export`: a table, or all tables as sheets of one file. */
export function runExport(book: string, name: string | undefined, args: RowsArguments, io: Io): Promise<number> {
  const { output } = args
  if (output?.toLowerCase().endsWith('.zip') === true && args.to === undefined) return runBundle(book, name, output, args, io)
  const isSheets = output !== undefined && (args.to ?? writableFormatOf(output)) === 'xlsx'
  if (name !== undefined || !isSheets) return runShow(book, name, args, io)
  refuseBadPath(output)
  return lookAt(book, args, io, async ({ book: workbook }) => {
    const tables = workbook.tables.map((table) => ({ name: table, result: workbook.query({ table }) }))
    tellNotHeld(await writeAsSheets(tables, output, args, io), args, io)
    return undefined
  })
}

/** Writes a workbook as a bundle. */
function runBundle(book: string, table: string | undefined, output: string, args: RowsArguments, io: Io): Promise<number> {
  if (table !== undefined) throw new UsageFault('a bundle holds the whole workbook; leave the table off.')
  refuseBadPath(output)
  return lookAt(book, args, io, async ({ book: workbook }) => {
    const { writeBundle } = await import('@mellow-abacus/files')
    const bytes = await writeBundle(workbook)
    await replaceFile(output, async (sink) => sink(bytes))
    const lost = workbook.accepted().length
    if (args.findings === 'json') return
    if (lost > 0) io.err(`${counted(lost, 'accepted finding')} will be found again: a bundle does not carry them.\n`)
    io.err(`${counted(workbook.tables.length, 'table')} written to ${output}. To read it: mellow import <book> ${output}\n`)
  })
}
