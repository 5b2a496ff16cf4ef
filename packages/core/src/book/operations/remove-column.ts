import { writeCellValue } from '../../columns/index.js'
import { type Fix, finding, Refusal } from '../../findings/index.js'
import type { ColumnId } from '../../formula/index.js'
import { printName } from '../../values/index.js'
import type { ColumnModel, TableModel, TableRole } from '../model/index.js'
import { type KeptView, type Owned, usersOf, viewsWith, viewWords } from '../model/index.js'
import { type RemoveColumn, removeColumnSchema } from '../schemas/index.js'
import type { Transaction } from '../transaction/index.js'
import { specOf } from './column-spec.js'
import { defineOperation } from './define.js'
import { detach } from './detach-column.js'
import { dropRule } from './set-rule.js'
import { stampsOn } from './set-stamp.js'
import { detachSingle, dropSingle } from './singles.js'

export const removeColumn = defineOperation<RemoveColumn>({
  schema: removeColumnSchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const column = table.column(operation.column)
    if (!transaction.isUndoRedo) refuseKey(transaction, table, column)
    // On the way back nothing is asked: looking through all formulas for each of thousands of columns takes minutes.
    const isAsked = !transaction.isUndoRedo || operation.dependants !== undefined
    const users = isAsked ? usersOf(transaction.model, column) : []
    const views = transaction.isUndoRedo ? [] : viewsWith(transaction.model, column)
    if (views.length > 0 || (users.length > 0 && operation.dependants === undefined)) throw inUse(table, column, users, views)
    if (operation.dependants === 'detach') detachAll(transaction, table, column, users)
    if (operation.dependants === 'remove') {
      const all = allCalculatedFrom(transaction, column)
      if (!transaction.isUndoRedo)
        for (const user of all) {
          refuseKey(transaction, user.table, user.column)
          const reading = viewsWith(transaction.model, user.column)
          if (reading.length > 0) throw inUse(user.table, user.column, [], reading)
        }
      for (const user of all) {
        if (user.table.role === 'rows') removeOne(transaction, user.table, user.column)
        else if (user.table.role === 'rules') dropRule(transaction, transaction.model.table(user.table.name), user.column)
        else dropSingle(transaction, user.table, user.column)
      }
    }
    removeOne(transaction, table, column)
    transaction.applied.push(operation)
  },
})

/** Detaches what reads a column. A tally or a rule has no value to keep, so it cannot be. */
function detachAll(transaction: Transaction, table: TableModel, column: ColumnModel, users: readonly Owned[]): void {
  const others = users.filter(({ table: { role } }) => role === 'tallies' || role === 'rules')
  if (others.length > 0) throw inUse(table, column, others, [])
  for (const user of users) {
    if (user.table.role === 'rows') detach(transaction, user.table, user.column)
    else detachSingle(transaction, user.column)
  }
}

/** A key of a link can only go after the link, and what a stamp watches after the stamp. */
function refuseKey({ model }: Transaction, table: TableModel, column: ColumnModel): void {
  const [stamp] = stampsOn(table, column)
  if (stamp !== undefined) {
    const users = `the stamp ${printName(stamp.name)}`
    const operation = { op: 'detach-column', table: table.name, column: stamp.name }
    const fixes: Fix[] = [{ title: `Detach ${users} first`, operations: [operation] }]
    throw new Refusal([
      finding('column-in-use', { name: printName(column.name), users }, { table: table.name, column: column.name, fixes }),
    ])
  }
  for (const { table: home, link } of model.links()) {
    if (!link.columns.includes(column) && !link.keys.includes(column)) continue
    const users = `link ${printName(home.name)}.${printName(link.name)}`
    const operation = { op: 'remove-link', table: home.name, name: link.name }
    const fixes: Fix[] = [{ title: `Remove the ${users} first`, operations: [operation] }]
    const place = { table: table.name, column: column.name, fixes }
    throw new Refusal([finding('column-in-use', { name: printName(column.name), users }, place)])
  }
}

/** Everything whose formula goes back to a column by names, the furthest first, so that nothing is removed under a formula. */
function allCalculatedFrom(transaction: Transaction, column: ColumnModel): Owned[] {
  const { model, engine } = transaction
  const found = new Set<ColumnId>()
  const open = [column]
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    for (const user of usersOf(model, next)) {
      if (found.has(user.column.id)) continue
      found.add(user.column.id)
      open.push(user.column)
    }
  }
  const walked = engine.columnGraph.downstream(found)
  if ('cycle' in walked) throw new Error(`a cycle is in the graph: ${walked.cycle.join(' → ')}`)
  return walked.order
    .filter((id) => found.has(id))
    .reverse()
    .map((id) => model.columnOf(id))
}

/** What is said before the name of something that is no column. */
const KIND_OF_USER: Readonly<Record<TableRole, string>> = { rows: '', tallies: 'tally ', rules: 'rule ', values: 'value ' }

/** What a report or chart uses can only go after it. */
function inUse(table: TableModel, column: ColumnModel, users: readonly Owned[], views: readonly KeptView[]): Refusal {
  const ofUsers = users.map((user) => `${KIND_OF_USER[user.table.role]}${printName(user.column.name)}`)
  const ofViews = views.map(viewWords)
  const place = { table: table.name, column: column.name }
  const removed = views.map(({ kind, name }) => ({ op: `remove-${kind}`, name }))
  const canDetach = users.length > 0 && !users.some(({ table: { role } }) => role === 'tallies' || role === 'rules')
  const fixes: Fix[] = [{ title: 'Hide it instead', operations: [{ op: 'change-column', ...place, set: { hidden: true } }] }]
  const removal = (dependants: string): object => ({ op: 'remove-column', ...place, dependants })
  if (views.length > 0) fixes.push({ title: `Remove ${ofViews.join(', ')} first`, operations: removed })
  else {
    if (canDetach) fixes.push({ title: `Detach ${ofUsers.join(', ')}, keeping the values`, operations: [removal('detach')] })
    fixes.push({ title: 'Remove it with all that is calculated from it', operations: [removal('remove')] })
  }
  const names = [...ofUsers, ...ofViews].join(', ')
  return new Refusal([finding('column-in-use', { name: printName(column.name), users: names }, { ...place, fixes })])
}

function removeOne(transaction: Transaction, table: TableModel, column: ColumnModel): void {
  const { engine } = transaction
  const after = table.after(column)
  const storage = table.store.column(column.id)
  const values =
    column.formula === null && storage !== undefined
      ? Array.from(table.store.rows.inOrder(), (slot) => writeCellValue(storage.read(slot), storage.type))
      : undefined
  transaction.undoWith({
    op: 'add-column',
    table: table.name,
    column: specOf(table, column),
    ...(after !== undefined && { before: after.name }),
    ...(values !== undefined && { values }),
  })
  engine.forget(column.id)
  transaction.gone.add(column.id)
  transaction.unbound.delete(column)
  transaction.retyped.delete(column)
  const dirty = transaction.dirtyIn(table)
  dirty.cells.delete(column.id)
  table.store.dropColumn(column.id)
  table.remove(column)
  if (column.properties.tags !== undefined) transaction.recheckTags(table)
}
