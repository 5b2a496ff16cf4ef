import * as v from 'valibot'
import { type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const resumeColumnSchema = operationSchema('resume-column', {
  /** The table it belongs to. */
  table: Name,
  /** The column. */
  column: Name,
  /** How many cells typed by hand may be lost. */
  discard: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0))),
})

/**
 * Takes a paused column's formula up again; refused while cells typed by hand would be lost and `discard` does not say so.
 *
 * @example
 * { op: 'resume-column', table: 'harvests', column: 'estimate', discard: 1 }
 */
export type ResumeColumn = GivenBy<typeof resumeColumnSchema>
