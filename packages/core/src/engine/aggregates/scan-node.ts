import type { Cell } from '../../columns/index.js'
import { CellFault, faultOfStatus } from '../../values/index.js'
import { Backlog, countRows, everyRowOf } from '../backlog.js'
import { cellOf } from '../cells.js'
import { writeChanged } from '../changed-cells.js'
import { rowsByBlock } from '../dirty-rows.js'
import { BLANK_KEY, type Groups, type PathGroups } from '../groups/index.js'
import type { EngineNode, NodeId } from '../node.js'
import { type Round, type RowsByBlock, slotsOf } from '../round.js'
import type { TableStore } from '../table-store.js'
import type { PairScan } from './pairs.js'
import { meets, type RangeIndex, type RangeTest } from './range-index.js'
import { type AggregateCall, aggregateOf, mindsOrder } from './taken-rows.js'

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
      /** True when nothing else is asked of the rows than what the index knows. */
      readonly isWhole: boolean
    }
  /** Those with the same keys of `by`. */
  | { readonly kind: 'own'; readonly groups: Groups }
  | { readonly kind: 'linked'; readonly groups: PathGroups }
  | { readonly kind: 'below'; readonly groups: PathGroups }

/** An aggregate whose condition or values depend on both rows at once: for each row, rows are looked at one after the other. */
export class ScanNode implements EngineNode {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly #store: TableStore
  readonly #read: TableStore
  readonly #call: AggregateCall
  readonly #scan: PairScan
  readonly #candidates: Candidates
  readonly #outer: readonly NodeId[]
  readonly #end: () => void
  readonly canWait = true
  readonly #backlog: Backlog = new Backlog()
  /** Whether errors reached rows outside of their range since all rows were last computed. */
  #hadFaults = false

  /** @param outer - the columns of the row itself that the scan goes by */
  constructor(
    id: NodeId,
    store: TableStore,
    read: TableStore,
    call: AggregateCall,
    scan: PairScan,
    candidates: Candidates,
    outer: readonly NodeId[],
    end: () => void,
  ) {
    this.id = id
    this.#store = store
    this.#read = read
    this.#call = call
    this.#scan = scan
    this.#candidates = candidates
    this.#outer = outer
    this.#end = end
    const groups =
      candidates.kind === 'all'
        ? []
        : candidates.kind === 'range'
          ? [candidates.index.id, ...[candidates.members, candidates.readers].flatMap((one) => (one === null ? [] : [one.id]))]
          : candidates.kind === 'keys'
            ? [candidates.members.id, candidates.readers.id]
            : [candidates.groups.id]
    this.sources = [store.rowsNode, read.rowsNode, ...scan.sources, ...outer, ...groups]
  }

  end(): void {
    this.#end()
  }

  get isBehind(): boolean {
    return !this.#backlog.isEmpty
  }

  update(round: Round): void {
    const rows = this.#rowsToCompute(round)
    const isNew = round.fresh.has(this.id) || round.rowsOf(this.#store).everyRow
    if (!isNew && countRows(rows) > round.mostAtOnce) this.#wait(round, rows)
    else this.#computeRows(round, rows)
  }

  postpone(round: Round): void {
    this.#wait(round, this.#rowsToCompute(round))
  }

  settle(round: Round, block?: number): void {
    this.#computeRows(round, this.#backlog.take(this.#store, block))
  }

  #wait(round: Round, rows: RowsByBlock): void {
    this.#backlog.add(rows)
    round.noteStale(this.id, rows)
    round.noteChanged(this.id, rows)
  }

