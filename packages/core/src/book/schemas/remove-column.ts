import * as v from 'valibot'
import { type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const removeColumnSchema = operationSchema('remove-column', {
  /** The table it belongs to. */
  table: Name,
  /** The column. */
  column: Name,
  /** What becomes of the columns calculated from it; refused when there are any and this is left out. */
  dependants: v.optional(v.picklist(['remove', 'detach'])),
})

/**
 * Removes a column, if wanted with all that is calculated from it, or after detaching what reads it.
 *
 * @example
 * { op: 'remove-column', table: 'harvests', column: 'frames', dependants: 'detach' }
 */
export type RemoveColumn = GivenBy<typeof removeColumnSchema>
