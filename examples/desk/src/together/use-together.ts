import type { SessionValue } from '@mellow-abacus/session'
import { useMemo } from 'react'
import { useBookState, useDeskBook } from '../book/use-book'
import { nameOf } from './visitors'

/** Names or values by columns. */
export type ByColumn<Of> = ReadonlyMap<string, Of>

/** What others do at a table, and what of one's own is not sent yet, by ids of rows and columns. */
export function useTogether(table: string): {
  /** Who is at which cell. */
  readonly visitors: ReadonlyMap<number, ByColumn<string>>
  /** Values that were typed and wait for the connection. */
  readonly waitingCells: ReadonlyMap<number, ByColumn<SessionValue>>
  /** Who else made the newest change; null for one's own. */
  readonly by: string | null
} {
  const { session } = useDeskBook()
  const { others, waiting, last } = useBookState()
  const visitors = useMemo(() => {
    const found = new Map<number, Map<string, string>>()
    for (const someone of others) {
      const { place } = someone
      if (place?.table !== table || place.row === undefined || place.column === undefined) continue
      put(found, place.row, place.column, nameOf(someone))
    }
    return found
  }, [others, table])
  const waitingCells = useMemo(() => {
    const found = new Map<number, Map<string, SessionValue>>()
    for (const operation of waiting.flatMap(({ operations }) => operations)) {
      if (operation.op !== 'set-cells' || operation.table !== table) continue
      for (const { row, column, value } of operation.cells) put(found, row, column, (value ?? null) as SessionValue)
    }
    return found
  }, [waiting, table])
  const author = last?.author ?? null
  return { visitors, waitingCells, by: author === session.reader.author ? null : author }
}

function put<Of>(into: Map<number, Map<string, Of>>, row: number, column: string, what: Of): void {
  const known = into.get(row) ?? new Map<string, Of>()
  into.set(row, known.set(column, what))
}