  #rowsToCompute(round: Round): RowsByBlock {
    const { everyRow, inserted } = round.rowsOf(this.#store)
    const readers = round.fresh.has(this.id) || everyRow ? null : this.#readersTouched(round)
    if (readers === null) return everyRowOf(this.#store)
    const slots = new Set(readers)
    for (const slot of slotsOf(inserted)) slots.add(slot)
    for (const column of this.#outer) for (const slot of slotsOf(round.changedIn(column))) slots.add(slot)
    return rowsByBlock([...slots].filter((slot) => this.#store.rows.isLive(slot)))
  }

  #computeRows(round: Round, rows: RowsByBlock): void {
    writeChanged(this.#store, this.id, slotsOf(rows), (slot) => this.#resultFor(slot), round)
  }

  /** The rows for which a row looked at has come, gone or changed; null when that can be any. */
  #readersTouched(round: Round): readonly number[] | null {
    const candidates = this.#candidates
    if (candidates.kind !== 'range' || !candidates.isWhole) return this.#hasOtherRows(round) ? null : []
    const { index, tests, readers } = candidates
    if (index.isBehind || readers?.isBehind === true) return null
    const hadFaults = this.#hadFaults
    this.#hadFaults = index.hasFaults
    const keys = index.keysTouchedIn(round)
    if (keys === null || hadFaults || index.hasFaults || readers?.rebuiltIn(round) === true) return null
    const found = readers === null ? [] : readers.movesIn(round).map(({ slot }) => slot)
    if (keys.length === 0) return found
    const bounds = tests.map(({ operator, reader }) => ({ operator, column: this.#store.column(reader) }))
    for (const slot of this.#store.rows.inOrder()) {
      const cells = bounds.map(({ column }) => cellOf(column, slot))
      // A row with an error in a bound sees every row.
      const isFailed = cells.some((cell) => cell instanceof CellFault) || (readers !== null && readers.groupOf(slot) < BLANK_KEY)
      const isWithin = (key: Cell): boolean =>
        bounds.every(({ operator }, index) => cells[index] !== null && meets(key, operator, cells[index] as Cell))
      if (isFailed || keys.some(isWithin)) found.push(slot)
    }
    return found
  }

  /** True when anything about the rows looked at has changed, so that every row may have another result. */
  #hasOtherRows(round: Round): boolean {
    const { everyRow, reordered, inserted, removed } = round.rowsOf(this.#read)
    if (everyRow || (reordered && mindsOrder(this.#call)) || inserted.size > 0 || removed.size > 0) return true
    if (this.#scan.hasChangedIn(round)) return true
    return this.#groups().some((one) => one.rebuiltIn(round) || one.movesIn(round).length > 0)
  }

  #groups(): readonly Groups[] {
    const candidates = this.#candidates
    if (candidates.kind === 'all') return []
    if (candidates.kind === 'range') return [candidates.members, candidates.readers].filter((one) => one !== null)
    if (candidates.kind === 'keys') return [candidates.members, candidates.readers]
    // Rows that share a key with a new one are led to no longer for certain.
    return candidates.kind === 'own' ? [candidates.groups] : [candidates.groups, lastTarget(candidates.groups)]
  }

  #resultFor(slot: number): Cell {
    const candidates = this.#candidates
    switch (candidates.kind) {
      case 'all':
        return this.#scan.aggregate(this.#call, slot, null)
      case 'keys': {
        const { members, readers } = candidates
        const group = readers.groupOf(slot)
        // A blank or an error in a key can make the condition an error, so those rows are looked at too.
        const rows =
          group < 0 ? null : members.odd.size === 0 ? members.members.of(group) : [...members.members.of(group), ...members.odd]
        return this.#scan.aggregate(this.#call, slot, rows)
      }
      case 'range':
        return this.#withinRange(candidates, slot)
      case 'own': {
        const group = candidates.groups.groupOf(slot)
        if (group < 0) return new CellFault(faultOfStatus(-group))
        return this.#scan.aggregate(this.#call, slot, candidates.groups.members.of(group))
      }
      case 'linked':
        return linkFault(candidates.groups, slot) ?? this.#scan.aggregate(this.#call, slot, candidates.groups.members.of(slot))
      case 'below': {
        const below = rowsBelow(candidates.groups, slot)
        if (below === null) return new CellFault('loop')
        return linkFault(candidates.groups, slot) ?? this.#scan.aggregate(this.#call, slot, below)
      }
    }
  }

  #withinRange({ index, tests, readers, members, isWhole }: Candidates & { kind: 'range' }, slot: number): Cell {
    const group = readers === null ? 0 : readers.groupOf(slot)
    const bounds = tests.map(({ operator, reader }) => ({ operator, bound: cellOf(this.#store.column(reader), slot) }))
    const isBlank = group === BLANK_KEY || bounds.some(({ bound }) => bound === null)
    const isFailed = group < BLANK_KEY || bounds.some(({ bound }) => bound instanceof CellFault)
    if (index.hasFaults) this.#hadFaults = true
    // Errors reach rows outside of the range, so all are looked at where there are any.
    if (isFailed || index.hasFaults) {
      const rows = isFailed || isBlank || members === null ? null : [...members.members.of(group), ...members.odd]
      return this.#scan.aggregate(this.#call, slot, rows)
    }
    if (isBlank) return aggregateOf(this.#call, [], null)
    const rows = index.rowsWithin(group, bounds)
    return isWhole ? rows.length : this.#scan.aggregate(this.#call, slot, rows)
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

/** All rows that lead to a row over one link or several times over it; null when the row is one of them itself. */
function rowsBelow({ members }: PathGroups, slot: number): Set<number> | null {
  const found = new Set<number>()
  const open = [slot]
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    for (const child of members.of(at)) {
      if (child === slot) return null
      if (found.has(child)) continue
      found.add(child)
      open.push(child)
    }
  }
  return found
}
