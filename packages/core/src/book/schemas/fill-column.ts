import * as v from 'valibot'
import { field, type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { list, Name, Text, Values } from './fields.js'
import { RowId } from './row-ids.js'

export const fillColumnSchema = operationSchema('fill-column', {
  does: 'Writes every cell of a source column once; they can be typed over afterwards.',
  fields: {
    table: field(Name, 'The table it belongs to.'),
    column: field(Name, 'The column.'),
    formula: v.optional(field(Text, 'What gives the cell of each row, this once; it may read what the column holds now.')),
    values: v.optional(field(Values, 'The cells in row order, in place of a formula.')),
  },
  journal: {
    typed: v.optional(field(list(RowId), 'With values: the rows of a paused column that were typed by hand.')),
  },
  examples: [{ op: 'fill-column', table: 'hives', column: 'boxes', formula: 'boxes + 1' }],
})

/** Writes a whole source column once. */
export type FillColumn = GivenBy<typeof fillColumnSchema>
/** The same as journals carry it. */
export type JournaledFillColumn = JournaledBy<typeof fillColumnSchema>
