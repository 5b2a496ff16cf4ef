import type { CellValue } from '../../columns/index.js'
import { writeCellValue } from '../../columns/index.js'
import { refusal } from '../../findings/index.js'
import { printName } from '../../values/index.js'
import { readCellValue, typeOfValue } from '../model/index.js'
import { type JournaledSetValue, type RemoveValue, removeValueSchema, setValueSchema } from '../schemas/index.js'
import { defineOperation } from './define.js'
import { defineSingle, removeSingle } from './singles.js'

export const setValue = defineOperation<JournaledSetValue>({
  schema: setValueSchema,
  touches: (model, { name }) => [model.values.find(name)?.id ?? []].flat(),
  apply: (transaction, operation) => {
    const { model, engine } = transaction
    const { values } = model
    const { name, value, formula, type } = operation
    if ((value === undefined) === (formula === undefined))
      throw refusal('bad-operation', { place: 'set-value', reason: 'give a value or a formula.' })
    const storedType = formula !== undefined ? null : (type ?? typeOfValue(value as CellValue) ?? values.find(name)?.type ?? null)
    const place = `value:${printName(name)}`
    const cell = storedType === null ? null : readCellValue(value, storedType, () => place, engine.surroundings.zone)
    const { column, former } = defineSingle(transaction, values, operation, formula ?? null, type ?? null)
    if (formula === undefined) {
      const storage = values.store.column(column.id)
      if (storedType !== null && (column.type !== storedType || storage === undefined)) {
        column.retype(storedType)
        values.store.makeColumn(column.id, storedType)
        transaction.retyped.add(column)
      }
      values.store.column(column.id)?.write(0, cell)
      transaction.dirtyIn(values).touchCell(column.id, 0)
    }
    transaction.noteOtherValues()
    // What takes it as a constant, such as a weight, is another formula now.
    transaction.recheckReaders(column)
    transaction.applied.push({ ...operation, id: column.id })
    if (former === null) transaction.undoWith({ op: 'remove-value', name: column.name })
    else if (former.formula !== null) transaction.undoWith({ op: 'set-value', name: column.name, formula: former.formula })
    else {
      const stored = former.type === null ? null : writeCellValue(former.cell, former.type)
      const ofType = former.type === null ? {} : { type: former.type }
      transaction.undoWith({ op: 'set-value', name: column.name, value: stored, ...ofType })
    }
  },
})

export const removeValue = defineOperation<RemoveValue>({
  schema: removeValueSchema,
  apply: (transaction, operation) => {
    removeSingle(transaction, transaction.model.values, operation.name)
    transaction.applied.push(operation)
  },
})
