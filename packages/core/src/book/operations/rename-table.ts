import { refusal } from '../../findings/index.js'
import { foldName, printName } from '../../values/index.js'
import { knownViews, rewriteFormula, tableRenamingEdits, tablesRead } from '../model/index.js'
import { type RenameTable, renameTableSchema } from '../schemas/index.js'
import { defineOperation } from './define.js'

export const renameTable = defineOperation<RenameTable>({
  schema: renameTableSchema,
  apply: (transaction, operation) => {
    const { model, engine } = transaction
    const table = model.table(operation.table)
    const former = table.name
    const taken = model.find(operation.to)
    if (taken !== undefined && taken !== table)
      throw refusal(
        'name-taken',
        { place: 'The workbook', kind: 'table', name: printName(taken.name) },
        { table: operation.table },
      )
    for (const { table: home, link } of model.links()) {
      if (foldName(link.name) !== foldName(operation.to) || link.to === table) continue
      const reason = `the link ${printName(home.name)}.${printName(link.name)} has that name and leads to another table.`
      throw refusal('bad-operation', { place: 'rename-table, field to', reason }, { table: former })
    }
    knownViews(model)
    engine.removeTable(former)
    model.rename(table, operation.to.normalize('NFC'))
    engine.addTable(table.name, table.store)
    for (const { formula, owner } of model.formulas()) {
      const isCalculating = owner !== null && owner.column.formula !== null
      // One that reads the rows without naming them is bound to them by their name too.
      if (isCalculating && formula.checked !== null && tablesRead(formula.checked).has(foldName(former)))
        transaction.unbound.set(owner.column, owner.table)
      const edits = tableRenamingEdits(formula, former, table.name)
      if (edits.length === 0) continue
      rewriteFormula(formula, edits)
      const { checked } = formula
      // A further operation of the call looks for the table by the name it has now.
      if (checked !== null)
        formula.checked = {
          ...checked,
          tables: checked.tables.map((one) => (foldName(one.table) === foldName(former) ? { ...one, table: table.name } : one)),
        }
      if (isCalculating) transaction.unbound.set(owner.column, owner.table)
    }
    // What is said of columns names their table.
    for (const { column } of model.columns()) transaction.findingsDue.add(column)
    transaction.applied.push(operation)
    transaction.undoWith({ op: 'rename-table', table: table.name, to: former })
  },
})
