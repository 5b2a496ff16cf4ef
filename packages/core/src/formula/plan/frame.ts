import {
  BLOCK_ROWS,
  type EncodedTexts,
  isFullBlock,
  makeVector,
  type Selection,
  scratch,
  type Vector,
  wholeBlock,
} from '../../columns/index.js'
import type { Scalar, StorageKind, Surroundings } from '../../values/index.js'
import type { ColumnId } from '../check/index.js'
import { fillSelected } from './kernels/move.js'
import { TextResults } from './text-results.js'

/** Where a plan reads and notes what it needs besides its own steps; one frame serves many blocks, one after the other. */
export interface FrameSource {
  /** The block of a column now being computed. */
  column(id: ColumnId): Vector
  /** Its status bytes alone; null for a column without storage, which is blank throughout. */
  statusOf(id: ColumnId): Uint8Array | null
  /**
   * The block of a column of texts as places in the list of its different texts; null where they are not listed, or are not
   * far fewer than the rows to be computed.
   */
  encoded(id: ColumnId): EncodedTexts | null
  readonly surroundings: Surroundings
  /** Id of the column being calculated; 0 for a formula that makes no column. */
  readonly target: number
  /** Id of a row of the block. */
  rowIdOf(row: number): number
  /** Fills in what a read of the plan gives on the rows selected of the block. */
  fill(read: number, out: Vector, selection: Selection): void
  /** Epoch days that the plan's lists of holidays hold, ascending. */
  holidays(list: number): Int32Array
}

/** A value, or a status that is no value, that is the same on every row. */
export interface Constant {
  readonly kind: StorageKind
  readonly value: Scalar | null
  readonly status: number
  /** The same for equal constants alone. */
  readonly key: string
}

/** Makes the record of a constant. */
export function constantOf(kind: StorageKind, value: Scalar | null, status: number): Constant {
  return { kind, value, status, key: `${kind} ${status} ${String(value)}` }
}

/** Something that a frame runs over rows. */
interface RunNode {
  run(frame: Frame, selection: Selection): Vector
}

/** Told when a branch of a choice takes rows: the branch (its number in the plan) and the first row it takes. */
export type BranchProbe = (branch: number, row: number) => void

/** Rows up to which a constant is written for these rows alone. */
const FEW_ROWS = 64
/** Blocks of constants that are kept. */
const MOST_CONSTANTS = 64
/** Constants that are copied for the block loops at once; others are left to the kernels. */
const MOST_COPIED_CONSTANTS = 16

/**
 * Scratch space of an evaluation: vectors and row lists that are lent out and given back, so that a block allocates nothing.
 * For full blocks the vectors lie in the memory of the block loops, and columns and constants are copied there when a step
 * first asks for them; kernels that find all their operands there let the loops do the work.
 */
export class Frame {
  readonly #free: Record<StorageKind, Vector[]> = { number: [], text: [], boolean: [] }
  readonly #lent: Set<Vector> = new Set()
  readonly #lentFlags: Set<Uint8Array> = new Set()
  /** Copies of columns for the run at hand, and of constants for as long as the frame is open. */
  readonly #copies: Map<Vector, Vector> = new Map()
  readonly #constantCopies: Map<Vector, Vector> = new Map()
  #isFull = false
  /** Rows of the run at hand when it is about the first rows of the block, all of them; else 0. */
  #wholeCount = 0
  readonly #freeRows: Uint16Array[] = []
  readonly #freeFlags: Uint8Array[] = []
  readonly #constants: Map<string, Vector> = new Map()
  /** Values of the named steps in sight. */
  readonly steps: Vector[] = []
  /** Vectors that steps hold, with how many do: a step of a step is the same vector. */
  readonly #pinned: Map<Vector, number> = new Map()
  /** What parts of the formula give for the different texts of a column. */
  readonly #results: Map<object, TextResults> = new Map()
  /** What is read in place of a column for now. */
  readonly #substitutes: Map<ColumnId, Vector> = new Map()
  #source: FrameSource
  /** One byte a row of the block, one bit a watch; null when no one counts. */
  marks: Uint8Array | null = null
  probe: BranchProbe | null = null

  constructor(source: FrameSource) {
    this.#source = source
  }

  get source(): FrameSource {
    return this.#source
  }

  /** Begins an evaluation that reads from a source. */
  open(source: FrameSource): void {
    this.#source = source
  }

