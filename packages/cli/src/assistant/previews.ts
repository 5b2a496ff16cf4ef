import type { Operation } from 'mellow-abacus'

/** Operations that were previewed, and the workbook that they were previewed on. */
export interface Previewed {
  readonly operations: readonly Operation[]
  readonly revision: number
}

/** So many are kept; who has looked at more has forgotten the first. */
const MOST_KEPT = 50

/** What an assistant has previewed and may do, each once: nothing else is ever done. */
export class Previews {
  readonly #kept: Map<string, Previewed> = new Map()
  #next = 1

  /** Keeps a preview, and gives the name by which it is done. */
  keep(previewed: Previewed): string {
    const name = `preview-${this.#next++}`
    this.#kept.set(name, previewed)
    for (const old of [...this.#kept.keys()].slice(0, -MOST_KEPT)) this.#kept.delete(old)
    return name
  }

  /** Looks at a preview; undefined where there is none of this name, or it was done. */
  of(name: string): Previewed | undefined {
    return this.#kept.get(name)
  }

  /** Forgets a preview that was done, or can no longer be. */
  forget(name: string): void {
    this.#kept.delete(name)
  }
}
