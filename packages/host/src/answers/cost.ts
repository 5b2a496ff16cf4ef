import { SessionFault } from '@mellow-abacus/session'
import { pairsOf, type WorkbookView } from 'mellow-abacus'

/**
 * Refuses what is asked for where a formula in it would look at more pairs of rows than is allowed.
 *
 * @param asked - a query, groups, a chart, or a formula itself
 * @throws SessionFault with the number of pairs
 */
export function refuseCostly(view: WorkbookView, table: string, asked: object | string, most: number): void {
  if (most === Number.POSITIVE_INFINITY || !view.tables.includes(table)) return
  // Only what calls something can look at other rows.
  for (const formula of textsIn(asked).filter((one) => one.includes('('))) {
    const cost = pairsOf(view, table, formula)
    if (cost <= most) continue
    const message = `${formula} would look at ${cost} pairs of rows, and ${most} are allowed.`
    throw new SessionFault({ code: 'too-costly', message, cost })
  }
}

/** All texts in what is asked for, each of which may be a formula. */
function textsIn(asked: unknown): string[] {
  if (typeof asked === 'string') return [asked]
  return typeof asked === 'object' && asked !== null ? Object.values(asked).flatMap(textsIn) : []
}
