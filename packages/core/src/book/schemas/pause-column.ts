import * as v from 'valibot'
import { PausedSpec } from './column-spec.js'
import { type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { Name, Values } from './fields.js'

export const pauseColumnSchema = operationSchema(
  'pause-column',
  {
    /** The table it belongs to. */
    table: Name,
    /** The column. */
    column: Name,
  },
  {
    /** The cells it goes back to, in row order, where a step back leads here. */
    values: v.optional(Values),
    /** What is put aside in a source column, where a step back leads here. */
    aside: v.optional(PausedSpec),
  },
)

/**
 * Puts a column's formula aside: its cells can be typed over, and what is calculated from it follows them.
 *
 * @example
 * { op: 'pause-column', table: 'harvests', column: 'per_frame' }
 */
export type PauseColumn = GivenBy<typeof pauseColumnSchema>
/** The same as journals carry it. */
export type JournaledPauseColumn = JournaledBy<typeof pauseColumnSchema>
