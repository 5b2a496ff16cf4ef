import type { Cell } from '../../columns/index.js'
import { refusal } from '../../findings/index.js'
import { printName, type ValueType } from '../../values/index.js'
import type { ColumnModel, TableModel } from '../model.js'
import type { Transaction } from '../transaction.js'
import { usersOf } from './remove-column.js'

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
  { name, id }: { readonly name: string; readonly id?: number | undefined },
  formula: string | null,
  declared: ValueType | null,
): { column: ColumnModel; former: FormerSingle | null } {
  const known = owner.find(name)
  if (known === undefined) {
    const column: ColumnModel = {
      id: transaction.model.takeColumnId(id),
      name: name.normalize('NFC'),
      type: declared,
      declared: declared !== null,
      formula: formula === null ? null : { text: formula, checked: null },
      original: null,
      properties: {},
    }
    transaction.gone.delete(column.id)
    owner.insert(column)
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
    known.formula = null
    transaction.retyped.add(known)
  }
  if (formula !== null) {
    known.formula = { text: formula, checked: null }
    transaction.unbound.set(known, owner)
  }
  known.declared = declared !== null
  return { column: known, former }
}

/** Takes a named value or a tally away; refused while formulas read it. */
export function removeSingle(transaction: Transaction, owner: TableModel, name: string): { column: ColumnModel; cell: Cell } {
  const column = owner.column(name)
  const users = usersOf(transaction, column)
  if (users.length > 0 && !transaction.isTurn) {
    const names = users.map((user) => `${printName(user.table.name)}.${printName(user.column.name)}`).join(', ')
    throw refusal('column-in-use', { name: printName(column.name), users: names }, { table: owner.name, column: column.name })
  }
  const cell = owner.store.column(column.id)?.read(0) ?? null
  transaction.engine.forget(column.id)
  transaction.gone.add(column.id)
  transaction.unbound.delete(column)
  transaction.retyped.delete(column)
  transaction.dirtyIn(owner).cells.delete(column.id)
  owner.store.dropColumn(column.id)
  owner.remove(column)
  return { column, cell }
}
