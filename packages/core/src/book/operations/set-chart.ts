import { refusal } from '../../findings/index.js'
import { foldName } from '../../values/index.js'
import { ChartModel, keptView, type Model, type RowsTable } from '../model/index.js'
import { type ChartDefinition, type RemoveChart, removeChartSchema, type SetChart, setChartSchema } from '../schemas/index.js'
import { defineOperation } from './define.js'
import { nameAfter, placeNamed } from './placed-names.js'

export const setChart = /* @__PURE__ */ defineOperation<SetChart>({
  schema: setChartSchema,
  apply: (transaction, operation) => {
    const { model } = transaction
    const { name, before } = operation
    const definition = operation.chart as ChartDefinition
    const former = model.charts.get(foldName(name))
    const chart = new ChartModel(former?.name ?? name, tableOfChart(model, definition), definition)
    if (before !== undefined) keptView(model.charts, 'chart', before)
    transaction.applied.push(operation)
    if (former === undefined) transaction.undoWith({ op: 'remove-chart', name: chart.name })
    else transaction.undoWith(former.operation)
    placeNamed(model.charts, chart, former === undefined ? before : undefined)
  },
})

export const removeChart = /* @__PURE__ */ defineOperation<RemoveChart>({
  schema: removeChartSchema,
  apply: (transaction, operation) => {
    const { charts } = transaction.model
    const chart = keptView(charts, 'chart', operation.name)
    const before = nameAfter(charts, chart)
    charts.delete(foldName(chart.name))
    transaction.applied.push(operation)
    transaction.undoWith({ ...chart.operation, ...(before !== undefined && { before }) })
  },
})

/**
 * The table whose rows a chart draws; null for the groups of a report.
 *
 * @throws Refusal for a table that there is not, and for a chart of neither or of both
 */
export function tableOfChart(model: Model, { table, report }: ChartDefinition): RowsTable | null {
  if ((table === undefined) === (report === undefined))
    throw refusal('bad-operation', { place: 'the chart', reason: 'it draws a table or a report, one of the two.' })
  return table === undefined ? null : model.table(table)
}
