import * as v from 'valibot'
import { changedProperties } from './column-properties.js'
import { Type } from './column-spec.js'
import { type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { Name, Text, Values } from './fields.js'

const set = v.strictObject({
  /** Another type; null for none declared. */
  type: v.nullish(Type),
  /** Another formula; a source column with one is calculated from now on. */
  formula: v.optional(Text),
  ...changedProperties,
  /** The column of the table that it is ordered by. */
  orderKey: v.nullish(Name),
})

export const changeColumnSchema = operationSchema(
  'change-column',
  {
    /** The table it belongs to. */
    table: Name,
    /** The column. */
    column: Name,
    /** What is to be other than before. */
    set,
  },
  {
    /** With a new type of a source column: its cells in row order, instead of converting those it has. */
    values: v.optional(Values),
    /** True for a formula that takes its place again in a detached column, whose values it gave. */
    reattach: v.optional(v.boolean()),
  },
)

/**
 * Sets a column's formula, type or properties; null takes a property, or a declared type, away.
 *
 * @example
 * { op: 'change-column', table: 'harvests', column: 'honey_kg', set: { unit: 'kg', decimals: 1 } }
 *
 * @example
 * { op: 'change-column', table: 'harvests', column: 'per_frame', set: { formula: 'honey_kg per frames' } }
 */
export type ChangeColumn = GivenBy<typeof changeColumnSchema>
/** The same as journals carry it. */
export type JournaledChangeColumn = JournaledBy<typeof changeColumnSchema>
