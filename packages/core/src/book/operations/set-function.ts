import { applyEdits, refusal } from '../../findings/index.js'
import { isSameName } from '../../formula/index.js'
import { foldName } from '../../values/index.js'
import {
  addressOf,
  callsFunction,
  FunctionModel,
  functionRenamingEdits,
  knownViews,
  type Model,
  rewriteFormula,
  scopeOfFunctions,
  usersOfFunction,
  viewsReading,
  viewWords,
} from '../model/index.js'
import {
  type RemoveFunction,
  type RenameFunction,
  removeFunctionSchema,
  renameFunctionSchema,
  type SetFunction,
  setFunctionSchema,
} from '../schemas/index.js'
import type { Transaction } from '../transaction/index.js'
import { defineOperation } from './define.js'
import { nameAfter, placeNamed } from './placed-names.js'

export const setFunction = defineOperation<SetFunction>({
  schema: setFunctionSchema,
  apply: (transaction, operation) => {
    const { model } = transaction
    const { functions } = model
    const former = functions.find(operation.name)
    const { before } = operation
    if (before !== undefined) functions.function(before)
    const made = functionOf(model, { ...operation, name: former?.name ?? operation.name })
    placeNamed(functions.all, made, former === undefined ? before : undefined)
    transaction.recheckCallers([made.name])
    transaction.applied.push(operation)
    if (former === undefined) transaction.undoWith({ op: 'remove-function', name: made.name })
    else transaction.undoWith(former.operation)
  },
})

export const removeFunction = defineOperation<RemoveFunction>({
  schema: removeFunctionSchema,
  apply: (transaction, operation) => {
    const { functions } = transaction.model
    const one = functions.function(operation.name)
    if (!transaction.isUndoRedo) refuseCalled(transaction, one.name)
    const before = nameAfter(functions.all, one)
    functions.all.delete(foldName(one.name))
    transaction.recheckCallers([one.name])
    transaction.applied.push(operation)
    transaction.undoWith({ ...one.operation, ...(before !== undefined && { before }) })
  },
})

export const renameFunction = defineOperation<RenameFunction>({
  schema: renameFunctionSchema,
  apply: (transaction, operation) => {
    const { model } = transaction
    const { functions } = model
    const former = functions.function(operation.name)
    const taken = functions.find(operation.to)
    if (taken !== undefined && taken !== former)
      throw refusal('name-taken', { place: 'The workbook', kind: 'function', name: taken.name })
    knownViews(model)
    const { name } = functionOf(model, { ...former.operation, name: operation.to })
    const all = [...functions.all.values()]
    functions.all.clear()
    for (const one of all) {
      const edits = one.calls
        .filter((call) => call.name === foldName(former.name))
        .map(({ from, to }) => ({ from, to, insert: name }))
      const formula = applyEdits(one.body.text, edits)
      const made = functionOf(model, { ...one.operation, formula, ...(one === former && { name }) })
      functions.all.set(foldName(made.name), made)
    }
    for (const { formula, owner } of model.formulas()) {
      const edits = functionRenamingEdits(formula, former.name, name)
      if (edits.length === 0) continue
      rewriteFormula(formula, edits)
      const { checked } = formula
      // A further operation of the call looks for the function by the name it has now.
      if (checked !== null)
        formula.checked = {
          ...checked,
          functions: checked.functions.map((one) => (isSameName(one.name, former.name) ? { ...one, name } : one)),
        }
      if (owner !== null && owner.column.formula !== null) transaction.rechecked.set(owner.column, owner.table)
    }
    transaction.hasOtherFunctions = true
    transaction.applied.push(operation)
    transaction.undoWith({ op: 'rename-function', name, to: former.name })
  },
})

/**
 * Makes a function from its operation.
 *
 * @throws Refusal for a name or parameters that cannot be
 */
function functionOf(model: Model, operation: Omit<SetFunction, 'op'>): FunctionModel {
  return new FunctionModel(operation, () => scopeOfFunctions(model))
}

/** What a formula calls can only go after the formula. */
function refuseCalled({ model }: Transaction, name: string): void {
  const functions = [...model.functions.all.values()].filter(({ calls }) => calls.some((one) => one.name === foldName(name)))
  const users = [
    ...usersOfFunction(model, name).map((user) => addressOf(user)),
    ...functions.map((one) => `function ${one.name}`),
    ...viewsReading(model, (checked) => callsFunction(checked, name)).map(viewWords),
  ]
  if (users.length > 0) throw refusal('function-in-use', { name, users: users.join(', ') })
}
