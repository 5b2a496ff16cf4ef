import { type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const removeTableSchema = operationSchema('remove-table', {
  /** The table. */
  table: Name,
})

/**
 * Removes a table with all it holds: rows, links, tallies and rules. Refused while other tables read it.
 *
 * @example
 * { op: 'remove-table', table: 'notes' }
 */
export type RemoveTable = GivenBy<typeof removeTableSchema>
