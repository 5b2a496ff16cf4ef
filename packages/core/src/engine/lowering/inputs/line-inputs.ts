import { BLOCK_SHIFT, type Selection, type Vector } from '../../../columns/index.js'
import { Status } from '../../../values/index.js'
import type { AccessPath, CrossRowInput } from '../../lowered-plans/index.js'
import type { NodeId } from '../../propagation/index.js'
import type { TableStore } from '../../storage/index.js'
import { copyCell } from '../../storage/index.js'

/** For each line the one that stands in some relation to it, such as the line around it; -1 for none. */
export type Neighbours = Int32Array

/** A column of another line of the same sheet, a step or more away. */
export class NeighbourInput implements CrossRowInput {
  readonly accessPath: AccessPath = { kind: 'link' }
  readonly sources: readonly NodeId[]
  readonly #steps: readonly Neighbours[]
  readonly #store: TableStore
  readonly #column: NodeId

  constructor(store: TableStore, steps: readonly Neighbours[], column: NodeId) {
    this.#store = store
    this.#steps = steps
    this.#column = column
    this.sources = [column]
  }

  fill(block: number, out: Vector, { rows, count }: Selection): void {
    const storage = this.#store.column(this.#column)
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      let line = (block << BLOCK_SHIFT) + row
      for (const step of this.#steps) line = line < 0 ? line : (step[line] as number)
      if (line < 0) out.status[row] = Status.blank
      else copyCell(storage, line, out, row)
    }
  }

  /** Lines are calculated when they are read, so none is ever touched. */
  touched(): Iterable<number> {
    return []
  }
}

/** `count()` of a line: how many rows are under it. */
export class LineSizeInput implements CrossRowInput {
  readonly accessPath: AccessPath = { kind: 'this-row' }
  readonly sources: readonly NodeId[] = []
  readonly #sizes: Int32Array

  constructor(sizes: Int32Array) {
    this.#sizes = sizes
  }

  fill(block: number, out: Vector, { rows, count }: Selection): void {
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      out.status[row] = Status.value
      out.values[row] = this.#sizes[(block << BLOCK_SHIFT) + row] as never
    }
  }

  touched(): Iterable<number> {
    return []
  }
}
