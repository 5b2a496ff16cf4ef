import { BLOCK_ROWS, makeVector, type Selection, type Vector, wholeBlock } from '../../columns/index.js'
import type { Scalar, StorageKind, Surroundings } from '../../values/index.js'
import type { ColumnId } from '../check/index.js'
import { fillSelected } from './kernels/move.js'

/** Where a plan reads and notes what it needs besides its own steps; one frame serves many blocks, one after the other. */
export interface FrameSource {
  /** The block of a column now being computed. */
  column(id: ColumnId): Vector
  /** Its status bytes alone; null for a column without storage, which is blank throughout. */
  statusOf(id: ColumnId): Uint8Array | null
  readonly surroundings: Surroundings
  /** Id of the column being calculated; 0 for a formula that makes no column. */
  readonly target: number
  /** Id of a row of the block. */
  rowIdOf(row: number): number
}

/** Told when a branch of a choice takes rows: the branch (its number in the plan) and the first row it takes. */
export type BranchProbe = (branch: number, row: number) => void

/** Blocks of constants that are kept. */
const MOST_CONSTANTS = 64

/** Scratch space of an evaluation: vectors and row lists that are lent out and given back, so that a block allocates nothing. */
export class Frame {
  readonly #free: Record<StorageKind, Vector[]> = { number: [], text: [], boolean: [] }
  readonly #lent: Set<Vector> = new Set()
  readonly #freeRows: Uint16Array[] = []
  readonly #freeFlags: Uint8Array[] = []
  readonly #constants: Map<string, Vector> = new Map()
  /** Values of the named steps in sight. */
  readonly steps: Vector[] = []
  /** Vectors that steps hold, with how many do: a step of a step is the same vector. */
  readonly #pinned: Map<Vector, number> = new Map()
  source: FrameSource
  /** One byte a row of the block, one bit a watch; null when nobody counts. */
  marks: Uint8Array | null = null
  probe: BranchProbe | null = null

  constructor(source: FrameSource) {
    this.source = source
  }

  /** Lends a vector; its contents are left over. */
  lend(kind: StorageKind): Vector {
    const vector = this.#free[kind].pop() ?? makeVector(kind, BLOCK_ROWS)
    vector.clean = false
    this.#lent.add(vector)
    return vector
  }

  /** Takes a vector back; one that is a column's own, or a step's, is left where it is. */
  giveBack(vector: Vector): void {
    if (this.#pinned.has(vector) || !this.#lent.delete(vector)) return
    this.#free[vector.kind].push(vector)
  }

  /** Keeps the vector of a step until it is unpinned, whoever gives it back meanwhile. */
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
   * A whole block of one value, or of a status that is no value. It is kept for the next block and the next formula, so
   * nobody may write into it; being the frame's own, it is not given back either.
   */
  constant(kind: StorageKind, value: Scalar | null, status: number): Vector {
    const key = `${kind} ${status} ${typeof value === 'string' ? value : String(value)}`
    const known = this.#constants.get(key)
    if (known !== undefined) return known
    if (this.#constants.size >= MOST_CONSTANTS) this.#constants.clear()
    const made = makeVector(kind, BLOCK_ROWS)
    fillSelected(made, value, status, wholeBlock(BLOCK_ROWS))
    this.#constants.set(key, made)
    return made
  }

  lendRows(): Uint16Array {
    return this.#freeRows.pop() ?? new Uint16Array(BLOCK_ROWS)
  }

  giveBackRows(rows: Uint16Array): void {
    this.#freeRows.push(rows)
  }

  /** One byte a row, zero for the rows selected. */
  lendFlags(selection: Selection): Uint8Array {
    const flags = this.#freeFlags.pop() ?? new Uint8Array(BLOCK_ROWS)
    if (selection.rows === null) flags.fill(0, 0, selection.count)
    else for (let k = 0; k < selection.count; k++) flags[selection.rows[k] as number] = 0
    return flags
  }

  giveBackFlags(flags: Uint8Array): void {
    this.#freeFlags.push(flags)
  }
}
