import type { SessionCells, WindowRow } from '@mellow-abacus/session'
import { useMemo, useRef } from 'react'

/** Rows whose values say how a column is laid out. */
const SAMPLED = 60

/** The rows that a table is laid out by: those seen first, until another table is looked at. */
export function useSample(table: string, rows: readonly WindowRow[]): readonly SessionCells[] {
  const kept = useRef<{ table: string; columns: number; cells: readonly SessionCells[] }>({ table: '', columns: 0, cells: [] })
  const columns = Object.keys(rows[0]?.cells ?? {}).length
  if (rows.length > 0 && (kept.current.table !== table || kept.current.columns !== columns))
    kept.current = { table, columns, cells: rows.slice(0, SAMPLED).map(({ cells }) => cells) }
  return kept.current.table === table ? kept.current.cells : NO_CELLS
}

const NO_CELLS: readonly SessionCells[] = []

/** The same object from one render to the next, whose functions do what those of the last render do. */
export function useLatest<Functions extends object>(functions: Functions): Functions {
  const current = useRef(functions)
  current.current = functions
  return useMemo(
    () =>
      Object.fromEntries(
        Object.keys(current.current).map((name) => [
          name,
          (...args: unknown[]) => (current.current as Record<string, (...args: unknown[]) => unknown>)[name]?.(...args),
        ]),
      ) as Functions,
    [],
  )
}
