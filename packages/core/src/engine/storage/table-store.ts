import {
  BLOCK_ROWS,
  BLOCK_SHIFT,
  Column,
  RowSet,
  type RowsSnapshot,
  type Selection,
  type StoredCells,
  selectRows,
  wholeBlock,
} from '../../columns/index.js'
import type { ColumnId } from '../../formula/index.js'
import type { ValueType } from '../../values/index.js'

let storeCount = 0

/** The cells of one table: its rows and the storage of its columns. A column without a type yet has no storage. */
export class TableStore {
  /** Tells stores apart in the keys of shared nodes. */
  readonly key: number = ++storeCount
  /** Stands for the rows of the table in the graph: what depends on which rows there are follows it. */
  readonly rowsNode: ColumnId = (-1e12 - this.key) as ColumnId
  readonly rows: RowSet = new RowSet()
  readonly #columns: Map<ColumnId, Column> = new Map()

  /** The storage of a column; undefined while it has no type, when every cell is blank. */
  column(id: ColumnId): Column | undefined {
    return this.#columns.get(id)
  }

  /** Gives a column empty storage of a type, in place of any it had. */
  makeColumn(id: ColumnId, type: ValueType): Column {
    const column = new Column(type)
    const { slotCount } = this.rows
    if (this.rows.isDense) column.occupyFirst(slotCount)
    else for (let slot = 0; slot < slotCount; slot++) if (this.rows.isLive(slot)) column.occupy(slot)
    this.#columns.set(id, column)
    return column
  }

  /** Takes rows and columns over from a file; columns that are not in it are blank until they are computed. */
  restore(rows: RowsSnapshot, columns: ReadonlyMap<ColumnId, Column>): void {
    // The one row of named values is there from the start.
    if (this.rows.slotCount === 0) this.rows.restore(rows)
    const { slotCount } = rows
    const blank = { slotCount, counts: [0, slotCount - rows.free.length], numberTexts: 0 }
    for (const [id, { type }] of this.#columns)
      this.#columns.set(id, columns.get(id) ?? Column.stored(type, blank, NOTHING_STORED))
  }

  /** Takes finished storage over; it must have the rows of the table. */
  adoptColumn(id: ColumnId, column: Column): void {
    this.#columns.set(id, column)
  }

  /** Drops the storage of a column. */
  dropColumn(id: ColumnId): void {
    this.#columns.delete(id)
  }

  /** Bytes of the columns whose ids are given, or of those that are not among them. */
  byteLength(isCounted: (id: ColumnId) => boolean): number {
    let bytes = 0
    for (const [id, column] of this.#columns) if (isCounted(id)) bytes += column.byteLength()
    return bytes
  }

  /** Begins rows: every column gets blanks there, but those named, whose storage came with the rows. */
  occupy(slots: readonly number[], except: ReadonlySet<ColumnId> = new Set()): void {
    for (const [id, column] of this.#columns) {
      if (!except.has(id)) for (const slot of slots) column.occupy(slot)
    }
  }

  /** Ends rows. */
  vacate(slots: readonly number[]): void {
    for (const column of this.#columns.values()) for (const slot of slots) column.vacate(slot)
    this.rows.remove(slots)
  }

  /** How many blocks the table reaches over. */
  get blockCount(): number {
    return Math.ceil(this.rows.slotCount / BLOCK_ROWS)
  }

  /** The rows of a block that are there. */
  liveRows(block: number): Selection {
    const first = block << BLOCK_SHIFT
    const count = Math.min(BLOCK_ROWS, this.rows.slotCount - first)
    if (this.rows.isDenseIn(block)) return wholeBlock(count)
    const live: number[] = []
    for (let row = 0; row < count; row++) if (this.rows.isLive(first + row)) live.push(row)
    return live.length === count ? wholeBlock(count) : selectRows(Uint16Array.from(live))
  }
}

/** What a column without cells in a file comes from. */
const NOTHING_STORED: StoredCells = { chunk: () => undefined, texts: () => [], misfits: () => [] }
