import { foldName } from '../../values/index.js'
import { type Model, ReportModel } from '../model/index.js'
import { type RemoveReport, removeReportSchema, type SetReport, setReportSchema } from '../schemas/index.js'
import { defineOperation } from './define.js'

export const setReport = /* @__PURE__ */ defineOperation<SetReport>({
  schema: setReportSchema,
  apply: (transaction, operation) => {
    const { model } = transaction
    const { name, report: view, before } = operation
    const former = model.reports.get(foldName(name))
    const report = new ReportModel(former?.name ?? name, model.table(view.table), view)
    if (before !== undefined) model.report(before)
    transaction.applied.push(operation)
    if (former === undefined) transaction.undoWith({ op: 'remove-report', name: report.name })
    else transaction.undoWith(former.operation)
    place(model, report, former === undefined ? before : undefined)
  },
})

export const removeReport = /* @__PURE__ */ defineOperation<RemoveReport>({
  schema: removeReportSchema,
  apply: (transaction, operation) => {
    const { reports } = transaction.model
    const report = transaction.model.report(operation.name)
    const all = [...reports.values()]
    const after = all[all.indexOf(report) + 1]?.name
    reports.delete(foldName(report.name))
    transaction.applied.push(operation)
    transaction.undoWith({ ...report.operation, ...(after !== undefined && { before: after }) })
  },
})

/** Puts a report in: where one of its name is, before another, or at the end. */
function place({ reports }: Model, report: ReportModel, before: string | undefined): void {
  const all = [...reports]
  const at = before === undefined ? -1 : all.findIndex(([name]) => name === foldName(before))
  reports.set(foldName(report.name), report)
  if (at < 0) return
  for (const [name, one] of all.slice(at)) {
    reports.delete(name)
    reports.set(name, one)
  }
}
