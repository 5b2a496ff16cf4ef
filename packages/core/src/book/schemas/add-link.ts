import * as v from 'valibot'
import { type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { Id, list, Name } from './fields.js'

const Keys = v.pipe(list(Name), v.minLength(1, 'a link needs a key column'))

export const addLinkSchema = operationSchema(
  'add-link',
  {
    /** The table whose rows lead somewhere. */
    table: Name,
    /** The columns that hold the key of the row led to. */
    columns: Keys,
    /** The table led to. */
    to: Name,
    /** The columns of that table with the key. */
    keys: Keys,
    /** What formulas follow it by; the name of the first key column when left out. */
    name: v.optional(Name),
  },
  {
    /** Its id; given anew when left out. */
    id: v.optional(Id),
  },
)

/**
 * Adds a link from the rows of a table to those of another, or of itself.
 *
 * @example
 * { op: 'add-link', table: 'notes', columns: ['about'], to: 'hives', keys: ['code'] }
 */
export type AddLink = GivenBy<typeof addLinkSchema>
/** The same as journals carry it. */
export type JournaledAddLink = JournaledBy<typeof addLinkSchema>
