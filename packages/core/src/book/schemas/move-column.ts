import * as v from 'valibot'
import { field, type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const moveColumnSchema = operationSchema('move-column', {
  does: 'Puts a column elsewhere among the columns of its table.',
  fields: {
    table: field(Name, 'The table it belongs to.'),
    column: field(Name, 'The column.'),
    before: v.optional(field(Name, 'The column it stands before; at the end when left out.')),
  },
  examples: [{ op: 'move-column', table: 'harvests', column: 'per_frame', before: 'honey_kg' }],
})

/** Another place for a column. */
export type MoveColumn = GivenBy<typeof moveColumnSchema>
