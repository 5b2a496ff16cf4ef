import * as v from 'valibot'
import { type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { list, Name } from './fields.js'
import { RowId } from './row-ids.js'

export const moveRowsSchema = operationSchema(
  'move-rows',
  {
    /** The table. */
    table: Name,
    /** Ids of the rows, which stand in this order afterwards. */
    rows: list(RowId),
    /** The row they stand before; at the end when left out. */
    before: v.optional(RowId),
  },
  {
    /** Row numbers that the rows have afterwards, from 1, ascending; instead of `before`. */
    places: v.optional(list(RowId)),
  },
)

/**
 * Puts rows elsewhere in the order of their table; formulas that go by row order follow.
 *
 * @example
 * { op: 'move-rows', table: 'harvests', rows: [3], before: 1 }
 */
export type MoveRows = GivenBy<typeof moveRowsSchema>
/** The same as journals carry it. */
export type JournaledMoveRows = JournaledBy<typeof moveRowsSchema>
