import { type BlockRows, type ColumnOutcome, rowsByBlock } from '../engine/index.js'
import type { ColumnId } from '../formula/index.js'
import { type ColumnCells, columnCells } from './change-set.js'
import type { ColumnModel, Model, TableModel } from './model.js'

/** What one revision did to cells, as its change set tells it: column by column, however many steps it took. */
export class RecalculatedCells {
  readonly #model: Model
  readonly #written: ColumnCells[] = []
  readonly #recalculated: Map<ColumnId, BlockRows[]> = new Map()
  readonly #changed: Map<ColumnId, BlockRows[]> = new Map()
  readonly #stale: Map<ColumnId, BlockRows[]> = new Map()
  /** Columns with cells written or computed, with their tables. */
  readonly columns: Map<ColumnModel, TableModel> = new Map()

  constructor(model: Model) {
    this.#model = model
  }

  /** Notes source cells as written. */
  noteWritten(table: TableModel, column: ColumnModel, slots: Iterable<number>): void {
    const rows = [...rowsByBlock(slots)].map(([block, selection]) => ({ block, selection }))
    this.#written.push(columnCells(table, column, rows))
    this.columns.set(column, table)
  }

  /** Notes what recalculating did. */
  note(outcomes: readonly ColumnOutcome[]): void {
    for (const { column: id, computed, changed, stale } of outcomes) {
      if (!this.#model.hasColumn(id)) continue
      const { table, column } = this.#model.columnOf(id)
      this.columns.set(column, table)
      append(this.#recalculated, id, computed)
      append(this.#changed, id, changed)
      if (computed.length > 0) this.#stale.delete(id)
      append(this.#stale, id, stale)
    }
  }

  /** Calculated cells evaluated. */
  get recalculated(): ColumnCells[] {
    return this.#cellsOf(this.#recalculated)
  }

  /** Cells whose value differs now. */
  get changed(): ColumnCells[] {
    return [...this.#written, ...this.#cellsOf(this.#changed)]
  }

  /** Cells left behind their sources. */
  get stale(): ColumnCells[] {
    return this.#cellsOf(this.#stale)
  }

  #cellsOf(rows: ReadonlyMap<ColumnId, readonly BlockRows[]>): ColumnCells[] {
    return [...rows].flatMap(([id, blocks]) => {
      const { table, column } = this.#model.columnOf(id)
      // What a rule keeps of its rows is told by its finding.
      return table.role === 'rules' ? [] : [columnCells(table, column, blocks)]
    })
  }
}

function append(to: Map<ColumnId, BlockRows[]>, column: ColumnId, rows: readonly BlockRows[]): void {
  if (rows.length === 0) return
  const known = to.get(column)
  if (known === undefined) to.set(column, [...rows])
  else known.push(...rows)
}
