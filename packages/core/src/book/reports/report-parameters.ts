import { nearestName, refusal } from '../../findings/index.js'
import { foldName, printName } from '../../values/index.js'
import type { ReportModel } from '../model/index.js'
import type { GroupedView, ViewParameter } from '../schemas/index.js'

/** Values of parameters by their names. */
export type ParameterValues = Readonly<Record<string, NonNullable<ViewParameter['value']>>>

/** The view of a report with values for its parameters. */
export function withParameters({ name, view }: ReportModel, given: ParameterValues): GroupedView {
  const { parameters = [] } = view
  const wanted = new Map(Object.entries(given).map(([of, value]) => [foldName(of), { of, value }]))
  const filled = parameters.map((one) => {
    const known = wanted.get(foldName(one.name))
    wanted.delete(foldName(one.name))
    return known === undefined ? one : { ...one, value: known.value }
  })
  const [stray] = wanted.values()
  if (stray === undefined) return { ...view, parameters: filled }
  const near = nearestName(
    stray.of,
    parameters.map((one) => one.name),
  )
  const hint = near === undefined ? '' : ` Nearest name: ${printName(near)}.`
  const reason = `it has no parameter ${printName(stray.of)}.${hint}`
  throw refusal('bad-operation', { place: `The report ${printName(name)}`, reason })
}
