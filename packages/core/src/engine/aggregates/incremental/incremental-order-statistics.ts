import type { Cell } from '../../../columns/index.js'
import { isFaultStatus, Status } from '../../../values/index.js'
import type { AggregateParts } from './aggregate-parts.js'
import type { Contribution } from './incremental-aggregate.js'
import { IncrementalLargeGroups } from './incremental-large-groups.js'
import { SortedMultiset } from './sorted-multiset.js'

/** The values of a group, and those of its first rows until all of them are put in order at once. */
interface OrderedValues {
  readonly list: SortedMultiset
  gathered: (number | string)[] | null
}

/** The values of large groups in order: smallest, largest, middle, commonest and number of different ones follow single rows. */
export class IncrementalOrderStatistics extends IncrementalLargeGroups<OrderedValues> {
  /** True for aggregates that follow from their values in order. */
  static canKeep({ record, args, keys, second }: AggregateParts): boolean {
    return record.ofSorted !== undefined && keys.length === 0 && (args.length === 1 || second !== undefined)
  }

  protected begin(): OrderedValues {
    return { list: new SortedMultiset(this.parts.types[0] === 'boolean'), gathered: [] }
  }

  protected override finish(kept: OrderedValues): void {
    kept.list.fill(kept.gathered ?? [])
    kept.gathered = null
  }

  protected resultFrom({ list }: OrderedValues): Cell {
    return this.parts.record.ofSorted?.(list, this.parts.second ?? null) ?? null
  }

  protected bytesOf({ list }: OrderedValues): number {
    return list.size * 8
  }

  protected take({ list, gathered }: OrderedValues, { status, value }: Contribution, by: 1 | -1, group: number): boolean {
    if (isFaultStatus(status)) this.faults.count(group, status, by)
    else if (status !== Status.value) return true
    else if (gathered !== null) gathered.push(value)
    else if (by > 0) list.add(value)
    else list.remove(value)
    return true
  }
}
