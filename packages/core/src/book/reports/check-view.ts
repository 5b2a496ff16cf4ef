import type { Engine } from '../../engine/index.js'
import type { Checked } from '../../formula/index.js'
import { type CheckedView, type Model, scopeOf } from '../model/index.js'
import { conditionOf } from '../queries/index.js'
import type { GroupedView } from '../schemas/index.js'
import { type Arrangement, arrangementOf } from './arrangement.js'
import { type ViewColumns, viewColumns } from './view-columns.js'
import type { ViewNames } from './view-names.js'
import { ViewParameters } from './view-parameters.js'

/** A view with its names found and its formulas checked. */
export interface KnownView {
  readonly names: ViewNames
  readonly view: GroupedView
  readonly where: Checked | null
  readonly columns: ViewColumns
  readonly arrangement: Arrangement
}

/**
 * Finds the names of a view and checks its formulas.
 *
 * @param isAsked - whether parameters without a value are asked for later, and blank until then
 * @throws Refusal for unknown names, formulas with mistakes, and conditions that are not true or false
 */
export function knownView(model: Model, engine: Engine, view: GroupedView, isAsked = false): KnownView {
  const table = model.table(view.table)
  const parameters = new ViewParameters(model, table, engine.surroundings.zone, view.parameters ?? [], isAsked)
  const names: ViewNames = { model, engine, table, parameters, formulas: new Map() }
  const where = view.where === undefined ? null : conditionOf(table, view.where, parameters.scope(scopeOf(model, table)))
  if (where !== null) names.formulas.set('where', where)
  const columns = viewColumns(names, view)
  return {
    names,
    view,
    where: where === null ? null : parameters.filled(where).expression,
    columns,
    arrangement: arrangementOf(names, view, columns),
  }
}

/** What the model keeps of a view that is stored: what its formulas read, and the numbers of its columns. */
export function checkedView(model: Model, engine: Engine, view: GroupedView): CheckedView {
  const { names, columns } = knownView(model, engine, view, true)
  const ids = new Map(columns.all.map(({ name, id }) => [name, id]))
  return {
    formulas: names.formulas,
    keyIds: columns.keyColumns.map(({ id }) => id),
    tallyIds: (view.tallies ?? []).flatMap(({ name }) => ids.get(name) ?? []),
  }
}
