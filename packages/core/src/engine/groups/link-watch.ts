import type { EngineNode, NodeId, PropagationPass } from '../propagation/index.js'
import type { Groups } from './groups.js'

/** Counts of what is wrong with the keys of a link, kept while rows come, go and change their keys. */
export class LinkWatch implements EngineNode {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly isDeferrable = false
  readonly source: Groups
  readonly target: Groups
  /** Rows whose key no row of the other table has. */
  unmatchedRows = 0
  /** Different such keys. */
  unmatchedKeys = 0
  /** Keys that several rows of the other table have, and how many rows those are. */
  repeatedKeys = 0
  repeatedRows = 0
  /** What each group added to the counts: rows on either side when it was last looked at. */
  readonly #seen: Map<number, readonly [number, number]> = new Map()
  #isStale = false

  constructor(id: NodeId, source: Groups, target: Groups) {
    this.id = id
    this.source = source
    this.target = target
    this.sources = [source.id, target.id]
  }

  get isStale(): boolean {
    return this.#isStale
  }

  update(pass: PropagationPass): void {
    if (pass.fresh.has(this.id) || this.source.rebuiltIn(pass) || this.target.rebuiltIn(pass)) return this.#countAll()
    for (const group of new Set([...this.source.groupsMovedIn(pass), ...this.target.groupsMovedIn(pass)])) this.#look(group)
  }

  postpone(): void {
    this.#isStale = true
  }

  flush(): void {
    this.#isStale = false
    this.#countAll()
  }

  /** Groups of rows whose key no row of the other table has. */
  *unmatched(): IterableIterator<number> {
    for (const group of this.source.members.groups()) if (this.target.members.sizeOf(group) === 0) yield group
  }

  /** Groups of rows of the other table that share a key. */
  *repeated(): IterableIterator<number> {
    for (const group of this.target.members.groups()) if (this.target.members.sizeOf(group) > 1) yield group
  }

  #countAll(): void {
    this.#seen.clear()
    this.unmatchedRows = 0
    this.unmatchedKeys = 0
    this.repeatedKeys = 0
    this.repeatedRows = 0
    for (const group of this.source.members.groups()) this.#look(group)
    for (const group of this.target.members.groups()) this.#look(group)
  }

  #look(group: number): void {
    const before = this.#seen.get(group)
    const after = [this.source.members.sizeOf(group), this.target.members.sizeOf(group)] as const
    if (before !== undefined) this.#count(before, -1)
    this.#count(after, 1)
    // A key that is in order adds nothing, and most are.
    if (isInOrder(after)) this.#seen.delete(group)
    else this.#seen.set(group, after)
  }

  #count(sizes: readonly [number, number], by: 1 | -1): void {
    if (isInOrder(sizes)) return
    const [rows, targets] = sizes
    if (targets === 0 && rows > 0) {
      this.unmatchedRows += by * rows
      this.unmatchedKeys += by
    }
    if (targets > 1) {
      this.repeatedKeys += by
      this.repeatedRows += by * targets
    }
  }
}

function isInOrder([rows, targets]: readonly [number, number]): boolean {
  return targets === 1 || (targets === 0 && rows === 0)
}
