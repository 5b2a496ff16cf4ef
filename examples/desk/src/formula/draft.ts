import { useSyncExternalStore } from 'react'

/** A definition that is being written and is not in the workbook yet. */
export interface Draft {
  readonly table: string
  /** The column whose formula is edited; null for a new one. */
  readonly column: string | null
  /** The column that a new one comes after; null for the last one. */
  readonly after: string | null
  /** `name = formula` of a new column, the formula of one that there is. */
  readonly text: string
  /** The formula when it was begun to be edited; null for a new column. */
  readonly base: string | null
}

const PLACE = 'mellow-desk-drafts'

/** Drafts by their tables. They outlast another table being looked at, and the page being loaded anew. */
class Drafts {
  readonly #listeners: Set<() => void> = new Set()
  #all: Readonly<Record<string, Draft>> = stored()

  readonly current = (): Readonly<Record<string, Draft>> => this.#all

  readonly subscribe = (notify: () => void): (() => void) => {
    this.#listeners.add(notify)
    return () => void this.#listeners.delete(notify)
  }

  set(table: string, draft: Draft | null): void {
    const { [table]: _, ...others } = this.#all
    this.#all = draft === null ? others : { ...others, [table]: draft }
    try {
      sessionStorage.setItem(PLACE, JSON.stringify(this.#all))
    } catch {
      // A browser that keeps nothing still has them until the page is left.
    }
    for (const notify of [...this.#listeners]) notify()
  }
}

function stored(): Readonly<Record<string, Draft>> {
  try {
    return JSON.parse(sessionStorage.getItem(PLACE) ?? '{}') as Record<string, Draft>
  } catch {
    return {}
  }
}

const drafts = new Drafts()

/** The draft at a table; null where there is none. */
export function useDraft(table: string): Draft | null {
  const all = useSyncExternalStore(drafts.subscribe, drafts.current)
  return Object.hasOwn(all, table) ? (all[table] ?? null) : null
}

/** True where there is a draft at the table, whatever it says. */
export function useIsDrafting(table: string): boolean {
  return useSyncExternalStore(drafts.subscribe, () => Object.hasOwn(drafts.current(), table))
}

/** Puts a draft at its table, or takes it away. */
export function setDraft(table: string, draft: Draft | null): void {
  drafts.set(table, draft)
}
