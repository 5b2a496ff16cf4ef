import { nearestName, refusal } from '../../findings/index.js'
import { foldName, printName } from '../../values/index.js'
import type { ChartModel } from './chart-model.js'
import type { ReportModel } from './report-model.js'

/** What is kept to be looked at. */
export type KeptView = ReportModel | ChartModel

/** The report or chart of a name, in any case, or a refusal that suggests the nearest. */
export function keptView<View extends KeptView>(views: ReadonlyMap<string, View>, kind: View['kind'], name: string): View {
  const found = views.get(foldName(name))
  if (found !== undefined) return found
  const near = nearestName(
    name,
    Array.from(views.values(), (one) => one.name),
  )
  const hint = near === undefined ? '' : ` Nearest name: ${printName(near)}.`
  throw refusal(`unknown-${kind}`, { name: printName(name), hint })
}
