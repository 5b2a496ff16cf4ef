import { refusal } from '../../findings/index.js'
import { foldName, printName } from '../../values/index.js'
import { keptView, ReportModel, viewWords } from '../model/index.js'
import { type RemoveReport, removeReportSchema, type SetReport, setReportSchema } from '../schemas/index.js'
import { defineOperation } from './define.js'
import { nameAfter, placeNamed } from './placed-names.js'

export const setReport = /* @__PURE__ */ defineOperation<SetReport>({
  schema: setReportSchema,
  apply: (transaction, operation) => {
    const { model } = transaction
    const { name, report: view, before } = operation
    const former = model.reports.get(foldName(name))
    const report = new ReportModel(former?.name ?? name, model.table(view.table), view)
    if (before !== undefined) keptView(model.reports, 'report', before)
    transaction.applied.push(operation)
    if (former === undefined) transaction.undoWith({ op: 'remove-report', name: report.name })
    else transaction.undoWith(former.operation)
    placeNamed(model.reports, report, former === undefined ? before : undefined)
  },
})

export const removeReport = /* @__PURE__ */ defineOperation<RemoveReport>({
  schema: removeReportSchema,
  apply: (transaction, operation) => {
    const { reports, charts } = transaction.model
    const report = keptView(reports, 'report', operation.name)
    const drawn = transaction.isUndoRedo ? [] : [...charts.values()].filter((chart) => chart.draws(report.name))
    const [first] = drawn
    if (first !== undefined) {
      const operations = drawn.map(({ name }) => ({ op: 'remove-chart', name }))
      const users = drawn.map(viewWords).join(', ')
      const fixes = [{ title: `Remove ${users} first`, operations }]
      throw refusal('report-in-use', { name: printName(report.name), users }, { fixes })
    }
    const before = nameAfter(reports, report)
    reports.delete(foldName(report.name))
    transaction.applied.push(operation)
    transaction.undoWith({ ...report.operation, ...(before !== undefined && { before }) })
  },
})