  /** Ends an evaluation, one that broke off too: nothing of it is used any more, and what it still held is taken back. */
  close(): void {
    this.#endRun()
    this.marks = null
    this.probe = null
    // Clearing an empty map makes a new table; on a small edit that would be most of what a frame costs.
    if (this.#pinned.size > 0) this.#pinned.clear()
    if (this.#lent.size > 0) for (const vector of this.#lent) this.giveBack(vector)
    if (this.#lentFlags.size > 0) for (const flags of this.#lentFlags) this.giveBackFlags(flags)
    if (this.#constantCopies.size > 0) {
      for (const copy of this.#constantCopies.values()) scratch.giveBack(copy)
      this.#constantCopies.clear()
    }
    if (this.#results.size > 0) this.#results.clear()
    if (this.#substitutes.size > 0) this.#substitutes.clear()
  }

  /** Computes some rows of the block the source is at. The vector is the caller's to give back before the next run. */
  run(node: RunNode, selection: Selection): Vector {
    this.#endRun()
    this.#isFull = isFullBlock(selection)
    this.#wholeCount = selection.rows === null ? selection.count : 0
    return node.run(this, selection)
  }

  #endRun(): void {
    if (this.#copies.size > 0) {
      for (const copy of this.#copies.values()) scratch.giveBack(copy)
      this.#copies.clear()
    }
    this.#isFull = false
    this.#wholeCount = 0
  }

  /** The results of a part for the different texts of a column, kept while the frame is open. */
  resultsOf(part: { readonly kind: StorageKind }): TextResults {
    let results = this.#results.get(part)
    if (results === undefined) {
      results = new TextResults(part.kind)
      this.#results.set(part, results)
    }
    return results
  }

  /** Runs something that reads a vector in place of a column. */
  inPlaceOf<Result>(id: ColumnId, instead: Vector, run: () => Result): Result {
    this.#substitutes.set(id, instead)
    try {
      return run()
    } finally {
      this.#substitutes.delete(id)
    }
  }

  /** The block of a column. */
  column(id: ColumnId): Vector {
    const instead = this.#substitutes.size === 0 ? undefined : this.#substitutes.get(id)
    if (instead !== undefined) return instead
    const own = this.#source.column(id)
    // Few rows are computed before the whole block is looked through.
    if (this.#wholeCount > 0 && !own.clean) own.clean = holdsOnlyValues(own.status, this.#wholeCount)
    return this.#isFull ? copyForLoops(own, this.#copies) : own
  }

  /** Lends a vector; its contents are left over. */
  lend(kind: StorageKind): Vector {
    const vector = (this.#isFull ? scratch.lend(kind) : null) ?? this.#free[kind].pop() ?? makeVector(kind, BLOCK_ROWS)
    vector.clean = false
    this.#lent.add(vector)
    return vector
  }

  /** Takes a vector back; one that is a column's own, or a step's, is left where it is. */
  giveBack(vector: Vector): void {
    if ((this.#pinned.size > 0 && this.#pinned.has(vector)) || !this.#lent.delete(vector)) return
    if (!scratch.giveBack(vector)) this.#free[vector.kind].push(vector)
  }

  /** Keeps the vector of a step until it is unpinned, no matter who gives it back meanwhile. */
  pin(vector: Vector): void {
    this.#pinned.set(vector, (this.#pinned.get(vector) ?? 0) + 1)
  }

  /** Ends the life of a step; its vector is given back unless it is itself the result. */
  unpin(vector: Vector, result: Vector): void {
    const holders = (this.#pinned.get(vector) ?? 1) - 1
    if (holders > 0) this.#pinned.set(vector, holders)
    else this.#pinned.delete(vector)
    if (vector !== result) this.giveBack(vector)
  }

  /**
   * One value, or a status that is no value, on the rows selected: mostly a whole block of it, which is kept for the next block
   * and the next formula. So no one may write into it; being the frame's own, it is not given back either.
   */
  constant(constant: Constant, selection: Selection): Vector {
    let block = this.#constants.get(constant.key)
    if (block === undefined) {
      const { kind, value, status, key } = constant
      // For few rows a whole block is not worth its making: of thousands of formulas each has other constants.
      if (selection.rows !== null && selection.count <= FEW_ROWS) {
        const few = this.lend(kind)
        fillSelected(few, value, status, selection)
        return few
      }
      if (this.#constants.size >= MOST_CONSTANTS) this.#constants.clear()
      block = makeVector(kind, BLOCK_ROWS)
      fillSelected(block, value, status, wholeBlock(BLOCK_ROWS))
      this.#constants.set(key, block)
    }
    if (!this.#isFull) return block
    return this.#constantCopies.size < MOST_COPIED_CONSTANTS ? copyForLoops(block, this.#constantCopies) : block
  }

  lendRows(): Uint16Array {
    return this.#freeRows.pop() ?? new Uint16Array(BLOCK_ROWS)
  }

  giveBackRows(rows: Uint16Array): void {
    this.#freeRows.push(rows)
  }

  /** One byte a row, zero for the rows selected. */
  lendFlags(selection: Selection): Uint8Array {
    const flags = (isFullBlock(selection) ? scratch.lendBytes() : null) ?? this.#freeFlags.pop() ?? new Uint8Array(BLOCK_ROWS)
    this.#lentFlags.add(flags)
    if (selection.rows === null) flags.fill(0, 0, selection.count)
    else for (let k = 0; k < selection.count; k++) flags[selection.rows[k] as number] = 0
    return flags
  }

  giveBackFlags(flags: Uint8Array): void {
    this.#lentFlags.delete(flags)
    if (!scratch.giveBack(flags)) this.#freeFlags.push(flags)
  }
}

/** The copy of a block in the memory of the loops, made at the first need; the block itself when there is no room for it. */
function copyForLoops(block: Vector, copies: Map<Vector, Vector>): Vector {
  const known = copies.get(block)
  if (known !== undefined) return known
  const copy = block.status.length === BLOCK_ROWS ? scratch.lend(block.kind) : null
  if (copy === null || copy.kind === 'text' || block.kind === 'text') return block
  copy.values.set(block.values)
  copy.status.set(block.status)
  copy.clean = block.clean
  copies.set(block, copy)
  return copy
}

/** Stops at the first blank or error, so a block that has any costs next to nothing. */
function holdsOnlyValues(status: Uint8Array, count: number): boolean {
  for (let row = 0; row < count; row++) if (status[row] !== 0) return false
  return true
}
