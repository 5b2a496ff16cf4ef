import type { Selection, Vector } from '../../columns/index.js'
import { Status } from '../../values/index.js'
import type { NodeId } from '../propagation/index.js'

/** UTF-16 units of texts that one column may make at a time: half a gigabyte. */
const MOST_TEXT_UNITS: number = 2 ** 28

/** Thrown where a column would make more text than memory has room for; the call is then taken back. */
export class TooMuchText extends Error {
  readonly column: NodeId

  constructor(column: NodeId) {
    super(`column ${column} would make more than ${MOST_TEXT_UNITS} units of text`)
    this.column = column
  }
}

/** What the texts of a column have taken while it is computed. */
export class TextBudget {
  readonly #column: NodeId
  #units = 0

  constructor(column: NodeId) {
    this.#column = column
  }

  /** Takes the texts of a block. Throws TooMuchText where that is too much. */
  takeBlock({ kind, values, status }: Vector, { rows, count }: Selection): void {
    if (kind !== 'text') return
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      if (status[row] === Status.value) this.#units += (values[row] as string).length
    }
    if (this.#units > MOST_TEXT_UNITS) throw new TooMuchText(this.#column)
  }
}
