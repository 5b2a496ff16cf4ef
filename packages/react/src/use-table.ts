import type { SlimView, WindowQuery, WindowRows } from 'mellow-abacus'
import { useFollowed } from './follow.js'

/**
 * Rows of a table as they are: columns, and rows by number (`from`, `to`) or by `ids`. A row in which nothing has changed is the
 * same object as before, so a component of its own for each row, in `memo`, renders again only where something has.
 *
 * @example
 * const { rows } = useTable(book, { table: 'harvests', columns: ['hive', 'honey_kg'], from: 1, to: 41 })
 * return rows.map((row) => <HarvestRow key={row.id} row={row} />)
 * @throws Refusal for a table or column that there is not; one that goes later is told by `isGone`
 */
export function useTable(book: SlimView, query: WindowQuery): WindowRows {
  return useFollowed<WindowRows>(book, JSON.stringify(query), (before) => book.window(query, before))
}
