import * as v from 'valibot'
import { PausedSpec } from './column-spec.js'
import { field, type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { Name, Values } from './fields.js'

export const pauseColumnSchema = operationSchema('pause-column', {
  does: "Puts a column's formula aside: its cells can be typed over, and what is calculated from it follows them.",
  fields: { table: field(Name, 'The table it belongs to.'), column: field(Name, 'The column.') },
  journal: {
    values: v.optional(field(Values, 'The cells it goes back to, in row order, where a step back leads here.')),
    aside: v.optional(field(PausedSpec, 'What is put aside in a source column, where a step back leads here.')),
  },
  examples: [{ op: 'pause-column', table: 'harvests', column: 'per_frame' }],
})

/** A formula put aside. */
export type PauseColumn = GivenBy<typeof pauseColumnSchema>
/** The same as journals carry it. */
export type JournaledPauseColumn = JournaledBy<typeof pauseColumnSchema>
