import type { Cell } from '../../../columns/index.js'
import { isFaultStatus, Status } from '../../../values/index.js'
import type { AggregateParts } from './aggregate-parts.js'
import { GroupFaults } from './group-faults.js'
import type { Contribution } from './incremental-aggregate.js'
import { IncrementalLargeGroups } from './incremental-large-groups.js'

/** How many rows of a group say true and how many false, and the errors of the others: they count where no value decides. */
interface Truths {
  isTrue: number
  isFalse: number
  readonly faults: GroupFaults
}

/** How often a condition is true and false in large groups. */
export class IncrementalTruthCounts extends IncrementalLargeGroups<Truths> {
  /** True for aggregates that one of the two values decides. */
  static canKeep({ record, keys, args }: AggregateParts): boolean {
    return record.deciding !== undefined && keys.length === 0 && args.length === 1
  }

  protected begin(): Truths {
    return { isTrue: 0, isFalse: 0, faults: new GroupFaults() }
  }

  protected resultFrom({ isTrue, isFalse, faults }: Truths): Cell {
    const deciding = this.parts.record.deciding === true
    const [decided, others] = deciding ? [isTrue, isFalse] : [isFalse, isTrue]
    if (decided > 0) return deciding
    return faults.of(0) ?? (others > 0 ? !deciding : null)
  }

  protected bytesOf(): number {
    return 32
  }

  protected take(truths: Truths, { status, value }: Contribution, by: 1 | -1): boolean {
    if (isFaultStatus(status)) truths.faults.count(0, status, by)
    else if (status === Status.value && value === 1) truths.isTrue += by
    else if (status === Status.value) truths.isFalse += by
    return true
  }
}
