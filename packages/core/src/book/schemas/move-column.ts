import * as v from 'valibot'
import { type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const moveColumnSchema = operationSchema('move-column', {
  /** The table it belongs to. */
  table: Name,
  /** The column. */
  column: Name,
  /** The column it stands before; at the end when left out. */
  before: v.optional(Name),
})

/**
 * Puts a column elsewhere among the columns of its table.
 *
 * @example
 * { op: 'move-column', table: 'harvests', column: 'per_frame', before: 'honey_kg' }
 */
export type MoveColumn = GivenBy<typeof moveColumnSchema>
