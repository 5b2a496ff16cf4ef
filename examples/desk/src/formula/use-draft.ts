import { useSyncExternalStore } from 'react'
import { useDeskBook } from '../book/use-book'
import type { Draft } from './draft'

/** The draft at a table; null where there is none. */
export function useDraft(table: string): Draft | null {
  const { drafts } = useDeskBook()
  const all = useSyncExternalStore(drafts.subscribe, drafts.current)
  return Object.hasOwn(all, table) ? (all[table] ?? null) : null
}

/** True where there is a draft at the table, whatever it says. */
export function useIsDrafting(table: string): boolean {
  const { drafts } = useDeskBook()
  return useSyncExternalStore(drafts.subscribe, () => Object.hasOwn(drafts.current(), table))
}
