import type { Workbook } from 'mellow-abacus'
import { useState } from 'react'
import { useAtRevision } from '../book/use-at-revision'

/** How the rows are sorted. */
interface SortState {
  readonly column: string
  readonly descending: boolean
}

/** The rows in the order shown. Edits leave it as it is, so that a row does not jump away under the hand. */
export interface RowOrder {
  readonly ids: readonly number[]
  readonly sort: SortState | null
  /** True when the workbook has changed since the rows were sorted. */
  readonly isOld: boolean
  /** Sorts by a column: ascending, then descending, then row order. */
  sortBy(column: string): void
  sortAgain(): void
}

/** Keeps the order of a table's rows. */
export function useOrder(book: Workbook, tableName: string, revision: number): RowOrder {
  const [sort, setSort] = useState<SortState | null>(null)
  const [sortedAt, setSortedAt] = useState(revision)
  const { rowCount } = book.table(tableName)
  // Sorted when asked and when rows come or go, not at every revision.
  const key = `${sort?.column} ${sort?.descending} ${rowCount}`
  const ids = useAtRevision(sortedAt, key, () =>
    book.query({ table: tableName, columns: [], ...(sort !== null && { order: [sort] }) }).ids(),
  )
  return {
    ids,
    sort,
    isOld: sort !== null && sortedAt !== revision,
    sortBy: (column) => {
      setSortedAt(revision)
      setSort((before) =>
        before?.column !== column ? { column, descending: false } : before.descending ? null : { column, descending: true },
      )
    },
    sortAgain: () => setSortedAt(revision),
  }
}
