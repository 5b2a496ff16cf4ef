import * as v from 'valibot'
import { tallyProperties } from './column-properties.js'
import { type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { Id, Name, Text } from './fields.js'

export const setTallySchema = operationSchema(
  'set-tally',
  {
    /** The table it is about. */
    table: Name,
    /** Its name. */
    name: Name,
    /** Aggregates of the columns of the table. */
    formula: Text,
    ...tallyProperties,
    /** The one it stands before; at the end when left out. */
    before: v.optional(Name),
  },
  {
    /** Its id; given anew when left out. */
    id: v.optional(Id),
  },
)

/**
 * Sets a tally: a named formula of aggregates over a table, kept once and not once a row. Of how it is shown, what is left out
 * stays as it is, and null takes it away; unit and display are those of the column that it sums, where nothing is said.
 *
 * @example
 * { op: 'set-tally', table: 'harvests', name: 'mean_kg', formula: 'mean(honey_kg)' }
 */
export type SetTally = GivenBy<typeof setTallySchema>
/** The same as journals carry it. */
export type JournaledSetTally = JournaledBy<typeof setTallySchema>

export const removeTallySchema = operationSchema('remove-tally', {
  /** The table it is about. */
  table: Name,
  /** The tally. */
  name: Name,
})

/**
 * Removes a tally that no formula reads.
 *
 * @example
 * { op: 'remove-tally', table: 'harvests', name: 'total_kg' }
 */
export type RemoveTally = GivenBy<typeof removeTallySchema>
