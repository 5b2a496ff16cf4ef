import type { Cell } from '../../../columns/index.js'
import { CellFault } from '../../../values/index.js'
import { type Groups, isFaultyKey, NO_ROW } from '../../groups/index.js'
import type { AccessPath } from '../../lowered-plans/index.js'
import type { EngineNode, NodeId, PropagationPass } from '../../propagation/index.js'
import { ComputedCells, DeferrableRows } from '../../propagation/index.js'
import type { TableStore } from '../../storage/index.js'
import { cellOf, everyRowOf, type RowsByBlock, rowCountOf, rowsByBlock, slotsOf } from '../../storage/index.js'
import { type AggregateCall, mindsOrder } from '../incremental/index.js'
import type { KeyInGroup } from '../ranges/index.js'
import { meets } from '../ranges/index.js'
import { CandidateRows, type Candidates, lastTarget } from './candidate-rows.js'
import type { NestedLoopScan } from './nested-loop-scan.js'

/** More pairs of rows than this are not tried at once: what is computed from them waits until someone reads it. */
export const MOST_PAIRS = 500_000_000
/** Pairs that are tried in about a second, for what messages say. */
export const PAIRS_A_SECOND = 50_000_000
/** Rows whose ranges stand for those of all, where it is estimated how many pairs there are. */
const SAMPLED_RANGES = 16
/** Pairs that are tried in one step of flushing. */
const PAIRS_A_STEP = 1_000_000

/** An aggregate whose condition or values depend on both rows at once: for each row, rows are looked at one after the other. */
export class NestedLoopNode extends DeferrableRows {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly #read: TableStore
  readonly #call: AggregateCall
  readonly #scan: NestedLoopScan
  readonly #candidates: Candidates
  readonly #rows: CandidateRows
  readonly #outer: readonly NodeId[]
  readonly #end: () => void
  /** Pairs of rows within ranges or hierarchies, when there were last so many that it mattered. */
  #pairsFound = 0
  /** Whether errors reached rows outside of their range since all rows were last computed. */
  #hadFaults = false

  /** @param outer - the columns of the row itself that the scan goes by */
  constructor(
    id: NodeId,
    store: TableStore,
    read: TableStore,
    call: AggregateCall,
    scan: NestedLoopScan,
    candidates: Candidates,
    outer: readonly NodeId[],
    end: () => void,
  ) {
    super(store)
    this.id = id
    this.#read = read
    this.#call = call
    this.#scan = scan
    this.#candidates = candidates
    this.#rows = new CandidateRows(store, candidates, call)
    this.#outer = outer
    this.#end = end
    const groups =
      candidates.kind === 'all'
        ? []
        : candidates.kind === 'range'
          ? indexesOf(candidates).map(({ id }) => id)
          : candidates.kind === 'keys'
            ? [candidates.members.id, candidates.readers.id]
            : [candidates.groups.id]
    this.sources = [store.rowsNode, read.rowsNode, ...scan.sources, ...outer, ...groups]
  }

  end(): void {
    this.#end()
  }

  /**
   * Pairs of rows that computing all rows tries: with all rows where every one is looked at, with the rows of its group, all
   * groups taken as equal, otherwise. What ranges leave is estimated from some of them, and what hierarchies leave is counted,
   * when many rows are about to be computed.
   */
  get pairs(): number {
    const candidates = this.#candidates
    const [readers, read] = [this.store.rows.rowCount, this.#read.rows.rowCount]
    if (candidates.kind === 'all') return readers * read
    if (candidates.kind === 'range' || candidates.kind === 'below') return this.#pairsFound
    const { members } = candidates.kind === 'keys' ? candidates.members : candidates.groups
    return (readers * read) / Math.max(1, members.groupCount)
  }

  /** How it gets at the rows it looks at. */
  get accessPath(): AccessPath {
    const candidates = this.#candidates
    if (candidates.kind !== 'range') return { kind: 'scan', over: candidates.kind }
    return { kind: 'range', grouped: candidates.readers !== null, looksAtRows: candidates.totals === null }
  }

  protected override isCostly(count: number): boolean {
    const candidates = this.#candidates
    if (count * this.#read.rows.rowCount > MOST_PAIRS) {
      if (candidates.kind === 'range' && candidates.totals === null) this.#pairsFound = this.#estimatedPairs()
      if (candidates.kind === 'below') this.#pairsFound = this.#rows.pairsBelow
    }
    return this.pairs * (count / Math.max(1, this.store.rows.rowCount)) > MOST_PAIRS
  }

  /** What the ranges of some rows, spread over the table, would come to for all. */
  #estimatedPairs(): number {
    const { rows } = this.store
    const step = Math.max(1, Math.floor(rows.rowCount / SAMPLED_RANGES))
    let [sampled, looked] = [0, 0]
    for (let place = 0; place < rows.rowCount; place += step, sampled++) {
      const found = this.#rows.rowsFor(rows.slotAt(place) as number)
      if (found instanceof CellFault) continue
      looked += found.rows === null ? this.#read.rows.rowCount : [...found.rows].length
    }
    return (looked / Math.max(1, sampled)) * rows.rowCount
  }

  get stepsLeft(): number {
    const rows = rowCountOf(this.stale.rowsIn(this.store))
    return Math.max(1, Math.ceil((this.pairs * rows) / Math.max(1, this.store.rows.rowCount) / PAIRS_A_STEP))
  }

  flushSome(pass: PropagationPass): void {
    const pairsOfRow = Math.max(1, this.pairs / Math.max(1, this.store.rows.rowCount))
    this.compute(pass, this.stale.takeSome(this.store, Math.max(1, Math.floor(PAIRS_A_STEP / pairsOfRow))))
  }

