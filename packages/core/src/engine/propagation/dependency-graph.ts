import type { ColumnId } from '../../formula/index.js'

/** Who is calculated from whom. Walks are iterative: a chain of a hundred thousand columns is only a long chain. */
export class DependencyGraph {
  readonly #sources: Map<ColumnId, readonly ColumnId[]> = new Map()
  readonly #dependents: Map<ColumnId, Set<ColumnId>> = new Map()
  /** Another number after every change: who keeps something of the graph can tell that it is old. */
  version = 0

  /** Says what a calculated column reads, in place of what was said before. */
  setSources(column: ColumnId, sources: Iterable<ColumnId>): void {
    this.remove(column)
    const list = [...new Set(sources)]
    this.#sources.set(column, list)
    for (const source of list) {
      const dependents = this.#dependents.get(source)
      if (dependents === undefined) this.#dependents.set(source, new Set([column]))
      else dependents.add(column)
    }
  }

  /** Forgets what a column reads; who reads it stays. */
  remove(column: ColumnId): void {
    this.version++
    for (const source of this.#sources.get(column) ?? []) {
      const dependents = this.#dependents.get(source)
      dependents?.delete(column)
      if (dependents?.size === 0) this.#dependents.delete(source)
    }
    this.#sources.delete(column)
  }

  /** The columns a calculated column reads directly. */
  sourcesOf(column: ColumnId): readonly ColumnId[] {
    return this.#sources.get(column) ?? []
  }

  /** The calculated columns that read a column directly. */
  dependentsOf(column: ColumnId): ReadonlySet<ColumnId> {
    return this.#dependents.get(column) ?? new Set()
  }

  /**
   * The seeds and everything calculated from them, each after all it reads.
   *
   * @returns the order, or the path of a cycle: each column reads the next, the last is the first again
   */
  downstream(seeds: Iterable<ColumnId>): { order: ColumnId[] } | { cycle: ColumnId[] } {
    const done = new Set<ColumnId>()
    const open = new Set<ColumnId>()
    const finished: ColumnId[] = []
    for (const seed of seeds) {
      if (done.has(seed)) continue
      // Depth first: a column is finished when all its dependents are; reversed, that is sources first.
      const path: { column: ColumnId; rest: Iterator<ColumnId> }[] = [{ column: seed, rest: this.dependentsOf(seed).values() }]
      open.add(seed)
      while (path.length > 0) {
        const top = path[path.length - 1] as (typeof path)[number]
        const next = top.rest.next()
        if (next.done === true) {
          path.pop()
          open.delete(top.column)
          done.add(top.column)
          finished.push(top.column)
        } else if (open.has(next.value)) {
          const loop = path.slice(path.findIndex((one) => one.column === next.value)).map((one) => one.column)
          return { cycle: [next.value, ...loop.reverse()] }
        } else if (!done.has(next.value)) {
          open.add(next.value)
          path.push({ column: next.value, rest: this.dependentsOf(next.value).values() })
        }
      }
    }
    return { order: finished.reverse() }
  }
}
