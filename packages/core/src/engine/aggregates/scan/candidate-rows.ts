import type { Cell } from '../../../columns/index.js'
import { CellFault } from '../../../values/index.js'
import { BLANK_KEY, faultOfKey, type Groups, isFaultyKey, NO_ROW, type PathGroups } from '../../groups/index.js'
import type { TableStore } from '../../storage/index.js'
import { cellOf } from '../../storage/index.js'
import type { AggregateCall } from '../incremental/index.js'
import type { IntervalTree, RangeIndex, RangeTest, RangeTotals } from '../ranges/index.js'
import { Lineage } from './lineage.js'

/** Which rows are looked at for a row: all, those with equal keys, those its links lead from, or all below it. */
export type Candidates =
  | { readonly kind: 'all' }
  | { readonly kind: 'keys'; readonly members: Groups; readonly readers: Groups }
  /** Those whose key lies within bounds, among those with equal keys if there are any. */
  | {
      readonly kind: 'range'
      readonly index: RangeIndex
      readonly tests: readonly RangeTest[]
      readonly members: Groups | null
      readonly readers: Groups | null
      /** The rows themselves by their bounds; null where they are found by their group. */
      readonly bounds: IntervalTree | null
      /** What gives the result of a segment of rows at once; null where they are looked at one by one. */
      readonly totals: RangeTotals | 'how many' | null
      /** True when something else is asked of both rows than what the index knows. */
      readonly hasPairs: boolean
    }
  /** Those with the same keys of `by`. */
  | { readonly kind: 'own'; readonly groups: Groups }
  | { readonly kind: 'linked'; readonly groups: PathGroups }
  | { readonly kind: 'below'; readonly groups: PathGroups }

/** Rows to look at; null for all. Where their totals are known, the result is there already. */
export interface FoundRows {
  readonly rows: Iterable<number> | null
  readonly result?: Cell
}

/** Finds the rows that an aggregate has to look at for a row, by the groups and indexes there are. */
export class CandidateRows {
  readonly #store: TableStore
  readonly #candidates: Candidates
  readonly #call: AggregateCall
  readonly #lineage: Lineage | null
  /** True once errors in a key have reached rows outside of their range. */
  sawFaults = false

  constructor(store: TableStore, candidates: Candidates, call: AggregateCall) {
    this.#store = store
    this.#candidates = candidates
    this.#call = call
    this.#lineage = candidates.kind === 'below' ? new Lineage(candidates.groups) : null
  }

  /** Pairs of a row and one below it; 0 where rows are found otherwise. */
  get pairsBelow(): number {
    return this.#lineage?.pairs ?? 0
  }

  /** False for a row whose group is yet to be found, as it may be where nothing is calculated before that is asked for. */
  isPlaced(slot: number): boolean {
    return this.#candidates.kind !== 'own' || this.#candidates.groups.groupOf(slot) !== NO_ROW
  }

  /** The rows to look at for a row, or the error that it gets instead. */
  rowsFor(slot: number): FoundRows | CellFault {
    const candidates = this.#candidates
    switch (candidates.kind) {
      case 'all':
        return { rows: null }
      case 'keys': {
        const { members, readers } = candidates
        const group = readers.groupOf(slot)
        // A blank or an error in a key can make the condition an error, so those rows are looked at too.
        if (group < 0) return { rows: null }
        const { odd } = members
        return { rows: odd.size === 0 ? members.members.of(group) : [...members.members.of(group), ...odd] }
      }
      case 'range':
        return this.#withinRange(candidates, slot)
      case 'own': {
        const group = candidates.groups.groupOf(slot)
        return group < 0 ? faultOfKey(group) : { rows: candidates.groups.members.of(group) }
      }
      case 'linked':
        return linkFault(candidates.groups, slot) ?? { rows: candidates.groups.members.of(slot) }
      case 'below': {
        const rows = this.#lineage?.rowsBelow(slot) ?? null
        return rows === null ? new CellFault('loop') : (linkFault(candidates.groups, slot) ?? { rows })
      }
    }
  }

  #withinRange({ index, tests, readers, members, totals, hasPairs }: Candidates & { kind: 'range' }, slot: number): FoundRows {
    const group = readers === null ? 0 : readers.groupOf(slot)
    const bounds = tests.map(({ operator, reader }) => ({ operator, bound: cellOf(this.#store.column(reader), slot) }))
    const isBlank = group === BLANK_KEY || bounds.some(({ bound }) => bound === null)
    const isFailed = isFaultyKey(group) || bounds.some(({ bound }) => bound instanceof CellFault)
    if (index.hasFaults) this.sawFaults = true
    // Errors reach rows outside of the range, so all are looked at where there are any.
    if (isFailed || index.hasFaults || (isBlank && hasPairs))
      return { rows: isFailed || isBlank || members === null ? null : [...members.members.of(group), ...members.odd] }
    if (isBlank) return { rows: [] }
    const sorted = index.rowsOf(group)
    const { from, to } = sorted.within(bounds)
    const rows = sorted.slots(from, to)
    // What else is asked of the rows can be an error where the key is blank.
    if (hasPairs) return { rows: [...rows, ...index.oddRowsOf(group), ...(members?.odd ?? [])] }
    if (totals === null) return { rows }
    return { rows, result: totals === 'how many' ? rows.length : totals.resultOf(this.#call, group, from, to) }
  }
}

/** The error of a row that other rows cannot lead to for certain, since it shares its key with another one. */
export function linkFault(groups: PathGroups, slot: number): CellFault | null {
  const target = lastTarget(groups)
  const group = target.groupOf(slot)
  return group >= 0 && target.members.sizeOf(group) > 1 ? new CellFault('many-matches') : null
}

/** The groups of the table that a path ends in. */
export function lastTarget({ path }: PathGroups): Groups {
  return (path.hops.at(-1) as (typeof path.hops)[number]).target
}
