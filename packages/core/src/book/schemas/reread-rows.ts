import * as v from 'valibot'
import { type GivenBy, operationSchema } from './define-schema.js'
import { list, Name, ValueBlock } from './fields.js'
import { RowIds } from './row-ids.js'

export const rereadRowsSchema = operationSchema('reread-rows', {
  /** The table. */
  table: Name,
  /** All rows as they are now at their source, as arrays of one length by column. */
  block: ValueBlock,
  /** Columns whose values tell which row is which; the place in the table when left out. */
  key: v.optional(list(Name)),
  /** What becomes of rows that the source has no more. Left out they go, and the reading is refused where they hold values in columns that the source does not have. */
  gone: v.optional(v.picklist(['keep', 'drop'])),
  /** `source` for rows to stand in the order of the source afterwards. */
  order: v.optional(v.picklist(['source'])),
  /** Ids of the rows that are new. */
  ids: v.optional(RowIds),
})

/**
 * Takes in what a source holds now: rows are matched by key, cells that differ are written, new rows come at the end.
 *
 * @example
 * {
 *   op: 'reread-rows',
 *   table: 'hives',
 *   block: { code: ['H1', 'H2', 'H6'], apiary: ['North', 'Fen', 'Fen'], boxes: [2, 3, 1] },
 *   key: ['code'],
 *   gone: 'drop',
 * }
 */
export type RereadRows = GivenBy<typeof rereadRowsSchema>
