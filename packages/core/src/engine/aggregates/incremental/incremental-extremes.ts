import type { Cell } from '../../../columns/index.js'
import { isFaultStatus, Status } from '../../../values/index.js'
import { cellOf, compareKeys } from '../../storage/index.js'
import type { AggregateParts } from './aggregate-parts.js'
import type { Contribution } from './incremental-aggregate.js'
import { IncrementalLargeGroups } from './incremental-large-groups.js'

/** The row at the end of a group; -1 where none has a value. */
interface End {
  slot: number
}

/**
 * Which row of each large group stands first, or last, in the row order or `order by`. A row that comes in is compared with
 * that one only; the group is gone through again when that very row goes.
 */
export class IncrementalExtremes extends IncrementalLargeGroups<End> {
  /** True for aggregates that are the value of the first or last row. */
  static canKeep({ record, args }: AggregateParts): boolean {
    return record.end !== undefined && args.length === 1
  }

  protected begin(): End {
    return { slot: -1 }
  }

  protected resultFrom({ slot }: End): Cell {
    return slot < 0 || this.arg === undefined ? null : cellOf(this.arg, slot)
  }

  protected bytesOf(): number {
    return 16
  }

  protected take(end: End, { slot, keyStatus, status }: Contribution, by: 1 | -1, group: number): boolean {
    if (isFaultStatus(keyStatus)) this.faults.count(group, keyStatus, by)
    if (status === Status.blank) return true
    if (by < 0) return slot !== end.slot
    if (end.slot < 0 || this.#isNearer(slot, end.slot)) end.slot = slot
    return true
  }

  #isNearer(left: number, right: number): boolean {
    const { store, descending, record } = this.parts
    const keysOf = (slot: number): Cell[] => this.keys.map((key) => (key === undefined ? null : cellOf(key, slot)))
    const byKeys = this.keys.length === 0 ? 0 : compareKeys(keysOf(left), keysOf(right), descending)
    const order = byKeys || store.rows.placeOf(left) - store.rows.placeOf(right)
    return record.end === 'last' ? order > 0 : order < 0
  }
}
