import type { Cell } from '../../../columns/index.js'
import type { ValueType } from '../../../values/index.js'
import type { Groups } from '../../groups/index.js'
import type { NodeId } from '../../propagation/index.js'
import type { TableStore } from '../../storage/index.js'
import type { AggregateCall } from './accumulator.js'

/** What an aggregate is made of: the rows of a table in groups, and the columns it looks at. */
export interface AggregateParts extends AggregateCall {
  readonly store: TableStore
  /** Null where all rows of the table are one group. */
  readonly groups: Groups | null
  readonly args: readonly NodeId[]
  readonly where: NodeId | null
  readonly keys: readonly NodeId[]
  readonly type: ValueType
  /** The second argument, where it is written out. */
  readonly second?: Cell
}
