import { type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const detachColumnSchema = operationSchema('detach-column', {
  /** The table it belongs to. */
  table: Name,
  /** The column. */
  column: Name,
})

/**
 * Drops a column's formula, or makes a stamp an ordinary column, and keeps its values, which can then be typed over.
 *
 * @example
 * { op: 'detach-column', table: 'harvests', column: 'per_frame' }
 */
export type DetachColumn = GivenBy<typeof detachColumnSchema>
