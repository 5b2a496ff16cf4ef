import { displayOf } from '../../display/index.js'
import type { Engine } from '../../engine/index.js'
import { Refusal } from '../../findings/index.js'
import { foldName, printName } from '../../values/index.js'
import { keptView, type Model, plainName, type ReportModel, seriesName } from '../model/index.js'
import type { QueryColumn } from '../queries/index.js'
import {
  columnNamed,
  type GroupedResult,
  isReadOfTotal,
  type KnownView,
  knownView,
  laidOut,
  lineLabels,
  type ParameterValues,
  resultOf,
  rowsOf,
  type ViewColumn,
  type ViewLine,
  valuesAcross,
  withParameters,
} from '../reports/index.js'
import type { ChartDefinition, ChartSeries } from '../schemas/index.js'
import { badChart, refuseCrowd, refuseMany, refuseNames, refuseTotal, refuseType } from './chart-refusals.js'
import type { ChartData, ChartSeriesData } from './chart-types.js'
import { inOrder, isScaled, seriesData, withPlace } from './points.js'

/** A chart of groups with its names found. */
interface KnownGroups {
  readonly known: KnownView
  /** The level whose groups are drawn, from 1. */
  readonly level: number
  readonly x: ViewColumn
  readonly series: readonly ViewColumn[]
}

/**
 * Checks a chart of the groups of a report.
 *
 * @param isAsked - whether parameters without a value are asked for later
 * @throws Refusal for unknown names, series that are no numbers, and a total among bars of its parts
 */
export function knownGroups(
  model: Model,
  engine: Engine,
  definition: ChartDefinition,
  { parameters, isAsked }: { readonly parameters: ParameterValues; readonly isAsked: boolean },
): KnownGroups {
  const { report: name = '', where, x, fit, series } = definition
  if (where !== undefined) throw badChart('the condition of a report is its own.', 'where')
  if (fit !== undefined) throw badChart('a curve goes through the rows of a table: draw the table.', 'fit')
  refuseNames(definition)
  const report = keptView(model.reports, 'report', name)
  const known = viewOf(model, engine, report, parameters, isAsked)
  const { columns, view, names } = known
  const level = levelNamed(report, known, definition.level)
  const all = [...columns.keyColumns, ...columns.shown]
  const along = x === undefined ? (columns.keyColumns[level - 1] as ViewColumn) : columnNamed(all, plainName(x), view)
  refuseRowColumn(along)
  const over = series.map((one) => {
    const column = columnNamed(all, plainName(one.formula), view)
    refuseRowColumn(column)
    refuseType(column.type, seriesName(one), names.table.name)
    return column
  })
  refuseTotal(definition, (_, at) => {
    const line = view.lines?.findIndex((one) => foldName(one.name) === foldName(over[at]?.name ?? '')) ?? -1
    const checked = names.formulas.get(`lines ${line}`)
    return checked !== undefined && isReadOfTotal(checked.expression)
  })
  return { known, level, x: along, series: over }
}

function viewOf(model: Model, engine: Engine, report: ReportModel, parameters: ParameterValues, isAsked: boolean): KnownView {
  try {
    // Groups alone are drawn, each with those around it, whatever else the report shows.
    return knownView(model, engine, { ...withParameters(report, parameters), details: 'none', flat: false }, isAsked)
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    const [first, ...others] = error.findings.map((one) => ({ ...one, report: report.name }))
    throw first === undefined ? error : new Refusal([first, ...others])
  }
}

function levelNamed({ name }: ReportModel, { columns }: KnownView, wanted: string | undefined): number {
  const names = columns.keyColumns.map((column) => column.name)
  if (names.length === 0) throw badChart(`the report ${printName(name)} has no groups to draw.`, 'report')
  if (wanted === undefined) return names.length
  const at = names.findIndex((one) => foldName(one) === foldName(wanted))
  if (at >= 0) return at + 1
  const levels = names.map(printName).join(', ')
  throw badChart(`the report ${printName(name)} has no level ${printName(wanted)}; its levels: ${levels}.`, 'level')
}

/** A column of rows has no value on groups. */
function refuseRowColumn({ name, level, ofRows, line }: ViewColumn): void {
  if (level === undefined && ofRows === undefined && line === undefined)
    throw badChart(`${printName(name)} is a column of rows, which has no value on groups: draw a tally of it.`)
}

/** The points of a chart of groups. */
export function pointsOfGroups(
  model: Model,
  engine: Engine,
  definition: ChartDefinition,
  parameters: ParameterValues,
): ChartData {
  const { known, level, x, series } = knownGroups(model, engine, definition, { parameters, isAsked: false })
  const rows = rowsOf(known)
  try {
    const parts = { ...known, rows }
    const result = resultOf(parts, laidOut(parts))
    const acrossNames = known.columns.across === null ? null : valuesAcross(parts).map(({ name }) => name)
    const drawn = definition.series.flatMap((one, at) =>
      drawnColumns(result, one, series[at] as ViewColumn, acrossNames, definition),
    )
    const { table, where, parameters: given, rowCount, keptCount } = result
    refuseCrowd(drawn.length)
    const points = pointsOfLines(result, { level, x, drawn, definition, locale: engine.surroundings.locale })
    return { definition, table, where, parameters: given, rowCount, keptCount, ...points, fit: null }
  } finally {
    rows.end()
  }
}

/** A column of the result to be drawn. */
interface DrawnColumn {
  readonly series: ChartSeries
  readonly name: string
  readonly column: QueryColumn
}

