import * as v from 'valibot'
import { Type } from './column-spec.js'
import { type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { Id, Name, Text, Value } from './fields.js'

export const setValueSchema = operationSchema(
  'set-value',
  {
    /** The name that formulas read it by. */
    name: Name,
    /** The value; either this or a formula. */
    value: v.optional(Value),
    /** What calculates it. */
    formula: v.optional(Text),
    /** The type of a value that does not show it, such as a date. */
    type: v.optional(Type),
    /** The one it stands before; at the end when left out. */
    before: v.optional(Name),
  },
  {
    /** Its id; given anew when left out. */
    id: v.optional(Id),
  },
)

/**
 * Sets a named value: typed, or calculated by a formula over whole tables.
 *
 * @example
 * { op: 'set-value', name: 'price', value: 9.2 }
 *
 * @example
 * { op: 'set-value', name: 'season_start', value: '2026-04-01', type: 'date' }
 *
 * @example
 * { op: 'set-value', name: 'best', formula: 'max(every harvests.honey_kg)' }
 */
export type SetValue = GivenBy<typeof setValueSchema>
/** The same as journals carry it. */
export type JournaledSetValue = JournaledBy<typeof setValueSchema>

export const removeValueSchema = operationSchema('remove-value', {
  /** The value. */
  name: Name,
})

/**
 * Removes a named value that no formula reads.
 *
 * @example
 * { op: 'remove-value', name: 'season' }
 */
export type RemoveValue = GivenBy<typeof removeValueSchema>
