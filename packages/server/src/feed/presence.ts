import type { Role } from 'mellow-abacus'

/** Milliseconds after which someone who has not said so again is not there any more. */
const FORGOTTEN_MS = 60_000

/** Where someone is. */
export interface Place {
  readonly table: string
  readonly row?: number
  readonly column?: string
}

/** Someone at a workbook, as they say. */
export interface Someone {
  readonly id: string
  readonly author: string | null
  readonly role: Role
  readonly place: Place | null
  readonly draft: string | null
}

/** Who is at a workbook. */
export class Presence {
  readonly #there: Map<string, { readonly someone: Someone; readonly at: number }> = new Map()

  /** Notes that someone is there. */
  note(someone: Someone): void {
    this.#there.set(someone.id, { someone, at: Date.now() })
  }

  /** Forgets those who have not said anything for a minute; true where there were some. */
  forgetOld(now: number): boolean {
    const old = [...this.#there].filter(([, { at }]) => at < now - FORGOTTEN_MS)
    for (const [id] of old) this.#there.delete(id)
    return old.length > 0
  }

  /** Who is there, in the order in which they came. */
  list(): Someone[] {
    return [...this.#there.values()].map(({ someone }) => someone)
  }
}

/**
 * Someone as others see them: a place is told to those who know it, a draft to those from whom nothing is hidden, since it may
 * name anything.
 */
export function seenSomeone(someone: Someone, knows: (place: Place) => boolean, seesAll: boolean): Someone {
  const { place } = someone
  return { ...someone, place: place !== null && knows(place) ? place : null, draft: seesAll ? someone.draft : null }
}
