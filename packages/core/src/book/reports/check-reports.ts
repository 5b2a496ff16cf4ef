import type { Engine } from '../../engine/index.js'
import { Refusal } from '../../findings/index.js'
import type { CheckedView, Model, ReportModel } from '../model/index.js'
import { changesDefinitions } from '../transaction/index.js'
import { checkedView } from './check-view.js'

/** A call of operations, as far as reports have to do with it. */
interface Call {
  readonly engine: Engine
  readonly applied: readonly { readonly op: string }[]
}

/**
 * Checks the formulas of all reports again after operations that may have changed what they mean.
 *
 * @throws Refusal naming the report, with everything found
 */
export function checkReports(model: Model, { engine, applied }: Call): void {
  const { reports } = model
  if (reports.size === 0 || !changesDefinitions(applied)) return
  const checked = new Map<ReportModel, CheckedView>()
  for (const report of reports.values()) {
    try {
      checked.set(report, checkedView(model, engine, report.view))
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      const [first, ...others] = error.findings.map((one) => ({ ...one, report: report.name }))
      throw first === undefined ? error : new Refusal([first, ...others])
    }
  }
  for (const [report, view] of checked) report.takeChecked(view)
}
