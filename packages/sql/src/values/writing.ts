import type { CellFault, Scalar, Surroundings } from 'mellow-abacus'
import type { Checked } from 'mellow-abacus/model'
import type { Dialect } from '../dialects/index.js'
import type { Term } from '../terms/index.js'

/** What the formulas of one model are written with. */
export interface Writing {
  readonly dialect: Dialect
  readonly surroundings: Surroundings
  /** A call of a function of the schema, which is made because of it. */
  call(name: string, ...args: readonly Term[]): Term
  /** What an expression gives that reads no row and no name. */
  constant(expression: Checked): Scalar | CellFault | null
}
