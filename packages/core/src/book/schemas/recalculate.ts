import * as v from 'valibot'
import { field, type GivenBy, operationSchema } from './define-schema.js'
import { list, Text } from './fields.js'

export const recalculateSchema = operationSchema('recalculate', {
  does: 'Calculates what is stale: all of it, or some columns with all that they are made from.',
  fields: {
    columns: v.optional(
      field(list(Text), 'Addresses: `table.column`, `value:name`, `tally:table.name`; everything when left out.'),
    ),
  },
  examples: [{ op: 'recalculate', columns: ['harvests.per_frame'] }],
})

/** Calculates what is stale. */
export type Recalculate = GivenBy<typeof recalculateSchema>
