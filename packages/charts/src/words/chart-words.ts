import {
  type ChartData,
  type ChartSeriesData,
  counted,
  displayNumber,
  equationOf,
  isSameName,
  seriesName,
  viewHead,
} from 'mellow-abacus'
import { quantityTitle } from './quantity-words.js'

/** What stands above and below a chart. */
export interface ChartWords {
  readonly title: string
  /** What it is of, and the curve through it. */
  readonly subtitle: readonly string[]
  readonly x: string
  readonly left: string | null
  readonly right: string | null
  /** What is not to be seen: gaps, points left out, points that could not be told apart. */
  readonly notes: readonly string[]
}

/** What is known of points that are not all to be seen. */
interface HiddenPoints {
  readonly reducedFrom: number | null
  /** Names of series of bars that cover one another. */
  readonly covered: readonly string[]
}

/** Series whose names stand at one axis; more are told by the legend alone. */
const MOST_NAMED = 3

/** The words of a chart; what is not given is made of names, symbols and units. */
export function chartWords(data: ChartData, { reducedFrom, covered }: HiddenPoints, columns: number): ChartWords {
  const { definition, x, series, fit } = data
  const left = series.filter(({ axis }) => axis === 'left')
  const right = series.filter(({ axis }) => axis === 'right')
  const xTitle = definition.xTitle ?? quantityTitle(x.column.name, x.column)
  return {
    title: definition.title ?? `${namesOf(data)} by ${x.column.properties.heading ?? x.column.name}`,
    subtitle: [viewHead(data), ...(fit === null ? [] : [fitWords(fit)])],
    x: xTitle,
    left: left.length === 0 ? null : (definition.leftTitle ?? axisTitle(left, namesOn(definition, 'left'))),
    right: right.length === 0 ? null : (definition.rightTitle ?? axisTitle(right, namesOn(definition, 'right'))),
    notes: [...notesOf(data), ...coveredNotes(data, covered), ...reducedNotes(reducedFrom, columns)],
  }
}

/** What a series is called in the legend. */
export function legendLabel({ name, axis, column }: ChartSeriesData, all: readonly ChartSeriesData[]): string {
  const heading = all.filter((one) => one.column === column).length === 1 ? (column.properties.heading ?? name) : name
  const units = new Set(all.map((one) => one.column.unit))
  const unit = units.size > 1 && column.unit !== null ? ` (${column.unit})` : ''
  const hasSides = new Set(all.map((one) => one.axis)).size > 1
  return `${heading}${unit}${hasSides && axis === 'right' ? ', right' : ''}`
}

/** The names of what was asked for on one side. */
function namesOn({ series }: ChartData['definition'], side: 'left' | 'right'): string[] {
  return series.filter(({ axis = 'left' }) => axis === side).map(seriesName)
}

function namesOf({ definition, series }: ChartData): string {
  const names = definition.series.map((one) => {
    const name = seriesName(one)
    return series.find((drawn) => isSameName(drawn.name, name))?.column.properties.heading ?? name
  })
  return names.length > MOST_NAMED ? `${names.slice(0, MOST_NAMED).join(', ')} and others` : names.join(', ')
}

/** What an axis is of: the series by name where they are few, else their unit alone. */
function axisTitle(series: readonly ChartSeriesData[], asked: readonly string[]): string {
  const [first] = series as readonly [ChartSeriesData, ...ChartSeriesData[]]
  if (series.length === 1) return quantityTitle(first.name, first.column)
  const units = [...new Set(series.map(({ column }) => column.unit ?? ''))]
  const unit = units.filter((one) => one !== '').join(', ')
  // A tally that goes across is several series, and one name.
  if (asked.length > MOST_NAMED) return unit === '' ? `${asked.length} series` : unit
  const names = (series.length === asked.length ? series.map(({ name }) => name) : asked).join(', ')
  return unit === '' ? names : `${names} (${unit})`
}

function fitWords({ curve }: NonNullable<ChartData['fit']>): string {
  const { rSquared } = curve
  const quality = rSquared === null ? '' : `, R² ${displayNumber(Number(rSquared.toPrecision(4)))}`
  return `curve: ${equationOf(curve)}${quality}`
}

function notesOf({ definition, x, series, leftOut }: ChartData): string[] {
  const notes: string[] = []
  for (const { name, blanks, errors } of series) {
    if (blanks + errors === 0) continue
    const parts = [...(blanks > 0 ? [counted(blanks, 'blank')] : []), ...(errors > 0 ? [counted(errors, 'error')] : [])]
    notes.push(`${name}: ${parts.join(' and ')} ${blanks + errors === 1 ? 'is a gap' : 'are gaps'}.`)
  }
  const what = definition.report === undefined ? 'row' : 'group'
  for (const [count, is] of [
    [leftOut.blanks, 'is blank'],
    [leftOut.errors, 'is an error'],
  ] as const)
    if (count > 0) notes.push(`${counted(count, what)} left out, where ${x.column.name} ${is}.`)
  if (leftOut.others > 0) notes.push(`The line of the other groups is left out: it has no place along ${x.column.name}.`)
  for (const side of ['left', 'right'] as const) {
    const units = new Set(series.filter(({ axis }) => axis === side).map(({ column }) => column.unit ?? 'no unit'))
    if (units.size > 1) notes.push(`The axis on the ${side} is of several units: ${[...units].join(', ')}.`)
  }
  return notes
}

/** Bars that cover one another show the largest alone. */
function coveredNotes({ x }: ChartData, covered: readonly string[]): string[] {
  if (covered.length === 0) return []
  return [
    `${covered.join(', ')}: several rows have one ${x.column.name}, and the largest of their bars covers the others; a report adds them up.`,
  ]
}

function reducedNotes(from: number | null, columns: number): string[] {
  if (from === null) return []
  const drawn = `the first, last, smallest and largest in each of ${counted(columns, 'column')}`
  return [`${counted(from, 'point')} a series; drawn are ${drawn}.`]
}
