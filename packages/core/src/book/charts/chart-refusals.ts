import { nearestName, type Refusal, refusal } from '../../findings/index.js'
import { typeWords } from '../../formula/index.js'
import { foldName, printName, type ValueType } from '../../values/index.js'
import { seriesName } from '../model/index.js'
import type { ChartDefinition, ChartSeries } from '../schemas/index.js'

/** A refusal of what a chart says in one of its fields. */
export function badChart(reason: string, field?: string): Refusal {
  return refusal('bad-operation', { place: field === undefined ? 'the chart' : `the chart, field ${field}`, reason })
}

/** Most values that stand side by side, and most series. */
const MOST_BESIDE = 200
const MOST_SERIES = 24

/** Refuses more values than can stand side by side. */
export function refuseMany(count: number, name: string): void {
  if (count <= MOST_BESIDE) return
  throw badChart(
    `${printName(name)} has ${count} different values, and at most ${MOST_BESIDE} stand side by side: keep the largest in a report, or give a condition.`,
  )
}

/** Refuses more series than can be told apart. */
export function refuseCrowd(count: number): void {
  if (count <= MOST_SERIES) return
  throw badChart(
    `${count} series would be drawn, and at most ${MOST_SERIES} can be told apart: keep the largest groups, or give a condition.`,
  )
}

/** Refuses a series that is no number. */
export function refuseType(type: ValueType | 'blank' | 'unknown' | null, name: string, table: string): void {
  if (type === 'number' || type === 'integer' || type === 'blank' || type === 'unknown' || type === null) return
  const parameters = { place: `The series ${printName(name)}`, expected: typeWords('number'), received: typeWords(type) }
  throw refusal('type-mismatch', parameters, { table, column: name })
}

/** Refuses bars of a total beside bars of its parts on one axis, unless it is asked for. */
export function refuseTotal({ series, total }: ChartDefinition, isTotal: (series: ChartSeries, at: number) => boolean): void {
  if (total === true) return
  const bars = series.map((one, at) => ({ one, at })).filter(({ one }) => one.kind === 'bar')
  const hiding = bars.find(
    ({ one, at }) =>
      isTotal(one, at) && bars.some((other) => other.at !== at && (other.one.axis ?? 'left') === (one.axis ?? 'left')),
  )
  if (hiding === undefined) return
  const name = seriesName(hiding.one)
  throw refusal('total-beside-parts', { name: printName(name) }, { column: name })
}

/** Refuses what a chart says of its series where there is none of that name, or two are called the same. */
export function refuseNames({ series, order, fit }: ChartDefinition): void {
  const names = series.map(seriesName)
  const twice = names.find((name, at) => names.findIndex((other) => foldName(other) === foldName(name)) < at)
  if (twice !== undefined) throw badChart(`two series are called ${printName(twice)}: give one of them a name.`, 'series')
  const known = (name: string, field: string, others: readonly string[] = []): void => {
    if ([...names, ...others].some((one) => foldName(one) === foldName(name))) return
    const near = nearestName(name, names)
    const hint = near === undefined ? '' : ` Nearest name: ${printName(near)}.`
    throw badChart(`there is no series called ${printName(name)}.${hint}`, field)
  }
  if (order !== undefined) known(order.by, 'order', ['x'])
  if (fit !== undefined) known(fit.series, 'fit')
}
