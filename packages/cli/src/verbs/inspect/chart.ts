import {
  type ChartDefinition,
  type ChartTexts,
  chartOfTexts,
  isSameName,
  type Operation,
  printName,
  type WorkbookView,
} from 'mellow-abacus'
import { change, lookAt } from '../../books/index.js'
import type { ChangeArguments } from '../../options/index.js'
import {
  chartFormatOf,
  type DrawingArguments,
  outputFormat,
  refuseBadPath,
  writeDrawing,
  writeResult,
} from '../../output/index.js'
import { wholeNumber } from '../../reading/index.js'
import { ExitCode, type Io, UsageFault } from '../../shell/index.js'
import { parametersOf } from './asked-parameters.js'
import { recordRows } from './records.js'

/** What `mellow chart` is told. */
export interface ChartArguments extends ChangeArguments, DrawingArguments {
  readonly of?: string
  readonly where?: string
  readonly level?: string
  readonly x?: string
  readonly line: readonly string[]
  readonly point: readonly string[]
  readonly bar: readonly string[]
  readonly area: readonly string[]
  readonly right: readonly string[]
  readonly seriesColor: readonly string[]
  readonly order?: string
  readonly withTotal?: boolean
  readonly fit?: string
  readonly residuals?: boolean
  readonly title?: string
  readonly xTitle?: string
  readonly leftTitle?: string
  readonly rightTitle?: string
  readonly legend: boolean
  readonly with: readonly string[]
  readonly width?: string
  readonly height?: string
  readonly dark?: boolean
  readonly keep?: boolean
}

/** Runs `mellow chart`: draws rows or groups, keeps what it draws, draws what was kept, or lists it. */
export async function runChart(book: string, name: string | undefined, args: ChartArguments, io: Io): Promise<number> {
  if (name === undefined) return lookAt(book, args, io, ({ book: workbook }) => listCharts(workbook, book, args, io))
  chartFormatOf(args)
  if (args.output !== undefined) refuseBadPath(args.output)
  if (args.of === undefined) refuseStray(name, args)
  const size = { ...sizeOf('width', args.width), ...sizeOf('height', args.height) }
  if (args.of !== undefined && args.keep === true) {
    const kept = await keepChart(book, name, args, io)
    if (kept !== ExitCode.done || args.preview === true || (args.output === undefined && io.isTerminal)) return kept
  }
  return lookAt(book, args, io, async ({ book: workbook }) => {
    const definition = args.of === undefined ? workbook.chartDefinition(name) : givenChart(workbook, args.of, args)
    const { report } = definition
    const again = `mellow chart ${book} ${printName(name)}`
    const parameters =
      report === undefined ? {} : await parametersOf(workbook.reportDefinition(report), args.with, { report, command: again }, io)
    const { chartDrawing } = await import('@mellow-abacus/charts')
    const { locale } = workbook.surroundings
    const theme = args.dark === true ? 'dark' : 'light'
    await writeDrawing(chartDrawing(workbook.chart(definition, { parameters }), { ...size, locale, theme }), args, io)
    if (
      args.of !== undefined &&
      args.keep !== true &&
      args.findings !== 'json' &&
      !workbook.charts.some((one) => isSameName(one, name))
    )
      io.err(`To keep it in the workbook, add --keep; then: ${again} -o ${name}.svg\n`)
    return undefined
  })
}

function sizeOf(name: 'width' | 'height', text: string | undefined): { readonly [size: string]: number } {
  return text === undefined ? {} : { [name]: wholeNumber(`--${name}`, text, 40) }
}

/** A kept chart is drawn as it was kept: what says what is drawn goes with --of. */
function refuseStray(name: string, args: ChartArguments): void {
  const { where, level, x, line, point, bar, area, right, seriesColor, fit, residuals, order, keep, withTotal } = args
  const { title, xTitle, leftTitle, rightTitle, legend } = args
  const one = [where, level, x, fit, residuals, order, keep, withTotal, title, xTitle, leftTitle, rightTitle]
  const isSaid = one.some((option) => option !== undefined) || !legend
  if (isSaid || [line, point, bar, area, right, seriesColor].some((list) => list.length > 0))
    throw new UsageFault(
      `--of says what ${printName(name)} is drawn from: --of <table>, or --of <report>. Without it a kept chart is drawn as it was kept.`,
    )
}

