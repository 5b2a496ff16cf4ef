import type { Column } from '../../columns/index.js'
import type { RowsByBlock, TableStore } from '../storage/index.js'
import type { NodeId } from './node-id.js'

/** What happened to the rows of one table. */
export interface TouchedRows {
  readonly inserted: RowsByBlock
  /** Slots of rows that are gone; one that holds a new row is among the inserted too. */
  readonly removed: ReadonlySet<number>
  /** Rows that come next after rows taken away, some of them gone by now; `TABLE_END` where none does. */
  readonly successorsOfRemoved: ReadonlySet<number>
  /** True when so many rows are new that everything of the table is computed. */
  readonly everyRow: boolean
  /** True when rows stand in another order, so that whatever goes by row order is computed. */
  readonly reordered: boolean
}

const UNTOUCHED: TouchedRows = {
  inserted: new Map(),
  removed: new Set(),
  successorsOfRemoved: new Set(),
  everyRow: false,
  reordered: false,
}

/** Passes so far, of all workbooks: what is kept for a pass only goes by it. */
let passCount = 0

/** The number of the latest pass. */
export function latestPass(): number {
  return passCount
}

/** One propagation pass: what was touched, and what has changed so far on the way down the graph. */
export class PropagationPass {
  /** Nodes that have to be computed in full. */
  readonly fresh: ReadonlySet<NodeId>
  #tables: ReadonlyMap<TableStore, TouchedRows>
  readonly #changed: Map<NodeId, RowsByBlock> = new Map()
  readonly #computed: Map<NodeId, RowsByBlock> = new Map()
  readonly #stale: Map<NodeId, RowsByBlock> = new Map()
  readonly #followed: Set<Column> = new Set()
  /** Cells of one column that are computed at once when something else than the column itself has changed. */
  readonly mostAtOnce: number

  /** True when the clock or the seed has moved. */
  readonly clockMoved: boolean

  constructor(
    tables: ReadonlyMap<TableStore, TouchedRows>,
    fresh: ReadonlySet<NodeId>,
    mostAtOnce: number = Number.POSITIVE_INFINITY,
    clockMoved = false,
  ) {
    passCount++
    this.#tables = tables
    this.fresh = fresh
    this.mostAtOnce = mostAtOnce
    this.clockMoved = clockMoved
  }

  /** What happened to the rows of a table. */
  rowsOf(store: TableStore): TouchedRows {
    return this.#tables.get(store) ?? UNTOUCHED
  }

  /** Notes cells of a column as changed. */
  noteChanged(column: NodeId, rows: RowsByBlock): void {
    if (rows.size > 0) this.#changed.set(column, rows)
  }

  /** The rows of a column whose cell differs now; undefined when none does. */
  changedIn(column: NodeId): RowsByBlock | undefined {
    return this.#changed.get(column)
  }

  /** Clears a column's before images once everything has followed. */
  clearAfterwards(column: Column): void {
    this.#followed.add(column)
  }

  /** Ends the pass, once what it came to is told. Nodes know it by itself from now on, so it lets go of all rows. */
  end(): void {
    for (const column of this.#followed) column.clearBeforeImages()
    this.#tables = new Map()
    for (const rows of [this.#changed, this.#computed, this.#stale]) rows.clear()
    this.#followed.clear()
  }

  /** Notes cells of a column as evaluated. */
  noteComputed(column: NodeId, rows: RowsByBlock): void {
    this.#computed.set(column, rows)
  }

  /** Notes cells of a column as stale from this pass on. */
  noteStale(column: NodeId, rows: RowsByBlock): void {
    if (rows.size > 0) this.#stale.set(column, rows)
  }

  /** The rows of a column that this pass has left stale. */
  staleIn(column: NodeId): RowsByBlock | undefined {
    return this.#stale.get(column)
  }

  /** The rows of a column that were evaluated. */
  computedIn(column: NodeId): RowsByBlock | undefined {
    return this.#computed.get(column)
  }
}
