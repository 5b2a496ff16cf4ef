import type { Program } from './program.js'

/** The smallest programs of those that are offered, a limited number: searches leave out what could not be among them. */
export class Smallest {
  readonly #most: number
  readonly #programs: Map<string, Program> = new Map()
  #limit = Number.POSITIVE_INFINITY

  constructor(most: number) {
    this.#most = most
  }

  /** True when a program of this size could be among the smallest. */
  admits(cost: number): boolean {
    return cost < this.#limit
  }

  add(program: Program): void {
    if (!this.admits(program.cost)) return
    const known = this.#programs.get(program.text)
    if (known !== undefined && known.cost <= program.cost) return
    this.#programs.set(program.text, program)
    if (this.#programs.size >= 2 * this.#most) this.#cut()
  }

  /** Those kept, the smallest first. */
  list(): Program[] {
    return this.#sorted().slice(0, this.#most)
  }

  #sorted(): Program[] {
    return [...this.#programs.values()].sort((a, b) => a.cost - b.cost || (a.text < b.text ? -1 : 1))
  }

  #cut(): void {
    const kept = this.list()
    this.#programs.clear()
    for (const program of kept) this.#programs.set(program.text, program)
    this.#limit = kept.at(-1)?.cost ?? this.#limit
  }
}
