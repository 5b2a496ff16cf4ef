import type { Engine } from '../../engine/index.js'
import type { Model } from '../model/index.js'
import { tableOfChart } from '../operations/index.js'
import type { ParameterValues } from '../reports/index.js'
import { type ChartDefinition, chartShape, readGiven } from '../schemas/index.js'
import type { ChartData } from './chart-types.js'
import { pointsOfGroups } from './groups-of-chart.js'
import { pointsOfRows } from './rows-of-chart.js'

/**
 * The points of a chart.
 *
 * @param parameters - values of the parameters of its report, by name
 * @throws Refusal for unknown names and fields, formulas with mistakes, series that are no numbers, and a total among bars of
 *   its parts
 */
export function chartData(model: Model, engine: Engine, given: ChartDefinition, parameters: ParameterValues): ChartData {
  const definition = readGiven('the chart', chartShape, given)
  const table = tableOfChart(model, definition)
  return table === null ? pointsOfGroups(model, engine, definition, parameters) : pointsOfRows(model, engine, table, definition)
}
