import type { Cell } from '../../columns/index.js'
import { CellFault } from '../../values/index.js'
import { countRows, everyRowOf } from '../backlog.js'
import { cellOf } from '../cells.js'
import { writeChanged } from '../changed-cells.js'
import { rowsByBlock } from '../dirty-rows.js'
import { BLANK_KEY, type Groups } from '../groups/index.js'
import type { NodeId } from '../node.js'
import { type Round, type RowsByBlock, slotsOf } from '../round.js'
import type { TableStore } from '../table-store.js'
import { WaitingRows } from '../waiting-rows.js'
import type { Way } from '../way.js'
import { CandidateRows, type Candidates, lastTarget } from './candidate-rows.js'
import type { PairScan } from './pairs.js'
import { meets } from './range-index.js'
import { type AggregateCall, mindsOrder } from './taken-rows.js'

/** More pairs of rows than this are not tried at once: what is computed from them waits until somebody reads it. */
export const MOST_PAIRS = 500_000_000
/** Pairs that are tried in about a second, for what messages say. */
export const PAIRS_A_SECOND = 50_000_000
/** Pairs that are tried in one step of settling. */
const PAIRS_A_STEP = 1_000_000

/** An aggregate whose condition or values depend on both rows at once: for each row, rows are looked at one after the other. */
export class ScanNode extends WaitingRows {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly #read: TableStore
  readonly #call: AggregateCall
  readonly #scan: PairScan
  readonly #candidates: Candidates
  readonly #rows: CandidateRows
  readonly #outer: readonly NodeId[]
  readonly #end: () => void
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
    super(store)
    this.id = id
    this.#read = read
    this.#call = call
    this.#scan = scan
    this.#candidates = candidates
    this.#rows = new CandidateRows(store, candidates)
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

  /**
   * Pairs of rows that computing all rows tries: with all rows where every one is looked at, with the rows of its group, all
   * groups taken as equal, otherwise. What a range or a hierarchy leaves is not known beforehand and not counted.
   */
  get pairs(): number {
    const candidates = this.#candidates
    const [readers, read] = [this.store.rows.rowCount, this.#read.rows.rowCount]
    if (candidates.kind === 'all') return readers * read
    if (candidates.kind === 'range' || candidates.kind === 'below') return 0
    const { members } = candidates.kind === 'keys' ? candidates.members : candidates.groups
    return (readers * read) / Math.max(1, members.groupCount)
  }

  /** How it gets at the rows it looks at. */
  get way(): Way {
    const candidates = this.#candidates
    if (candidates.kind !== 'range') return { kind: 'scan', over: candidates.kind }
    return { kind: 'range', grouped: candidates.readers !== null, looksAtRows: !candidates.isWhole }
  }

  protected override isCostly(count: number): boolean {
    return this.pairs * (count / Math.max(1, this.store.rows.rowCount)) > MOST_PAIRS
  }

  get stepsLeft(): number {
    const rows = countRows(this.backlog.rowsIn(this.store))
    return Math.max(1, Math.ceil((this.pairs * rows) / Math.max(1, this.store.rows.rowCount) / PAIRS_A_STEP))
  }

  /** Computes as many of the rows that wait as take a moment. */
  settleSome(round: Round): void {
    const pairsOfRow = Math.max(1, this.pairs / Math.max(1, this.store.rows.rowCount))
    this.compute(round, this.backlog.takeSome(this.store, Math.max(1, Math.floor(PAIRS_A_STEP / pairsOfRow))))
  }

  protected rowsToCompute(round: Round): RowsByBlock {
    const { everyRow, inserted } = round.rowsOf(this.store)
    const readers = round.fresh.has(this.id) || everyRow ? null : this.#readersTouched(round)
    if (readers === null) return everyRowOf(this.store)
    const slots = new Set(readers)
    for (const slot of slotsOf(inserted)) slots.add(slot)
    for (const column of this.#outer) for (const slot of slotsOf(round.changedIn(column))) slots.add(slot)
    return rowsByBlock([...slots].filter((slot) => this.store.rows.isLive(slot)))
  }

  protected compute(round: Round, rows: RowsByBlock): void {
    writeChanged(this.store, this.id, slotsOf(rows), (slot) => this.#resultFor(slot), round)
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
    if (keys === undefined) return found
    const bounds = tests.map(({ operator, reader }) => ({ operator, column: this.store.column(reader) }))
    for (const slot of this.store.rows.inOrder()) {
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
    const found = this.#rows.rowsFor(slot)
    if (found instanceof CellFault) return found
    if (this.#rows.sawFaults) this.#hadFaults = true
    return found.count ?? this.#scan.aggregate(this.#call, slot, found.rows)
  }
}
