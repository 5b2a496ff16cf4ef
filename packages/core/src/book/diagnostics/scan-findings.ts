import { type Engine, MOST_PAIRS, PAIRS_A_SECOND } from '../../engine/index.js'
import { type Finding, finding } from '../../findings/index.js'
import { displayNumber } from '../../values/index.js'
import type { ColumnModel } from '../model/index.js'

/** Parts of a formula that look at so many pairs of rows that no one would wait for them. */
export function scanFindings(engine: Engine, column: ColumnModel): Finding[] {
  if (!engine.readsOtherRows(column.id)) return []
  return engine.accessPathsOf(column.id).flatMap(({ read, pairs }) => {
    if (pairs <= MOST_PAIRS) return []
    const subject = column.formula?.text.slice(read.from, read.to) ?? ''
    const seconds = pairs / PAIRS_A_SECOND
    const time =
      seconds < 120
        ? `${Math.ceil(seconds)} seconds`
        : seconds < 7200
          ? `${Math.ceil(seconds / 60)} minutes`
          : `${Math.ceil(seconds / 3600)} hours`
    const { from, to } = read
    return [finding('costly-scan', { subject, pairs: displayNumber(pairs), time }, { from, to })]
  })
}
