import { nearestName, refusal } from '../../findings/index.js'
import { printName } from '../../values/index.js'
import { type ColumnModel, formulaOf, linksRead, viewsReading, viewWords } from '../model/index.js'
import { type RemoveLink, removeLinkSchema } from '../schemas/index.js'
import { defineOperation } from './define.js'

export const removeLink = defineOperation<RemoveLink>({
  schema: removeLinkSchema,
  apply: (transaction, operation) => {
    const { model, engine } = transaction
    const table = model.table(operation.table)
    const link = table.link(operation.name)
    if (link === undefined) {
      const near = nearestName(
        operation.name,
        table.links.map((one) => one.name),
      )
      const hint = near === undefined ? '' : ` Nearest name: ${printName(near)}.`
      throw refusal('unknown-link', { table: table.name, name: printName(operation.name), hint }, { table: table.name })
    }
    const users = [...model.columns()].flatMap(({ table: owner, column }) => {
      const { checked } = formulaOf(column) ?? { checked: null }
      return checked !== null && linksRead(checked).has(link.id) ? [`${printName(owner.name)}.${printName(column.name)}`] : []
    })
    const views = transaction.isUndoRedo ? [] : viewsReading(model, (checked) => linksRead(checked).has(link.id))
    users.push(...views.map(viewWords))
    if (users.length > 0 && !transaction.isUndoRedo)
      throw refusal('link-in-use', { name: printName(link.name), users: users.join(', ') }, { table: table.name })
    table.links.splice(table.links.indexOf(link), 1)
    transaction.findingsDue.add(link.columns[0] as ColumnModel)
    engine.removeLink(link.id)
    transaction.applied.push(operation)
    const names = (columns: typeof link.columns): string[] => columns.map((column) => column.name)
    transaction.undoWith({
      op: 'add-link',
      table: table.name,
      columns: names(link.columns),
      to: link.to.name,
      keys: names(link.keys),
      name: link.name,
      id: link.id,
    })
  },
})
