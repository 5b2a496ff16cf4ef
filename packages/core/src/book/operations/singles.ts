import type { Cell } from '../../columns/index.js'
import { writeCellValue } from '../../columns/index.js'
import { refusal } from '../../findings/index.js'
import { printName, type ValueType } from '../../values/index.js'
import type { TableModel } from '../model/index.js'
import { ColumnModel, functionsWith, usersOf, viewsWith, viewWords } from '../model/index.js'
import type { Transaction } from '../transaction/index.js'

/** What a named value or tally was before. */
export interface FormerSingle {
  readonly formula: string | null
  readonly type: ValueType | null
  readonly cell: Cell
}

/** Makes a named value or a tally, or gives one that exists another formula or none. */
export function defineSingle(
  transaction: Transaction,
  owner: TableModel,
  { name, id, before }: { readonly name: string; readonly id?: number | undefined; readonly before?: string | undefined },
  formula: string | null,
  declared: ValueType | null,
): { column: ColumnModel; former: FormerSingle | null } {
  const known = owner.find(name)
  if (known === undefined) {
    const made = transaction.model.takeColumnId(id)
    const column = new ColumnModel({ id: made, name, type: declared ?? undefined, formula: formula ?? undefined })
    transaction.gone.delete(column.id)
    owner.insert(column, before === undefined ? undefined : owner.column(before))
    if (formula !== null) transaction.unbound.set(column, owner)
    return { column, former: null }
  }
  const former = {
    formula: known.formula?.text ?? null,
    type: known.type,
    cell: owner.store.column(known.id)?.read(0) ?? null,
  }
  if (formula === null && known.formula !== null) {
    transaction.engine.forget(known.id)
    transaction.unbound.delete(known)
    known.setFormula(null)
    transaction.retyped.add(known)
  }
  if (formula !== null) {
    known.setFormula(formula)
    transaction.unbound.set(known, owner)
  }
  known.retype(known.type, declared !== null)
  return { column: known, former }
}

/** Takes a named value or a tally away; refused while formulas read it. */
export function removeSingle(transaction: Transaction, owner: TableModel, name: string): void {
  const column = owner.column(name)
  const users = transaction.isUndoRedo ? [] : usersOf(transaction.model, column)
  const views = transaction.isUndoRedo ? [] : viewsWith(transaction.model, column)
  const functions = transaction.isUndoRedo ? [] : functionsWith(transaction.model, column)
  if (users.length + functions.length + views.length > 0) {
    const names = [
      ...users.map((user) => `${printName(user.table.name)}.${printName(user.column.name)}`),
      ...functions.map((one) => `function ${one.name}`),
      ...views.map(viewWords),
    ].join(', ')
    throw refusal('column-in-use', { name: printName(column.name), users: names }, { table: owner.name, column: column.name })
  }
  dropSingle(transaction, owner, column)
}

/** Takes a named value or a tally away, no matter what reads it, and notes how it comes back. */
export function dropSingle(transaction: Transaction, owner: TableModel, column: ColumnModel): void {
  const { name, id, type, formula, properties } = column
  const after = owner.after(column)?.name
  const place = { id, ...(after !== undefined && { before: after }) }
  const cell = owner.store.column(id)?.read(0) ?? null
  transaction.engine.forget(id)
  transaction.gone.add(id)
  transaction.unbound.delete(column)
  transaction.retyped.delete(column)
  transaction.dirtyIn(owner).cells.delete(id)
  owner.store.dropColumn(id)
  owner.remove(column)
  if (owner.role === 'tallies')
    transaction.undoWith({
      op: 'set-tally',
      table: owner.name,
      name,
      formula: formula?.text ?? 'blank',
      ...(properties as object),
      ...place,
    })
  else if (formula !== null) transaction.undoWith({ op: 'set-value', name, formula: formula.text, ...place })
  else {
    const value = type === null ? null : writeCellValue(cell, type)
    transaction.undoWith({ op: 'set-value', name, value, ...(type !== null && { type }), ...place })
  }
}

/** Makes a calculated named value one that is typed, with the value it has. */
export function detachSingle(transaction: Transaction, column: ColumnModel): void {
  const { formula, name } = column
  if (formula === null) return
  transaction.undoWith({ op: 'set-value', name, formula: formula.text })
  column.setFormula(null)
  transaction.engine.forget(column.id)
  transaction.unbound.delete(column)
  transaction.retyped.add(column)
  transaction.findingsDue.add(column)
}
