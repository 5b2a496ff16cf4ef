import type { Finding, SlimView } from 'mellow-abacus'
import { useFollowed } from './follow.js'

/**
 * What there is to say about a workbook, or one table of it, of the cells that are up to date: the same list as long as nothing
 * comes or goes.
 */
export function useFindings(book: SlimView, table?: string): readonly Finding[] {
  return useFollowed<readonly Finding[]>(book, table ?? '', (before, change) => {
    const isSame = change !== null && change.findings.added.length === 0 && change.findings.removed.length === 0
    if (before !== null && isSame) return before
    const found = book.findings().filter((one) => table === undefined || one.table === table)
    return before !== null && JSON.stringify(before) === JSON.stringify(found) ? before : found
  })
}
