import { field, type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const renameColumnSchema = operationSchema('rename-column', {
  does: 'Gives a column another name and rewrites every formula that reads it.',
  fields: {
    table: field(Name, 'The table it belongs to.'),
    column: field(Name, 'The column.'),
    to: field(Name, 'Its name from now on.'),
  },
  examples: [{ op: 'rename-column', table: 'harvests', column: 'honey_kg', to: 'honey' }],
})

/** Another name for a column. */
export type RenameColumn = GivenBy<typeof renameColumnSchema>
