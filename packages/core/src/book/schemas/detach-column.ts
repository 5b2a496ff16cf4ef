import { field, type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const detachColumnSchema = operationSchema('detach-column', {
  does: "Drops a column's formula, or makes a stamp an ordinary column, and keeps its values, which can then be typed over.",
  fields: { table: field(Name, 'The table it belongs to.'), column: field(Name, 'The column.') },
  examples: [{ op: 'detach-column', table: 'harvests', column: 'per_frame' }],
})

/** A column without its formula, with the values it gave. */
export type DetachColumn = GivenBy<typeof detachColumnSchema>
