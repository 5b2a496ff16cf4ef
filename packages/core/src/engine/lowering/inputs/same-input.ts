import { BLOCK_ROWS, makeVector, type Selection, selectRows, type Vector } from '../../../columns/index.js'
import type { AccessPath, CrossRowInput } from '../../lowered-plans/index.js'
import type { NodeId, PropagationPass } from '../../propagation/index.js'
import { cellAt, putCell } from '../../storage/index.js'

const FIRST_ROW: Selection = selectRows(Uint16Array.of(0))

/** What a formula without a row of its own reads, such as a named value: the same for every group. */
export class SameInput implements CrossRowInput {
  readonly accessPath: AccessPath
  readonly sources: readonly NodeId[]
  readonly #input: CrossRowInput

  constructor(input: CrossRowInput) {
    this.#input = input
    this.accessPath = input.accessPath
    this.sources = input.sources
  }

  fill(_block: number, out: Vector, { rows, count }: Selection): void {
    const single = makeVector(out.kind, BLOCK_ROWS)
    this.#input.fill(0, single, FIRST_ROW)
    const cell = cellAt(single, 0)
    for (let k = 0; k < count; k++) putCell(out, rows === null ? k : (rows[k] as number), cell)
  }

  /** All groups, or none. */
  touched(pass: PropagationPass): readonly number[] | null {
    const touched = this.#input.touched(pass)
    if (touched === null) return null
    const isNone = touched instanceof Map ? touched.size === 0 : [...(touched as Iterable<number>)].length === 0
    return isNone ? [] : null
  }
}
