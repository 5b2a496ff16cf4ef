import * as v from 'valibot'
import { type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { list, Name, Text, Values } from './fields.js'
import { RowId } from './row-ids.js'

export const fillColumnSchema = operationSchema(
  'fill-column',
  {
    /** The table it belongs to. */
    table: Name,
    /** The column. */
    column: Name,
    /** What gives the cell of each row, this once; it may read what the column holds now. */
    formula: v.optional(Text),
    /** The cells in row order, in place of a formula. */
    values: v.optional(Values),
  },
  {
    /** With values: the rows of a paused column that were typed by hand. */
    typed: v.optional(list(RowId)),
  },
)

/**
 * Writes every cell of a source column once; they can be typed over afterwards.
 *
 * @example
 * { op: 'fill-column', table: 'hives', column: 'boxes', formula: 'boxes + 1' }
 */
export type FillColumn = GivenBy<typeof fillColumnSchema>
/** The same as journals carry it. */
export type JournaledFillColumn = JournaledBy<typeof fillColumnSchema>
