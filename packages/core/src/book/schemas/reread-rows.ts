import * as v from 'valibot'
import { field, type GivenBy, operationSchema } from './define-schema.js'
import { list, Name, ValueBlock } from './fields.js'
import { RowIds } from './row-ids.js'

export const rereadRowsSchema = operationSchema('reread-rows', {
  does: 'Takes in what a source holds now: rows are matched by key, cells that differ are written, new rows come at the end.',
  fields: {
    table: field(Name, 'The table.'),
    block: field(ValueBlock, 'All rows as they are now at their source, as arrays of one length by column.'),
    key: v.optional(field(list(Name), 'Columns whose values tell which row is which; the place in the table when left out.')),
    gone: v.optional(
      field(
        v.picklist(['keep', 'drop']),
        'What becomes of rows that the source has no more. Left out they go, and the reading is refused where they hold values in columns that the source does not have.',
      ),
    ),
    order: v.optional(field(v.picklist(['source']), '`source` for rows to stand in the order of the source afterwards.')),
    ids: v.optional(field(RowIds, 'Ids of the rows that are new.')),
  },
  examples: [
    {
      op: 'reread-rows',
      table: 'hives',
      block: { code: ['H1', 'H2', 'H6'], apiary: ['North', 'Fen', 'Fen'], boxes: [2, 3, 1] },
      key: ['code'],
      gone: 'drop',
    },
  ],
})

/** Takes in what a source holds now. Several rows of one key are matched in their order. */
export type RereadRows = GivenBy<typeof rereadRowsSchema>
