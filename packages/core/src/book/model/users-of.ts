import { refusal } from '../../findings/index.js'
import { type CheckedFormula, type ColumnId, isSameName, somePart } from '../../formula/index.js'
import { printName } from '../../values/index.js'
import { type ColumnModel, formulaOf } from './column-model.js'
import type { FunctionModel } from './function-model.js'
import type { KeptView } from './kept-view.js'
import type { Model, Owned } from './model.js'

/**
 * The columns whose formulas name one, or stand for it under its own name. Those that take it in by a tag do without it once
 * it is gone.
 */
export function usersOf(model: Model, column: ColumnModel): Owned[] {
  return [...model.columns()].filter(({ column: other }) => {
    const formula = formulaOf(other)
    if (other === column || formula === null) return false
    const { checked } = formula
    // A formula that is not checked yet names its missing column at the end of the call.
    return other.original === column.id || (checked !== null && namesColumn(checked, column.id))
  })
}

/** The columns whose formulas call an own function by its name. */
export function usersOfFunction(model: Model, name: string): Owned[] {
  return [...model.columns()].filter(({ column }) => {
    const checked = formulaOf(column)?.checked
    return checked != null && callsFunction(checked, name)
  })
}

/** True when a formula calls an own function by its name. */
export function callsFunction({ functions }: CheckedFormula, name: string): boolean {
  return functions.some((one) => isSameName(one.name, name))
}

/** The own functions whose formulas read a named value. */
export function functionsWith(model: Model, { id }: ColumnModel): FunctionModel[] {
  return [...model.functions.all.values()].filter(({ checked }) => checked !== null && namesColumn(checked, id))
}

/** The reports and charts with a formula that names a column, tally or value. */
export function viewsWith(model: Model, { id }: ColumnModel): KeptView[] {
  return viewsReading(model, (checked) => namesColumn(checked, id))
}

/** The reports and charts with a formula of which something holds. */
export function viewsReading(model: Model, test: (checked: CheckedFormula) => boolean): KeptView[] {
  return knownViews(model).filter(({ formulas }) => formulas.some(({ checked }) => checked !== null && test(checked)))
}

/**
 * The reports and charts, for someone who has to know what they read.
 *
 * @throws Refusal where they were not checked
 */
export function knownViews(model: Model): KeptView[] {
  const [carried] = model.carriedViews
  if (carried === undefined) return [...model.views()]
  const reason = 'it is carried here, not read: use Workbook.'
  throw refusal('bad-operation', { place: printName(carried.name), reason })
}

/** How a report or chart is named where it uses something. */
export function viewWords({ kind, name }: KeptView): string {
  return `${kind} ${printName(name)}`
}

/** True when a formula names a column, tally or value, other than by a tag. */
export function namesColumn({ references, expression }: CheckedFormula, id: ColumnId): boolean {
  return (
    references.some((one) => one.column === id) || somePart(expression, (part) => part.kind === 'single' && part.column === id)
  )
}
