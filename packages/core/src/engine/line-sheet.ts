import { BLOCK_MASK, BLOCK_SHIFT, type Cell, type Column, selectRows } from '../columns/index.js'
import type { ColumnId, Plan } from '../formula/index.js'
import type { ValueType } from '../values/index.js'
import type { Engine } from './engine.js'
import type { LoweredPlan } from './lowered-plans/index.js'
import { type LineReads, lowerOverLines } from './lowering/index.js'
import { cellAt, TableStore } from './storage/index.js'

/** The lines of a view as rows of a table that nothing else knows of; what stands in them is put there or calculated once. */
export class LineSheet {
  readonly store: TableStore = new TableStore()
  readonly #engine: Engine
  readonly #reads: LineReads

  constructor(engine: Engine, reads: LineReads) {
    this.#engine = engine
    this.#reads = reads
    this.store.rows.insert(reads.sizes.length)
  }

  /** A column with these cells. */
  put(id: ColumnId, type: ValueType, cells: readonly Cell[]): void {
    const column = this.store.makeColumn(id, type)
    for (const [line, cell] of cells.entries()) column.write(line, cell)
  }

  /**
   * Calculates a column.
   *
   * @param isRunning - whether it reads itself on lines before, so that it is calculated line by line
   */
  calculate(id: ColumnId, plan: Plan, isRunning: boolean): void {
    const column = this.store.makeColumn(id, plan.type)
    const { lowering, end } = this.#engine.borrow()
    try {
      this.#run(lowerOverLines(lowering, plan, this.store, this.#reads), plan, column, isRunning)
    } finally {
      end()
    }
  }

  #run(lowered: LoweredPlan, plan: Plan, column: Column, isRunning: boolean): void {
    // What is on the sheet is there already; single values may be yet to be computed.
    this.#engine.recalculation.computeFresh(plan.reads.flatMap((read) => (read.kind === 'single' ? [read.column] : [])))
    for (let block = 0; block < this.store.blockCount; block++) {
      const rows = this.store.liveRows(block)
      const parts = isRunning ? Array.from({ length: rows.count }, (_, row) => selectRows(Uint16Array.of(row))) : [rows]
      for (const part of parts) {
        const cells: [line: number, cell: Cell][] = []
        lowered.run(this.store, block, part, (vector) => {
          for (let k = 0; k < part.count; k++) {
            const row = part.rows === null ? k : (part.rows[k] as number)
            cells.push([(block << BLOCK_SHIFT) + row, cellAt(vector, row & BLOCK_MASK)])
          }
        })
        for (const [line, cell] of cells) column.write(line, cell)
      }
    }
  }

  /** Says how many rows are under a line now; what was calculated from it is to be calculated again. */
  setSize(line: number, size: number): void {
    this.#reads.sizes[line] = size
  }

  /** A column that was put or calculated. */
  column(id: ColumnId): Column {
    return this.store.column(id) as Column
  }
}
