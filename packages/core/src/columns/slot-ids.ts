/** A while in which slots got other ids. Links lead forward only, so a while that nobody holds any more is gone. */
class IdSpan {
  /** The ids that slots had before, for those that got others. */
  readonly replaced: Map<number, number> = new Map()
  next: IdSpan | null = null
}

/** Remembers the ids that slots had, for as long as someone holds what `now` gave. */
export class IdHistory {
  readonly #idOf: (slot: number) => number
  #last: IdSpan = new IdSpan()
  /** The same for everyone who asks until a slot gets another id. */
  #now: SlotIds | null = null

  /** @param idOf - gives the id that a slot has at the time of asking */
  constructor(idOf: (slot: number) => number) {
    this.#idOf = idOf
  }

  /** The ids that slots have now. */
  now(): SlotIds {
    this.#now ??= this.#begin()
    return this.#now
  }

  #begin(): SlotIds {
    if (this.#last.replaced.size > 0) {
      this.#last.next = new IdSpan()
      this.#last = this.#last.next
    }
    return new SlotIds(this.#last, this.#idOf)
  }

  /** Notes that a slot gets another id. */
  replace(slot: number, id: number): void {
    this.#now = null
    const { replaced } = this.#last
    if (!replaced.has(slot)) replaced.set(slot, id)
  }
}

/** The ids that slots had at one time, told at any later one. */
export class SlotIds {
  readonly #idOf: (slot: number) => number
  /** What was replaced since, up to the span that is not yet taken in; null for nothing. */
  #replaced: Map<number, number> | null = null
  #span: IdSpan

  constructor(span: IdSpan, idOf: (slot: number) => number) {
    this.#span = span
    this.#idOf = idOf
  }

  /** The id that a slot had. */
  idOf(slot: number): number {
    while (this.#span.next !== null) {
      this.#replaced ??= new Map()
      // What was replaced first is what was there.
      for (const [one, id] of this.#span.replaced) if (!this.#replaced.has(one)) this.#replaced.set(one, id)
      this.#span = this.#span.next
    }
    return this.#replaced?.get(slot) ?? this.#span.replaced.get(slot) ?? this.#idOf(slot)
  }
}
