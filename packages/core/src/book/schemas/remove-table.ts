import { field, type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const removeTableSchema = operationSchema('remove-table', {
  does: 'Removes a table with all it holds: rows, links, tallies and rules. Refused while other tables read it.',
  fields: { table: field(Name, 'The table.') },
  examples: [{ op: 'remove-table', table: 'notes' }],
})

/** Takes a table away with all it holds. */
export type RemoveTable = GivenBy<typeof removeTableSchema>
