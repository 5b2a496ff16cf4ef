import { field, type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'
import { RowIds } from './row-ids.js'

export const removeRowsSchema = operationSchema('remove-rows', {
  does: 'Removes rows, by id.',
  fields: { table: field(Name, 'The table.'), rows: field(RowIds, 'Ids of the rows: a list, or a run of consecutive ones.') },
  examples: [{ op: 'remove-rows', table: 'harvests', rows: [2] }],
})

/** Takes rows away. */
export type RemoveRows = GivenBy<typeof removeRowsSchema>
