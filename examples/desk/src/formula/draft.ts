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
  /** Rows of a column without a formula that hold all that is in it: the formula gives it as well, and takes its place. */
  readonly examples?: readonly number[]
}

/** Drafts of a workbook by their tables. They outlast another table being looked at, and the page being loaded anew. */
export class Drafts {
  readonly #place: string
  readonly #listeners: Set<() => void> = new Set()
  #all: Readonly<Record<string, Draft>>

  /** @param address - says which workbook they are of */
  constructor(address: string) {
    this.#place = `mellow-desk-drafts ${address}`
    this.#all = storedAt(this.#place)
  }

  readonly current = (): Readonly<Record<string, Draft>> => this.#all

  readonly subscribe = (notify: () => void): (() => void) => {
    this.#listeners.add(notify)
    return () => void this.#listeners.delete(notify)
  }

  /** Puts a draft at its table, or takes it away. */
  set(table: string, draft: Draft | null): void {
    const { [table]: _, ...others } = this.#all
    this.#all = draft === null ? others : { ...others, [table]: draft }
    try {
      sessionStorage.setItem(this.#place, JSON.stringify(this.#all))
    } catch {
      // A browser that keeps nothing still has them until the page is left.
    }
    for (const notify of [...this.#listeners]) notify()
  }
}

function storedAt(place: string): Readonly<Record<string, Draft>> {
  try {
    return JSON.parse(sessionStorage.getItem(place) ?? '{}') as Record<string, Draft>
  } catch {
    return {}
  }
}
