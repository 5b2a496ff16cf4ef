import * as v from 'valibot'
import { field, type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { Id, Name, Text } from './fields.js'

export const setTallySchema = operationSchema('set-tally', {
  does: 'Sets a tally: a named formula of aggregates over a table, kept once and not once a row.',
  fields: {
    table: field(Name, 'The table it is about.'),
    name: field(Name, 'Its name.'),
    formula: field(Text, 'Aggregates of the columns of the table.'),
    before: v.optional(field(Name, 'The one it stands before; at the end when left out.')),
  },
  journal: { id: v.optional(field(Id, 'Its id; given anew when left out.')) },
  examples: [{ op: 'set-tally', table: 'harvests', name: 'mean_kg', formula: 'mean(honey_kg)' }],
})

/** A tally over a table. */
export type SetTally = GivenBy<typeof setTallySchema>
/** The same as journals carry it. */
export type JournaledSetTally = JournaledBy<typeof setTallySchema>

export const removeTallySchema = operationSchema('remove-tally', {
  does: 'Removes a tally that no formula reads.',
  fields: { table: field(Name, 'The table it is about.'), name: field(Name, 'The tally.') },
  examples: [{ op: 'remove-tally', table: 'harvests', name: 'total_kg' }],
})

/** Takes a tally away. */
export type RemoveTally = GivenBy<typeof removeTallySchema>
