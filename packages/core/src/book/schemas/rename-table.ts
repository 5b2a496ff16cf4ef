import { field, type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const renameTableSchema = operationSchema('rename-table', {
  does: 'Gives a table another name and rewrites every formula that reads it by name.',
  fields: { table: field(Name, 'The table.'), to: field(Name, 'Its name from now on.') },
  examples: [{ op: 'rename-table', table: 'hives', to: 'colonies' }],
})

/** Another name for a table. */
export type RenameTable = GivenBy<typeof renameTableSchema>
