import { printName, type ReportView, type WorkbookView } from 'mellow-abacus'
import { lookAt } from '../../books/index.js'
import { outputFormat, refuseBadPath, shownLines, writeResult } from '../../output/index.js'
import { wholeNumber } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { parametersOf } from './asked-parameters.js'
import { recordRows } from './records.js'
import { type RowsArguments, tellStale } from './rows-arguments.js'
import { tellOfGroups } from './tell-view.js'

/** What `mellow report` is told. */
export interface ReportArguments extends Omit<RowsArguments, 'order' | 'where' | 'columns'> {
  readonly with: readonly string[]
  readonly fold?: string
}

/** Runs `mellow report`: one report, or the list of them. */
export function runReport(book: string, name: string | undefined, args: ReportArguments, io: Io): Promise<number> {
  const limit = args.limit === undefined ? undefined : wholeNumber('--limit', args.limit, 0)
  if (args.output !== undefined) refuseBadPath(args.output)
  return lookAt(book, args, io, async ({ book: workbook }) => {
    if (name === undefined) return listReports(workbook, book, args, io)
    const parameters = await parametersOf(
      workbook.reportDefinition(name),
      args.with,
      { report: name, command: `mellow report ${book} ${printName(name)}` },
      io,
    )
    using report: ReportView = workbook.report(name, { parameters })
    const { current } = report
    const { result, ...folded } = shownLines(current, outputFormat(args, io), {
      ...(args.fold !== undefined && { fold: args.fold }),
      ...(limit !== undefined && { limit }),
    })
    const of = { name: report.name, locale: workbook.surroundings.locale, ...folded }
    const notHeld = await writeResult(result, args, io, of)
    tellOfGroups(notHeld, current.findings(), workbook.reportDefinition(name), args, io)
    return tellStale(workbook, workbook.table(current.table), book, args, io)
  })
}

/** Says which reports there are, and how to see one. */
async function listReports(workbook: WorkbookView, book: string, args: ReportArguments, io: Io): Promise<undefined> {
  const [first] = workbook.reports
  if (first === undefined) {
    const next = `mellow show ${book} <table> --group … --tally … --keep <name>`
    if (outputFormat(args, io) === 'table') io.show(`There is no report yet. Keep one: ${next}\n`)
    else io.err(`There is no report yet. Keep one: ${next}\n`)
    return
  }
  await writeResult(
    recordRows(
      REPORT_COLUMNS,
      workbook.reports.map((name) => reportRecord(workbook, name)),
    ),
    args,
    io,
  )
  if (args.findings !== 'json') io.err(`See one: mellow report ${book} ${printName(first)}\n`)
}

const REPORT_COLUMNS = ['report', 'table', 'where', 'groups', 'columns', 'asks_for'].map((name) => ({ name, type: 'text' }))

function reportRecord(workbook: WorkbookView, name: string): Readonly<Record<string, string | null>> {
  const { table, where = null, levels = [], across, parameters = [], ...view } = workbook.reportDefinition(name)
  const keys = levels.map((level) => level.name ?? level.key).join(', ')
  const columns = [...(view.columns ?? []), ...(view.tallies ?? []), ...(view.lines ?? [])]
  return {
    report: name,
    table,
    where,
    groups: across === undefined ? keys : `${keys} across ${across.name ?? across.key}`,
    columns: (view.shown ?? columns.map((column) => column.name)).join(', '),
    asks_for: parameters.map((one) => (one.value === undefined ? one.name : `${one.name} = ${one.value}`)).join(', ') || null,
  }
}
