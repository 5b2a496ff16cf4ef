import * as v from 'valibot'
import { field, type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const removeColumnSchema = operationSchema('remove-column', {
  does: 'Removes a column, if wanted with all that is calculated from it, or after detaching what reads it.',
  fields: {
    table: field(Name, 'The table it belongs to.'),
    column: field(Name, 'The column.'),
    dependants: v.optional(
      field(
        v.picklist(['remove', 'detach']),
        'What becomes of the columns calculated from it; refused when there are any and this is left out.',
      ),
    ),
  },
  examples: [{ op: 'remove-column', table: 'harvests', column: 'frames', dependants: 'detach' }],
})

/** Takes a column away. */
export type RemoveColumn = GivenBy<typeof removeColumnSchema>