/** The chart that was asked for. A table and a report of one name are told apart by `report:name`. */
function givenChart(workbook: WorkbookView, of: string, args: ChartArguments): ChartDefinition {
  const [, kind, named = of] = /^(report):`?(.+?)`?$/.exec(of) ?? []
  const isTable = kind === undefined && workbook.tables.some((one) => isSameName(one, named))
  const isReport = !isTable && workbook.reports.some((one) => isSameName(one, named))
  if (!isTable && !isReport) {
    const known = [...workbook.tables, ...workbook.reports].map(printName).join(', ')
    throw new UsageFault(
      `--of names a table or a report, and there is no ${JSON.stringify(named)}; there are ${known || 'none yet'}.`,
    )
  }
  const { where, withTotal, xTitle, leftTitle, rightTitle, legend } = args
  return {
    ...(isTable ? { table: named } : { report: named }),
    ...(where !== undefined && { where }),
    ...chartOfTexts(textsOf(args)),
    ...(withTotal === true && { total: true }),
    ...(xTitle !== undefined && { xTitle }),
    ...(leftTitle !== undefined && { leftTitle }),
    ...(rightTitle !== undefined && { rightTitle }),
    ...(!legend && { legend }),
  }
}

function textsOf({
  x,
  line,
  point,
  bar,
  area,
  right,
  fit,
  residuals,
  order,
  level,
  title,
  seriesColor,
}: ChartArguments): ChartTexts {
  return {
    line,
    point,
    bar,
    area,
    right,
    colors: seriesColor,
    ...(x !== undefined && { x }),
    ...(fit !== undefined && { fit }),
    ...(residuals !== undefined && { residuals }),
    ...(order !== undefined && { order }),
    ...(level !== undefined && { level }),
    ...(title !== undefined && { title }),
  }
}

function keepChart(book: string, name: string, args: ChartArguments, io: Io): Promise<number> {
  // A drawing stands alone on standard output.
  return change(book, args, { ...io, show: (text) => io.err(text) }, (workbook): Operation[] => [
    { op: 'set-chart', name, chart: givenChart(workbook, args.of as string, args) },
  ])
}

const CHART_COLUMNS = ['chart', 'of', 'where', 'x', 'series', 'fit'].map((name) => ({ name, type: 'text' }))

/** Says which charts there are, and how to draw one. */
async function listCharts(workbook: WorkbookView, book: string, args: ChartArguments, io: Io): Promise<undefined> {
  const [first] = workbook.charts
  const { to: _, ...asTable } = args
  if (first === undefined) {
    const next = `mellow chart ${book} <name> --of <table or report> --x … --line … --keep`
    if (outputFormat(asTable, io) === 'table') io.show(`There is no chart yet. Keep one: ${next}\n`)
    else io.err(`There is no chart yet. Keep one: ${next}\n`)
    return
  }
  const records = workbook.charts.map((chart) => {
    const { table, report, where = null, x = null, series, fit } = workbook.chartDefinition(chart)
    const drawn = series.map(({ name, formula, kind, axis }) => `${kind} ${name ?? formula}${axis === 'right' ? ' (right)' : ''}`)
    const curve = fit === undefined ? null : `${fit.series}: ${fit.coefficients?.join(', ') ?? fit.degree ?? 1}`
    return { chart, of: table ?? `report:${report}`, where, x, series: drawn.join(', '), fit: curve }
  })
  await writeResult(recordRows(CHART_COLUMNS, records), asTable, io)
  if (args.findings !== 'json') io.err(`Draw one: mellow chart ${book} ${printName(first)} -o ${first}.svg\n`)
}
