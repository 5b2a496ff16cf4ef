import { type ColumnOutcome, type RowsByBlock, rowsByBlock } from '../../engine/index.js'
import type { ColumnId } from '../../formula/index.js'
import type { ColumnModel, Model, TableModel } from '../model/index.js'
import { type ColumnCells, columnCells } from './change-set.js'

/** What became of the cells of one column, part by part. */
interface NotedColumn {
  readonly table: TableModel
  readonly column: ColumnModel
  readonly recalculated: RowsByBlock[]
  readonly changed: RowsByBlock[]
  stale: RowsByBlock[]
}

/** What one revision did to cells, as its change set tells it: column by column, however many steps it took. */
export class RecalculatedCells {
  readonly #model: Model
  readonly #written: ColumnCells[] = []
  readonly #noted: Map<ColumnId, NotedColumn> = new Map()
  /** Columns with cells written or computed, with their tables. */
  readonly columns: Map<ColumnModel, TableModel> = new Map()

  constructor(model: Model) {
    this.#model = model
  }

  /** Notes source cells as written. */
  noteWritten(table: TableModel, column: ColumnModel, slots: Iterable<number>): void {
    this.#written.push(columnCells(table, column, [rowsByBlock(slots)]))
    this.columns.set(column, table)
  }

  /** Notes what recalculating did. */
  note(outcomes: readonly ColumnOutcome[]): void {
    for (const { column: id, computed, changed, stale } of outcomes) {
      if (!this.#model.hasColumn(id)) continue
      const noted = this.#notedOf(id)
      if (computed.size > 0) {
        noted.recalculated.push(computed)
        noted.stale = []
      }
      if (changed.size > 0) noted.changed.push(changed)
      if (stale.size > 0) noted.stale.push(stale)
    }
  }

  #notedOf(id: ColumnId): NotedColumn {
    const known = this.#noted.get(id)
    if (known !== undefined) return known
    const { table, column } = this.#model.columnOf(id)
    const noted: NotedColumn = { table, column, recalculated: [], changed: [], stale: [] }
    this.#noted.set(id, noted)
    this.columns.set(column, table)
    return noted
  }

  /** Calculated cells evaluated. */
  get recalculated(): ColumnCells[] {
    return this.#cellsOf('recalculated', [])
  }

  /** Cells whose value differs now. */
  get changed(): ColumnCells[] {
    return this.#cellsOf('changed', [...this.#written])
  }

  /** Cells left stale. */
  get stale(): ColumnCells[] {
    return this.#cellsOf('stale', [])
  }

  #cellsOf(kind: 'recalculated' | 'changed' | 'stale', cells: ColumnCells[]): ColumnCells[] {
    for (const noted of this.#noted.values()) {
      const { table, column, [kind]: parts } = noted
      // What a rule keeps of its rows is told by its finding.
      if (parts.length > 0 && table.role !== 'rules') cells.push(columnCells(table, column, parts))
    }
    return cells
  }
}
