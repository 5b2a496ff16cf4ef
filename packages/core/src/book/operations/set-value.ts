import * as v from 'valibot'
import { refusal } from '../../findings/index.js'
import { printName, VALUE_TYPES } from '../../values/index.js'
import { type CellValue, readCellValue, typeOfValue, writeCellValue } from '../cell-values.js'
import { defineOperation } from './define.js'
import { Id, Name, Text } from './shapes.js'
import { defineSingle, removeSingle } from './singles.js'

const shape = v.strictObject({
  op: v.literal('set-value'),
  name: Name,
  /** The value; either this or a formula. */
  value: v.optional(v.custom<CellValue>((value) => value !== undefined, 'expected a value; blank is null')),
  formula: v.optional(Text),
  /** The type of a value that does not show it, such as a date. */
  type: v.optional(v.picklist(VALUE_TYPES)),
  /** The one it stands before; at the end when not given. */
  before: v.optional(Name),
  /** Its id, as journals carry it; given anew when left out. */
  id: v.optional(Id),
})

/** A named value: typed, or calculated by a formula over whole tables. */
export type SetValue = v.InferOutput<typeof shape>

export const setValue = defineOperation<SetValue>({
  op: 'set-value',
  shape,
  apply: (transaction, operation) => {
    const { model, engine } = transaction
    const { values } = model
    const { name, value, formula, type } = operation
    if ((value === undefined) === (formula === undefined))
      throw refusal('bad-operation', { place: 'set-value', reason: 'give a value or a formula.' })
    const storedType = formula !== undefined ? null : (type ?? typeOfValue(value as CellValue) ?? values.find(name)?.type ?? null)
    const place = `value:${printName(name)}`
    const cell = storedType === null ? null : readCellValue(value, storedType, place, engine.surroundings.zone)
    const { column, former } = defineSingle(transaction, values, operation, formula ?? null, type ?? null)
    if (formula === undefined) {
      const storage = values.store.column(column.id)
      if (storedType !== null && (column.type !== storedType || storage === undefined)) {
        column.type = storedType
        values.store.makeColumn(column.id, storedType)
        transaction.retyped.add(column)
      }
      values.store.column(column.id)?.write(0, cell)
      transaction.dirtyIn(values).touchCell(column.id, 0)
    }
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

const removeShape = v.strictObject({ op: v.literal('remove-value'), name: Name })

/** Takes a named value away that no formula reads. */
export type RemoveValue = v.InferOutput<typeof removeShape>

export const removeValue = defineOperation<RemoveValue>({
  op: 'remove-value',
  shape: removeShape,
  apply: (transaction, operation) => {
    removeSingle(transaction, transaction.model.values, operation.name)
    transaction.applied.push(operation)
  },
})
