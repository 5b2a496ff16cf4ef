import * as v from 'valibot'
import { type GivenBy, operationSchema } from './define-schema.js'
import { list, Text } from './fields.js'

export const recalculateSchema = operationSchema('recalculate', {
  /** Addresses: `table.column`, `value:name`, `tally:table.name`; everything when left out. */
  columns: v.optional(list(Text)),
})

/**
 * Calculates what is stale: all of it, or some columns with all that they are made from.
 *
 * @example
 * { op: 'recalculate', columns: ['harvests.per_frame'] }
 */
export type Recalculate = GivenBy<typeof recalculateSchema>
