import { type ColumnOutcome, type RowsByBlock, rowsByBlock } from '../../engine/index.js'
import type { ColumnId } from '../../formula/index.js'
import type { ColumnModel, Model, TableModel } from '../model/index.js'
import { type ColumnCells, columnCells, rowCountIn } from './change-set.js'

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

  /** Calculated cells evaluated, cells whose value differs now, and cells left stale. */
  told(): { readonly recalculated: ColumnCells[]; readonly changed: ColumnCells[]; readonly stale: ColumnCells[] } {
    const told = { recalculated: [] as ColumnCells[], changed: [...this.#written], stale: [] as ColumnCells[] }
    for (const { table, column, recalculated, changed, stale } of this.#noted.values()) {
      // What a rule keeps of its rows is told by its finding.
      if (table.role === 'rules') continue
      const computed = recalculated.length === 0 ? null : columnCells(table, column, recalculated)
      if (computed !== null) told.recalculated.push(computed)
      // Where as many differ as were evaluated, they are the same.
      const isAll = rowCountIn(changed) === computed?.rows
      if (changed.length > 0) told.changed.push(isAll ? computed : columnCells(table, column, changed))
      if (stale.length > 0) told.stale.push(columnCells(table, column, stale))
    }
    return told
  }
}
