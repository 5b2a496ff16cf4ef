import * as v from 'valibot'
import { field, type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const resumeColumnSchema = operationSchema('resume-column', {
  does: "Takes a paused column's formula up again; refused while cells typed by hand would be lost and `discard` does not say so.",
  fields: {
    table: field(Name, 'The table it belongs to.'),
    column: field(Name, 'The column.'),
    discard: v.optional(field(v.pipe(v.number(), v.integer(), v.minValue(0)), 'How many cells typed by hand may be lost.')),
  },
  examples: [{ op: 'resume-column', table: 'harvests', column: 'estimate', discard: 1 }],
})

/** A paused formula taken up again. */
export type ResumeColumn = GivenBy<typeof resumeColumnSchema>
