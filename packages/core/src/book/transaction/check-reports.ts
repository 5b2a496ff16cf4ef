import { Refusal } from '../../findings/index.js'
import type { CheckedView, ReportModel } from '../model/index.js'
import type { Transaction } from './transaction.js'

/** Operations that leave alone what formulas mean. */
const OF_CELLS: ReadonlySet<string> = new Set([
  'set-cells',
  'insert-rows',
  'remove-rows',
  'move-rows',
  'stamp-cells',
  'recalculate',
  'tick',
  'set-mode',
  'set-metadata',
  'accept-finding',
  'withdraw-acceptance',
])

/** True where operations may change what formulas mean. */
export function changesDefinitions(operations: readonly { readonly op: string }[]): boolean {
  return operations.some(({ op }) => !OF_CELLS.has(op))
}

/**
 * Checks the formulas of all reports again after operations that may have changed what they mean.
 *
 * @throws Refusal naming the report, with everything found
 */
export function checkReports({ model, engine, applied }: Transaction): void {
  const { checkView, reports } = model
  if (checkView === null || reports.size === 0 || !changesDefinitions(applied)) return
  const checked = new Map<ReportModel, CheckedView>()
  for (const report of reports.values()) {
    try {
      checked.set(report, checkView(model, engine, report.view))
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      const [first, ...others] = error.findings.map((one) => ({ ...one, report: report.name }))
      throw first === undefined ? error : new Refusal([first, ...others])
    }
  }
  for (const [report, view] of checked) report.takeChecked(view)
}
