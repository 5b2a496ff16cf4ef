import type { WatchMarks } from '../../engine/index.js'
import { counted, type Finding, finding } from '../../findings/index.js'
import type { CheckedFormula } from '../../formula/index.js'

/** What the data of a formula's watched places shows, with row counts. */
export function watchedFindings(formula: CheckedFormula, marks: WatchMarks): Finding[] {
  return formula.watches.flatMap((watch, index) => {
    const rows = marks.countOf(index)
    if (rows === 0 || isSaidByUnit(formula, watch)) return []
    const count = ` This happens on ${counted(rows, 'row')}.`
    return [finding(watch.code, { subject: watch.subject, count }, { from: watch.from, to: watch.to, rows, fixes: watch.fixes })]
  })
}

/** An angle whose unit says that it is in degrees need not be guessed to be. */
function isSaidByUnit({ findings }: CheckedFormula, { code, from }: CheckedFormula['watches'][number]): boolean {
  return code === 'angle-beyond-turn' && findings.some((one) => one.code === 'unlike-units' && one.from === from)
}
