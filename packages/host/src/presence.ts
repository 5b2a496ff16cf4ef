import type { Place, Someone } from '@mellow-abacus/session'

/** Milliseconds after which someone who has not said so again is not there any more. */
const FORGOTTEN_MS = 60_000

/** Someone who is there, as they say. */
export type Visitor = Omit<Someone, 'isYou'>

/** Who is at a workbook. */
export class Presence {
  readonly #there: Map<string, { readonly someone: Visitor; readonly at: number }> = new Map()

  /** Notes that someone is there. */
  note(someone: Visitor): void {
    this.#there.set(someone.id, { someone, at: Date.now() })
  }

  /** Notes that someone has gone; true where they were there. */
  forget(id: string): boolean {
    return this.#there.delete(id)
  }

  /** Forgets those who have not said anything for a minute; true where there were some. */
  forgetOld(now: number): boolean {
    const old = [...this.#there].filter(([, { at }]) => at < now - FORGOTTEN_MS)
    for (const [id] of old) this.#there.delete(id)
    return old.length > 0
  }

  /** Who is there, in the order in which they came. */
  list(): Visitor[] {
    return [...this.#there.values()].map(({ someone }) => someone)
  }
}

/**
 * Someone as others see them: a place is told to those who know it, a draft to those from whom nothing is hidden, since it may
 * name anything.
 */
export function seenVisitor(someone: Visitor, knows: (place: Place) => boolean, seesAll: boolean): Visitor {
  const { place } = someone
  return { ...someone, place: place !== null && knows(place) ? place : null, draft: seesAll ? someone.draft : null }
}
