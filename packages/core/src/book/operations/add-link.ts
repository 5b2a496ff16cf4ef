import { refusal } from '../../findings/index.js'
import type { LinkId } from '../../formula/index.js'
import { foldName, printName } from '../../values/index.js'
import type { ColumnModel, LinkModel, RowsTable } from '../model/index.js'
import { addLinkSchema, type JournaledAddLink } from '../schemas/index.js'
import type { Transaction } from '../transaction/index.js'
import { defineOperation } from './define.js'

export const addLink = defineOperation<JournaledAddLink>({
  schema: addLinkSchema,
  apply: (transaction, operation) => {
    const { model } = transaction
    const table = model.table(operation.table)
    const to = model.table(operation.to)
    const columns = operation.columns.map((name) => table.column(name))
    const keys = operation.keys.map((name) => to.column(name))
    refuseUnlike(table, columns, to, keys)
    const name = (operation.name ?? (columns[0] as ColumnModel).name).normalize('NFC')
    refuseTakenLink(transaction, table, name, to)
    const id = model.takeColumnId(operation.id) as number as LinkId
    putLink(transaction, table, { id, name, columns, to, keys })
    transaction.findingsDue.add(columns[0] as ColumnModel)
    transaction.applied.push({ ...operation, name, id })
    transaction.undoWith({ op: 'remove-link', table: table.name, name })
  },
})

/** Makes a link part of the workbook. */
function putLink({ engine }: Transaction, table: RowsTable, link: LinkModel): void {
  table.links.push(link)
  const idsOf = (columns: readonly ColumnModel[]): LinkParts['columns'] => columns.map((column) => column.id)
  engine.addLink(link.id, {
    store: table.store,
    columns: idsOf(link.columns),
    target: link.to.store,
    keys: idsOf(link.keys),
  })
}

type LinkParts = Parameters<Transaction['engine']['addLink']>[1]

function refuseUnlike(table: RowsTable, columns: readonly ColumnModel[], to: RowsTable, keys: readonly ColumnModel[]): void {
  const place = 'add-link, field keys'
  if (columns.length !== keys.length)
    throw refusal('bad-operation', { place, reason: `expected ${columns.length} key columns, received ${keys.length}.` })
  const kindOf = (column: ColumnModel): string | null => (column.type === 'integer' ? 'number' : column.type)
  for (const [index, column] of columns.entries()) {
    const key = keys[index] as ColumnModel
    const [own, other] = [kindOf(column), kindOf(key)]
    if (own === null || other === null || own === other) continue
    const names = [`${printName(table.name)}.${printName(column.name)}`, `${printName(to.name)}.${printName(key.name)}`]
    const reason = `${names[0]} holds ${own}, ${names[1]} ${other}; keys that are never equal lead nowhere.`
    throw refusal('bad-operation', { place, reason }, { table: table.name, column: column.name })
  }
}

function refuseTakenLink({ model }: Transaction, table: RowsTable, name: string, to: RowsTable): void {
  const known = table.link(name)
  if (known !== undefined) {
    const place = `Table ${printName(table.name)}`
    throw refusal('name-taken', { place, kind: 'link', name: printName(known.name) }, { table: table.name })
  }
  const namesake = model.find(name)
  if (namesake === undefined || namesake === to) return
  const reason = `${printName(name)} is a table, so a link of that name must lead to it; give the link another name.`
  throw refusal('bad-operation', { place: 'add-link, field name', reason }, { table: foldName(table.name) })
}
