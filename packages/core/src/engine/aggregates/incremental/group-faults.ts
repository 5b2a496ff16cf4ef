import { CellFault, FAULT_CODES, faultOfStatus, Status } from '../../../values/index.js'

/** Errors by group and code; only groups that have any take memory. */
export class GroupFaults {
  readonly #counts: Map<number, Uint32Array> = new Map()

  /** Counts an error, or one less. */
  count(group: number, status: number, by: 1 | -1): void {
    let counts = this.#counts.get(group)
    if (counts === undefined) {
      counts = new Uint32Array(FAULT_CODES.length)
      this.#counts.set(group, counts)
    }
    const index = status - Status.firstFault
    counts[index] = (counts[index] as number) + by
    if (counts.every((count) => count === 0)) this.#counts.delete(group)
  }

  /** The error that a group gives: of those it has, the one named first. */
  of(group: number): CellFault | null {
    const first = this.#counts.get(group)?.findIndex((count) => count > 0) ?? -1
    return first < 0 ? null : new CellFault(faultOfStatus(Status.firstFault + first))
  }

  /** Begins a group anew, or all. */
  clear(group?: number): void {
    if (group === undefined) this.#counts.clear()
    else this.#counts.delete(group)
  }
}