/** The columns that a series draws: one, or one a value of the key that goes across. */
function drawnColumns(
  { columns }: GroupedResult,
  series: ChartSeries,
  { name, level }: ViewColumn,
  across: readonly string[] | null,
  { series: all, total }: ChartDefinition,
): DrawnColumn[] {
  const named = (wanted: string): QueryColumn => columns.find((one) => one.name === wanted) as QueryColumn
  if (across === null || level !== undefined) return [{ series, name: seriesName(series), column: named(name) }]
  const ofValue = (value: string): string => (all.length === 1 ? value : `${value} ${seriesName(series)}`)
  const values = across.map((value) => ({ series, name: ofValue(value), column: named(`${value} ${name}`) }))
  return total === true ? [...values, { series, name: seriesName(series), column: named(name) }] : values
}

interface Asked {
  readonly level: number
  readonly x: ViewColumn
  readonly drawn: readonly DrawnColumn[]
  readonly definition: ChartDefinition
  readonly locale: string
}

/** A group that is drawn. */
interface DrawnLine {
  readonly slot: number
  readonly line: ViewLine
  /** What the groups around it are called, the outermost first. */
  readonly outer: readonly string[]
  readonly label: string
}

function pointsOfLines(result: GroupedResult, asked: Asked): Pick<ChartData, 'x' | 'series' | 'leftOut'> {
  const { x, drawn, definition } = asked
  const column = result.columns.find((one) => one.name === x.name) as QueryColumn
  const isKey = x.level === asked.level
  const lines = linesOfLevel(result, asked)
  if (!isScaled(column.type)) {
    const ordered = byOrder(lines, asked)
    const slots = Int32Array.from(ordered, ({ slot }) => slot)
    const labels = isKey ? ordered.map(({ outer, label }) => [...outer, label].join(' · ')) : textsOf(column, slots, asked.locale)
    const categories = [...new Set(labels)]
    refuseMany(categories.length, x.name)
    const places = Int32Array.from(labels, (label) => categories.indexOf(label))
    return {
      x: { column, categories, places },
      series: drawn.map((one) => seriesData(one.series, one.name, one.column, slots)),
      leftOut: { blanks: 0, errors: 0, others: 0 },
    }
  }
  const groups = lines.filter(({ line }) => line.kind === 'group')
  const { leftOut } = withPlace(
    Int32Array.from(groups, ({ slot }) => slot),
    column.storage,
  )
  // Groups around the level part what would else stand several times at one x.
  const parted = new Map<string, DrawnLine[]>()
  for (const one of groups) {
    const part = isKey ? one.outer.join(' · ') : ''
    const known = parted.get(part)
    if (known === undefined) parted.set(part, [one])
    else known.push(one)
  }
  const several = drawn.length > 1
  refuseCrowd(parted.size * drawn.length)
  const series = [...parted].flatMap(([part, list]) => {
    const placed = withPlace(
      Int32Array.from(list, ({ slot }) => slot),
      column.storage,
    ).slots
    return drawn.map((one): ChartSeriesData => {
      const { order } = definition
      const by = order === undefined || foldName(order.by) === 'x' ? column : one.column
      const slots = inOrder(placed, by.storage, order?.descending === true)
      const name = part === '' ? one.name : several ? `${part} · ${one.name}` : part
      return seriesData(one.series, name, one.column, slots)
    })
  })
  const others = lines.length - groups.length
  return { x: { column, categories: null, places: new Int32Array(0) }, series, leftOut: { ...leftOut, others } }
}

/** The lines that are drawn, in the order of the report: the groups of a level, the others of it, and the whole if wanted. */
function linesOfLevel(result: GroupedResult, { level, definition, locale }: Asked): DrawnLine[] {
  const labels = lineLabels(result, locale)
  const outer: string[] = []
  const found: DrawnLine[] = []
  for (const [at, line] of result.lines.entries()) {
    const label = labels[at] as string
    if (line.kind === 'whole') {
      if (definition.total === true) found.push({ slot: result.slots[at] as number, line, outer: [], label })
    } else if (line.level === level && line.kind !== 'row')
      found.push({ slot: result.slots[at] as number, line, outer: outer.slice(0, level - 1), label })
    else if (line.level < level) outer[line.level - 1] = label
  }
  return found
}

/** Lines in the order of a series; the whole stays at the end. */
function byOrder(lines: readonly DrawnLine[], { definition, drawn }: Asked): readonly DrawnLine[] {
  const { order } = definition
  const by = drawn.find(({ series }) => order !== undefined && foldName(seriesName(series)) === foldName(order.by))
  const groups = lines.filter(({ line }) => line.kind !== 'whole')
  const whole = lines.filter(({ line }) => line.kind === 'whole')
  if (by === undefined) return order?.descending === true ? [...groups.toReversed(), ...whole] : lines
  const bySlot = new Map(lines.map((one) => [one.slot, one]))
  const sorted = inOrder(
    Int32Array.from(groups, ({ slot }) => slot),
    by.column.storage,
    order?.descending === true,
  )
  return [...Array.from(sorted, (slot) => bySlot.get(slot) as DrawnLine), ...whole]
}

function textsOf(column: QueryColumn, slots: Int32Array, locale: string): string[] {
  const show = displayOf(column, locale) ?? String
  return Array.from(slots, (slot) => {
    const cell = column.storage?.read(slot) ?? null
    return cell === null || typeof cell === 'object' ? '(blank)' : show(cell)
  })
}
