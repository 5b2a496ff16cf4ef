import {
  BLOCK_MASK,
  BLOCK_ROWS,
  BLOCK_SHIFT,
  type Cell,
  makeVector,
  rowsMarked,
  type Selection,
  selectRows,
  type Vector,
} from '../../columns/index.js'
import { CellFault, storageKindOf } from '../../values/index.js'
import type { TableStore } from '../storage/index.js'
import { cellOf, everyRowOf, putCell, sameCell } from '../storage/index.js'
import type { NodeId } from './node-id.js'
import type { PropagationPass } from './propagation-pass.js'

/** Rows of a block up to which cells are written one by one; more, and they are put together and written at once. */
const FEW_ROWS = 64

/** The cells of one block so far. */
interface BlockCells {
  readonly slots: number[]
  readonly cells: Cell[]
  vector: Vector | null
  /** 1 for rows that have a cell in the vector. */
  readonly has: Uint8Array
}

const NO_FLAGS = new Uint8Array(0)

/** Takes what is computed for the rows of a column when all of them are: one that gets nothing is blank. */
export class CellsOfAll {
  readonly #store: TableStore
  readonly #column: NodeId
  readonly #blocks: readonly Vector[]

  constructor(store: TableStore, column: NodeId) {
    this.#store = store
    this.#column = column
    const { type } = store.column(column) ?? { type: 'text' as const }
    this.#blocks = Array.from({ length: store.blockCount }, () => makeVector(storageKindOf(type), BLOCK_ROWS))
  }

  /** Takes the cell of a row that is there. */
  put(slot: number, cell: Cell): void {
    putCell(this.#blocks[slot >> BLOCK_SHIFT] as Vector, slot & BLOCK_MASK, cell)
  }

  /** Writes the cells that differ, and notes them in the pass. */
  write(pass: PropagationPass): void {
    const storage = this.#store.column(this.#column)
    const changed = new Map<number, Selection>()
    for (const [index, rows] of everyRowOf(this.#store)) {
      const differing = storage?.absorb(index, this.#blocks[index] as Vector, rows)
      if (differing !== undefined && differing.count > 0) changed.set(index, differing)
    }
    pass.noteChanged(this.#column, changed)
  }
}

/** Collects what is computed for rows of a column, in any order, and writes it where it differs from what was there. */
export class ComputedCells {
  readonly #store: TableStore
  readonly #column: NodeId
  readonly #blocks: Map<number, BlockCells> = new Map()

  constructor(store: TableStore, column: NodeId) {
    this.#store = store
    this.#column = column
  }

  /** Takes a cell; of a row that is gone it is left out. */
  put(slot: number, cell: Cell): void {
    if (!this.#store.rows.isLive(slot)) return
    let block = this.#blocks.get(slot >> BLOCK_SHIFT)
    if (block === undefined) {
      block = { slots: [], cells: [], vector: null, has: NO_FLAGS }
      this.#blocks.set(slot >> BLOCK_SHIFT, block)
    }
    if (block.vector === null && block.slots.length === FEW_ROWS) {
      block = this.#together(block)
      this.#blocks.set(slot >> BLOCK_SHIFT, block)
    }
    if (block.vector !== null) {
      putCell(block.vector, slot & BLOCK_MASK, cell)
      block.has[slot & BLOCK_MASK] = 1
    } else {
      block.slots.push(slot)
      block.cells.push(cell)
    }
  }

  #together({ slots, cells }: BlockCells): BlockCells {
    const { type } = this.#store.column(this.#column) ?? { type: 'text' as const }
    const vector = makeVector(storageKindOf(type), BLOCK_ROWS)
    const has = new Uint8Array(BLOCK_ROWS)
    for (const [index, slot] of slots.entries()) {
      putCell(vector, slot & BLOCK_MASK, cells[index] as Cell)
      has[slot & BLOCK_MASK] = 1
    }
    return { slots: [], cells: [], vector, has }
  }

  /** Writes the cells that differ, and notes them in the pass. */
  write(pass: PropagationPass): void {
    const storage = this.#store.column(this.#column)
    const changed = new Map<number, Selection>()
    for (const [index, block] of this.#blocks) {
      const rows = block.vector === null ? this.#writeFew(block) : storage?.absorb(index, block.vector, rowsMarked(block.has))
      if (rows !== undefined && rows.count > 0) changed.set(index, rows)
    }
    pass.noteChanged(this.#column, changed)
  }

  #writeFew({ slots, cells }: BlockCells): Selection {
    const storage = this.#store.column(this.#column)
    const changed: number[] = []
    for (const [index, slot] of slots.entries()) {
      const cell = cells[index] as Cell
      if (sameCell(cellOf(storage, slot), cell)) continue
      storage?.write(slot, cell instanceof CellFault ? new CellFault(cell.code) : cell)
      changed.push(slot & BLOCK_MASK)
    }
    return selectRows(Uint16Array.from(changed).sort())
  }
}
