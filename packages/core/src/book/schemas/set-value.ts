import * as v from 'valibot'
import { Type } from './column-spec.js'
import { field, type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { Id, Name, Text, Value } from './fields.js'

export const setValueSchema = operationSchema('set-value', {
  does: 'Sets a named value: typed, or calculated by a formula over whole tables.',
  fields: {
    name: field(Name, 'The name that formulas read it by.'),
    value: v.optional(field(Value, 'The value; either this or a formula.')),
    formula: v.optional(field(Text, 'What calculates it.')),
    type: v.optional(field(Type, 'The type of a value that does not show it, such as a date.')),
    before: v.optional(field(Name, 'The one it stands before; at the end when left out.')),
  },
  journal: { id: v.optional(field(Id, 'Its id; given anew when left out.')) },
  examples: [
    { op: 'set-value', name: 'price', value: 9.2 },
    { op: 'set-value', name: 'season_start', value: '2026-04-01', type: 'date' },
    { op: 'set-value', name: 'best', formula: 'max(every harvests.honey_kg)' },
  ],
})

/** A named value. */
export type SetValue = GivenBy<typeof setValueSchema>
/** The same as journals carry it. */
export type JournaledSetValue = JournaledBy<typeof setValueSchema>

export const removeValueSchema = operationSchema('remove-value', {
  does: 'Removes a named value that no formula reads.',
  fields: { name: field(Name, 'The value.') },
  examples: [{ op: 'remove-value', name: 'season' }],
})

/** Takes a named value away. */
export type RemoveValue = GivenBy<typeof removeValueSchema>
