import type { Engine } from '../../engine/index.js'
import type { CheckedFormula } from '../../formula/index.js'
import type { Model, RowsTable } from '../model/index.js'
import type { ViewParameters } from './view-parameters.js'

/** What the formulas of a view are checked and compiled with. */
export interface ViewNames {
  readonly model: Model
  readonly engine: Engine
  readonly table: RowsTable
  readonly parameters: ViewParameters
  /** What checking gave for each formula of the view, by where it stands. */
  readonly formulas: Map<string, CheckedFormula>
}
