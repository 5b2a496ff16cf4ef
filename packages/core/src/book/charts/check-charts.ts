import type { Engine } from '../../engine/index.js'
import { Refusal } from '../../findings/index.js'
import type { CheckedFormula } from '../../formula/index.js'
import type { ChartModel, Model } from '../model/index.js'
import { changesDefinitions } from '../transaction/index.js'
import { knownGroups } from './groups-of-chart.js'
import { knownRows } from './rows-of-chart.js'

/** A call of operations, as far as charts have to do with it. */
interface Call {
  readonly engine: Engine
  readonly applied: readonly { readonly op: string }[]
}

/**
 * Checks all charts again after operations that may have changed what they draw.
 *
 * @throws Refusal naming the chart, with everything found
 */
export function checkCharts(model: Model, { engine, applied }: Call): void {
  const { charts } = model
  if (charts.size === 0 || !changesDefinitions(applied)) return
  const checked = new Map<ChartModel, ReadonlyMap<string, CheckedFormula>>()
  for (const chart of charts.values()) {
    try {
      checked.set(chart, formulasOf(model, engine, chart))
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      const [first, ...others] = error.findings.map((one) => ({ ...one, chart: chart.name }))
      throw first === undefined ? error : new Refusal([first, ...others])
    }
  }
  for (const [chart, formulas] of checked) chart.takeChecked(formulas)
}

function formulasOf(model: Model, engine: Engine, { table, definition }: ChartModel): ReadonlyMap<string, CheckedFormula> {
  if (table !== null) return knownRows(model, table, definition).formulas
  knownGroups(model, engine, definition, { parameters: {}, isAsked: true })
  return new Map()
}
