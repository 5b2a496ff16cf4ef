import * as v from 'valibot'
import { field, type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { Id, list, Name } from './fields.js'

const Keys = v.pipe(list(Name), v.minLength(1, 'a link needs a key column'))

export const addLinkSchema = operationSchema('add-link', {
  does: 'Adds a link from the rows of a table to those of another, or of itself.',
  fields: {
    table: field(Name, 'The table whose rows lead somewhere.'),
    columns: field(Keys, 'The columns that hold the key of the row led to.'),
    to: field(Name, 'The table led to.'),
    keys: field(Keys, 'The columns of that table with the key.'),
    name: v.optional(field(Name, 'What formulas follow it by; the name of the first key column when left out.')),
  },
  journal: { id: v.optional(field(Id, 'Its id; given anew when left out.')) },
  examples: [{ op: 'add-link', table: 'notes', columns: ['about'], to: 'hives', keys: ['code'] }],
})

/** A link from the rows of a table to those of another. */
export type AddLink = GivenBy<typeof addLinkSchema>
/** The same as journals carry it. */
export type JournaledAddLink = JournaledBy<typeof addLinkSchema>
