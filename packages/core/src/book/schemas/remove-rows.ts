import { type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'
import { RowIds } from './row-ids.js'

export const removeRowsSchema = operationSchema('remove-rows', {
  /** The table. */
  table: Name,
  /** Ids of the rows: a list, or a run of consecutive ones. */
  rows: RowIds,
})

/**
 * Removes rows, by id.
 *
 * @example
 * { op: 'remove-rows', table: 'harvests', rows: [2] }
 */
export type RemoveRows = GivenBy<typeof removeRowsSchema>
