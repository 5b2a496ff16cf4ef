import * as v from 'valibot'
import { field, type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { list, Name } from './fields.js'
import { RowId } from './row-ids.js'

export const moveRowsSchema = operationSchema('move-rows', {
  does: 'Puts rows elsewhere in the order of their table; formulas that go by row order follow.',
  fields: {
    table: field(Name, 'The table.'),
    rows: field(list(RowId), 'Ids of the rows, which stand in this order afterwards.'),
    before: v.optional(field(RowId, 'The row they stand before; at the end when left out.')),
  },
  journal: {
    places: v.optional(field(list(RowId), 'Row numbers that the rows have afterwards, from 1, ascending; instead of `before`.')),
  },
  examples: [{ op: 'move-rows', table: 'harvests', rows: [3], before: 1 }],
})

/** Another place for rows. */
export type MoveRows = GivenBy<typeof moveRowsSchema>
/** The same as journals carry it. */
export type JournaledMoveRows = JournaledBy<typeof moveRowsSchema>
