import { foldName } from '../../values/index.js'
import { formulaOf, knownViews, renamingEdits, rewriteFormula } from '../model/index.js'
import { type RenameColumn, renameColumnSchema } from '../schemas/index.js'
import { refuseTaken } from './column-spec.js'
import { defineOperation } from './define.js'

export const renameColumn = defineOperation<RenameColumn>({
  schema: renameColumnSchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const column = table.column(operation.column)
    const former = column.name
    const views = knownViews(transaction.model)
    if (foldName(operation.to) !== foldName(former)) refuseTaken(table, operation.to)
    table.rename(column, operation.to.normalize('NFC'))
    for (const { table: home, column: other } of transaction.model.columns()) {
      const formula = formulaOf(other)
      const edits = formula === null ? [] : renamingEdits(formula, column.id, column.name)
      if (formula === null || edits.length === 0) continue
      rewriteFormula(formula, edits)
      if (other.formula !== null) transaction.unbound.set(other, home)
    }
    // Charts are behind the reports that they draw.
    const renamed = views.flatMap((view) => view.renameColumn(column, former))
    for (const chart of transaction.model.charts.values()) chart.followReports(renamed)
    // What is said of it names it, and so do fixes; what tags take in may be named in findings too.
    transaction.findingsDue.add(column)
    transaction.recheckReaders(column)
    transaction.recheckTags(table)
    transaction.applied.push(operation)
    transaction.undoWith({ op: 'rename-column', table: table.name, column: column.name, to: former })
  },
})