  protected rowsToCompute(pass: PropagationPass): RowsByBlock {
    const { everyRow, inserted } = pass.rowsOf(this.store)
    const readers = pass.fresh.has(this.id) || everyRow ? null : this.#readersTouched(pass)
    if (readers === null) return everyRowOf(this.store)
    const slots = new Set(readers)
    for (const slot of slotsOf(inserted)) slots.add(slot)
    for (const column of this.#outer) for (const slot of slotsOf(pass.changedIn(column))) slots.add(slot)
    return rowsByBlock([...slots].filter((slot) => this.store.rows.isLive(slot)))
  }

  protected compute(pass: PropagationPass, rows: RowsByBlock): void {
    const results = new ComputedCells(this.store, this.id)
    for (const slot of slotsOf(rows)) if (this.store.rows.isLive(slot)) results.put(slot, this.#resultFor(slot))
    results.write(pass)
  }

  /** The rows for which a row looked at has come, gone or changed; null when that can be any. */
  #readersTouched(pass: PropagationPass): Iterable<number> | null {
    const candidates = this.#candidates
    if (candidates.kind !== 'range') return this.#hasOtherRows(pass) ? null : []
    const { index, readers, totals, hasPairs } = candidates
    const isStale = index.isStale || readers?.isStale === true || (typeof totals === 'object' && totals?.isStale === true)
    if (isStale || (pass.rowsOf(this.#read).reordered && mindsOrder(this.#call))) return null
    const hadFaults = this.#hadFaults
    this.#hadFaults = index.hasFaults
    const touched = index.keysTouchedIn(pass)
    if (touched === null || hadFaults || index.hasFaults || readers?.rebuiltIn(pass) === true) return null
    const changed = this.#scan.rowsChangedIn(pass, hasPairs)
    if (changed === null || (hasPairs && this.#hasOddRows(candidates, changed, pass))) return null
    const moved = readers === null ? [] : readers.movesIn(pass).map(({ slot }) => slot)
    if (touched === undefined && changed.size === 0) return moved
    const keys = [...(touched ?? [])]
    for (const slot of changed) {
      const key = index.keyOf(slot)
      if (key !== null) keys.push(key)
    }
    return new Set([...moved, ...this.#readersOf(candidates, keys)])
  }

  /** True when a row has changed that no bound keeps out: where more is asked of the rows, every reader looks at it. */
  #hasOddRows({ index, members }: RangeCandidates, changed: ReadonlySet<number>, pass: PropagationPass): boolean {
    if (index.oddTouchedIn(pass) || [...changed].some((slot) => index.keyOf(slot) === null)) return true
    return members?.movesIn(pass).some(({ from, to }) => isOdd(from) || isOdd(to)) === true
  }

  /** The rows whose range holds one of some keys, and those with an error in a bound or key, which see every row. */
  *#readersOf({ tests, readers, bounds: known, hasPairs }: RangeCandidates, keys: readonly KeyInGroup[]): Generator<number> {
    const bounds = tests.map(({ operator, reader }) => ({ operator, column: this.store.column(reader) }))
    const sees = (slot: number, among: readonly KeyInGroup[]): boolean => {
      const cells = bounds.map(({ column }) => cellOf(column, slot))
      if (cells.some((cell) => cell instanceof CellFault || (hasPairs && cell === null))) return true
      return among.some(({ key }) =>
        bounds.every(({ operator }, index) => cells[index] !== null && meets(key, operator, cells[index] as Cell)),
      )
    }
    if (readers === null) {
      const values = new Set(keys.map(({ key }) => key))
      for (const slot of known?.holding([...values], hasPairs) ?? [])
        if (this.store.rows.isLive(slot) && sees(slot, keys)) yield slot
      return
    }
    for (const slot of readers.odd) if (hasPairs || isFaultyKey(readers.groupOf(slot))) yield slot
    // An error in a bound sees rows without a key too, of any group.
    if (bounds.some(({ column }) => (column?.faultCount() ?? 0) > 0 || (hasPairs && column?.blankCount !== 0))) {
      for (const slot of this.store.rows.inOrder()) if (sees(slot, keys)) yield slot
      return
    }
    const byGroup = new Map<number, KeyInGroup[]>()
    for (const one of keys) byGroup.set(one.group, [...(byGroup.get(one.group) ?? []), one])
    for (const [group, among] of byGroup)
      if (group >= 0) for (const slot of readers.members.of(group)) if (sees(slot, among)) yield slot
  }

  /** True when anything about the rows looked at has changed, so that every row may have another result. */
  #hasOtherRows(pass: PropagationPass): boolean {
    const { everyRow, reordered, inserted, removed } = pass.rowsOf(this.#read)
    if (everyRow || (reordered && mindsOrder(this.#call)) || inserted.size > 0 || removed.size > 0) return true
    if (this.#scan.hasChangedIn(pass)) return true
    return this.#groups().some((one) => one.rebuiltIn(pass) || one.movesIn(pass).length > 0)
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
    const found = this.#rows.rowsFor(slot)
    if (found instanceof CellFault) return found
    if (this.#rows.sawFaults) this.#hadFaults = true
    return found.result === undefined ? this.#scan.aggregate(this.#call, slot, found.rows) : found.result
  }
}

/** True in place of a group for a row whose key is blank or an error. */
function isOdd(group: number): boolean {
  return group < 0 && group !== NO_ROW
}

type RangeCandidates = Candidates & { readonly kind: 'range' }

/** The nodes that a range goes by. */
function indexesOf({ index, totals, bounds, members, readers }: RangeCandidates): EngineNode[] {
  return [index, typeof totals === 'string' ? null : totals, bounds, members, readers].filter((one) => one !== null)
}
