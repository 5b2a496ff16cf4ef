import type { ChartFormat, Drawing } from '@mellow-abacus/charts'
import { chartOfTexts, parseChart, type Workbook } from 'mellow-abacus'
import { chartFormatOf, type DrawingArguments } from '../../output/index.js'
import type { GivenView } from '../../reading/index.js'
import { UsageFault } from '../../shell/index.js'

/** What of the arguments of `mellow calc` says that something is drawn, and where to. */
interface GivenDrawing extends Omit<DrawingArguments, 'to'> {
  readonly chart?: string
  readonly to?: string
  readonly columns?: string
  readonly limit?: string
  readonly order: readonly string[]
}

/** Name of the report that groups are drawn by; the workbook of a calculation is gone after it. */
const GROUPS = 'groups'

/**
 * Where a drawing goes and as what; null where rows are written.
 *
 * @param isGrouped - whether groups are drawn, which have an order of their own
 */
export function drawingArguments(
  { chart, to, columns, limit, order, ...others }: GivenDrawing,
  isGrouped: boolean,
): DrawingArguments | null {
  if (chart === undefined) {
    if (to === 'svg' || to === 'png') throw new UsageFault(`--to ${to} is a drawing: say what is drawn with --chart.`)
    return null
  }
  const args = { ...others, ...(to !== undefined && { to: to as ChartFormat }) }
  if (others.output === undefined) throw new UsageFault('--chart writes a drawing: name the file with -o, such as -o chart.svg.')
  if (columns !== undefined || limit !== undefined || (!isGrouped && order.length > 0))
    throw new UsageFault(
      '--columns, --order and --limit are of rows that are written; --chart says itself what is drawn and in which order, --where which rows.',
    )
  chartFormatOf(args)
  return args
}

/** Draws what was calculated: the rows that the condition keeps, or their groups. */
export async function drawCalculated(
  book: Workbook,
  table: string,
  grouped: GivenView | null,
  { chart = '', where, locale = 'en' }: { readonly chart?: string; readonly where?: string; readonly locale?: string },
): Promise<Drawing> {
  const parts = chartOfTexts(parseChart(chart))
  const { chartDrawing } = await import('@mellow-abacus/charts')
  if (grouped === null) {
    const rows = { table, ...(where !== undefined && { where }) }
    return chartDrawing(book.chart({ ...rows, ...parts }), { locale })
  }
  book.apply({ op: 'set-report', name: GROUPS, report: { table, ...grouped.view } })
  return chartDrawing(book.chart({ report: GROUPS, ...parts }), { locale })
}
