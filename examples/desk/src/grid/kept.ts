import type { SessionCells, WindowRow, WindowShown } from '@mellow-abacus/session'
import { useMemo, useRef } from 'react'

/** Rows whose values say how a column is laid out. */
const SAMPLED = 60

/** The rows that a table is laid out by: those seen first, and of columns that come later those seen with them. */
export function useSample(table: string, rows: readonly WindowRow[]): readonly SessionCells[] {
  const kept = useRef<{ table: string; columns: ReadonlySet<string>; cells: readonly SessionCells[] }>(NO_SAMPLE)
  const names = Object.keys(rows[0]?.cells ?? {})
  const before = kept.current.table === table ? kept.current : NO_SAMPLE
  if (rows.length > 0 && names.some((name) => !before.columns.has(name))) {
    const cells = rows.slice(0, SAMPLED).map((row, at) => ({ ...row.cells, ...before.cells[at] }))
    kept.current = { table, columns: new Set([...before.columns, ...names]), cells }
  }
  return kept.current.table === table ? kept.current.cells : NO_CELLS
}

/** What a window shows, or what the one before it showed while it is being opened, as long as that was about the same rows. */
export function useBefore(shown: WindowShown | null, rows: string): WindowShown | null {
  const before = useRef({ shown, rows })
  if (shown !== null || before.current.rows !== rows) before.current = { shown, rows }
  return before.current.shown
}

const NO_CELLS: readonly SessionCells[] = []
const NO_SAMPLE = { table: '', columns: new Set<string>(), cells: NO_CELLS }

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
