import type { PathGroups } from '../../groups/index.js'

/** What is not known yet of a row, and a row on the way up that is being followed. */
const [UNKNOWN, OPEN, LOOP] = [-1, -2, -3]

/**
 * Who stands below whom over links of a table to itself: which rows are in a loop, and how many stand above each. Found in one
 * walk up from every row that stops where another one has been, and kept until the links lead elsewhere.
 */
export class Lineage {
  readonly #groups: PathGroups
  #version = -1
  /** By slot: how many rows stand above it, or `LOOP`. */
  #depths: Int32Array = new Int32Array(0)
  #pairs = 0

  constructor(groups: PathGroups) {
    this.#groups = groups
  }

  /** All rows below a row; null for one in a loop. Those of another row lead into none, since each row has one parent. */
  rowsBelow(slot: number): number[] | null {
    this.#refresh()
    if (this.#depths[slot] === LOOP) return null
    const found: number[] = []
    const open = [slot]
    for (let at = open.pop(); at !== undefined; at = open.pop())
      for (const child of this.#groups.members.of(at)) {
        found.push(child)
        open.push(child)
      }
    return found
  }

  /** Pairs of a row and one below it. */
  get pairs(): number {
    this.#refresh()
    return this.#pairs
  }

  #refresh(): void {
    if (this.#version === this.#groups.version) return
    this.#version = this.#groups.version
    const { rows } = this.#groups.store
    this.#depths = new Int32Array(rows.slotCount).fill(UNKNOWN)
    this.#pairs = 0
    for (let slot = 0; slot < rows.slotCount; slot++) if (rows.isLive(slot)) this.#follow(slot)
  }

  #follow(first: number): void {
    const depths = this.#depths
    const way: number[] = []
    let at = first
    while (at >= 0 && depths[at] === UNKNOWN) {
      depths[at] = OPEN
      way.push(at)
      at = this.#groups.groupOf(at)
    }
    // Back at a row of this way: it and what lies above it are a loop.
    if (at >= 0 && depths[at] === OPEN) {
      const from = way.indexOf(at)
      for (const slot of way.splice(from)) depths[slot] = LOOP
    }
    // Below a loop stands the one who leads into it; the loop itself is above none of them for certain.
    let above = at < 0 || depths[at] === LOOP ? -1 : (depths[at] as number)
    for (let slot = way.pop(); slot !== undefined; slot = way.pop()) {
      above++
      depths[slot] = above
      this.#pairs += above
    }
  }
}
