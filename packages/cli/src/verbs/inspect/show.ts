import { writableFormatOf } from '@mellow-abacus/files'
import {
  counted,
  isSameName,
  printName,
  refuseErrors,
  type ShownQuery,
  shownRowsOf,
  splitNames,
  type TableView,
  type WorkbookView,
} from 'mellow-abacus'
import { lookAt, tableOf } from '../../books/index.js'
import {
  COLUMNS_OF_GROUPS,
  outputFormat,
  type RowsShown,
  refuseBadPath,
  replaceFile,
  SHOWN_ROWS,
  shownLines,
  tellNotHeld,
  totalsOf,
  writeAsSheets,
  writeResult,
} from '../../output/index.js'
import { type GivenView, givenView, wholeNumber } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { ExitCode, UsageFault } from '../../shell/index.js'
import { type RowsArguments, type ShowArguments, tellStale } from './rows-arguments.js'
import { tellOfGroups } from './tell-view.js'

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
    const { locale } = workbook.surroundings
    const result = shownRowsOf(workbook, { table: table.name, ...queryOf(table, args, limit, isTable) })
    const ofTable = (): RowsShown => ({
      hasNumbers: hasRoomForNumbers(table),
      totals: totalsOf(workbook, table, result, { locale, exact: args.exact === true, ...whereOf(args) }),
      ...labelOf(table),
      ...(result.depths !== null && { depths: result.depths }),
    })
    const shown = { name: table.name, locale, ...(isTable && ofTable()) }
    tellNotHeld(await writeResult(result, args, io, shown), args, io)
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
  tellOfGroups(await writeResult(result, args, io, of), given.findings(), view, args, io)
}

/** The rows and columns asked for. For the eye rows have their numbers, and stand below their parents. */
function queryOf(table: TableView, args: RowsArguments, limit: number | undefined, isTable: boolean): Omit<ShownQuery, 'table'> {
  const isOutline = isTable && table.properties.parent !== null
  const fold = args.fold === undefined ? undefined : wholeNumber('--fold', args.fold, 0)
  if (fold !== undefined && table.properties.parent === null)
    throw new UsageFault(`--fold is for groups and outlines, and ${printName(table.name)} has no parent column.`)
  return {
    ...whereOf(args),
    ...(args.order.length > 0 && { order: args.order.join(', ') }),
    ...(args.columns !== undefined && { columns: splitNames(args.columns) }),
    ...((isTable || args.rowNumbers === true) && { rowNumbers: !isTable || hasRoomForNumbers(table) }),
    ...((isOutline || fold !== undefined) && { outline: true, ...(fold !== undefined && { fold: fold + 1 }) }),
    ...(limit !== undefined ? { limit } : isTable ? { limit: SHOWN_ROWS } : {}),
  }
}

/** False for a table with a column of that name, whose rows are shown without their numbers. */
const hasRoomForNumbers = (table: TableView): boolean => !table.columns.some(({ name }) => isSameName(name, 'row'))

const whereOf = ({ where }: RowsArguments): { readonly where?: string } => (where === undefined ? {} : { where })

/** The column that says which row it is: it stays where not all fit, and is set in where rows are below others. */
function labelOf(table: TableView): { readonly wanted: readonly string[]; readonly outlineColumn?: string } {
  const { label, key, parent } = table.properties
  const named = label ?? key?.[0]
  const column = named ?? table.columns.find(({ properties }) => properties.hidden !== true)?.name
  return { wanted: named == null ? [] : [named], ...(parent !== null && column !== undefined && { outlineColumn: column }) }
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
