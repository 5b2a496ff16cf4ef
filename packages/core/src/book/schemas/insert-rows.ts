import * as v from 'valibot'
import { type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { list, Name, RowCount, Rows, StoredBlock } from './fields.js'
import { RowId, RowIds } from './row-ids.js'

export const insertRowsSchema = operationSchema(
  'insert-rows',
  {
    /** The table. */
    table: Name,
    /** Rows as records; a column that a row leaves out is blank there. */
    rows: v.optional(Rows),
    /** Rows as columns: arrays of one length; a program may give typed arrays of numbers (NaN is blank), or finished storage. */
    block: v.optional(StoredBlock),
    /** How many rows, where neither says it. */
    count: v.optional(RowCount),
    /** The row that the new rows stand before; at the end when left out. */
    before: v.optional(RowId),
    /** Ids of the new rows, none of them used so far; given in order when left out. */
    ids: v.optional(RowIds),
  },
  {
    /** Row numbers of the new rows afterwards, from 1, ascending; instead of `before`. */
    places: v.optional(list(RowId)),
  },
)

/**
 * Adds rows; every calculated column gets its values there.
 *
 * @example
 * {
 *   op: 'insert-rows',
 *   table: 'harvests',
 *   rows: [
 *     { hive: 'H1', day: '2026-07-02', honey_kg: 14.5, frames: 6 },
 *     { hive: 'H3', day: '2026-07-02', honey_kg: 9, frames: 4 },
 *   ],
 * }
 *
 * @example
 * { op: 'insert-rows', table: 'hives', block: { code: ['H4', 'H5'], boxes: [2, 2] }, before: 1 }
 */
export type InsertRows = GivenBy<typeof insertRowsSchema>
/** The same as journals carry it. */
export type JournaledInsertRows = JournaledBy<typeof insertRowsSchema>
