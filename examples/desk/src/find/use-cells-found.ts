import type { TableFacts } from '@mellow-abacus/session'
import { useEffect, useState } from 'react'
import { useDeskBook } from '../book/use-book'
import { cellsFound, type FoundCells, LEAST_LETTERS } from './cells-found'

/** Milliseconds without a key before cells are looked through. */
const CALM_MS = 250
/** Cells of a table up to which they are looked through by the way; those of larger ones when one asks for it. */
export const MOST_CELLS = 2_000_000

/** What is found in the cells of tables, one table after the other. */
export function useCellsFound(tables: readonly TableFacts[], text: string): readonly FoundCells[] {
  const { session } = useDeskBook()
  const [found, setFound] = useState<readonly FoundCells[]>(NONE)
  const sought = text.trim()
  useEffect(() => {
    setFound(NONE)
    if (sought.length < LEAST_LETTERS) return
    let isOld = false
    const look = async (): Promise<void> => {
      for (const table of tables) {
        if (table.rows * table.columns.length > MOST_CELLS) continue
        // A table that cannot be looked through, such as one that was just removed, has nothing to offer.
        const own = await cellsFound(session, table, sought).catch(() => null)
        if (isOld) return
        if (own !== null) setFound((before) => [...before, own])
      }
    }
    const timer = setTimeout(() => void look(), CALM_MS)
    return () => {
      isOld = true
      clearTimeout(timer)
    }
  }, [session, tables, sought])
  return found
}

const NONE: readonly FoundCells[] = []
