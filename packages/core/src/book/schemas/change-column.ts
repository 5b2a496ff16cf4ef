import * as v from 'valibot'
import { changedProperties } from './column-properties.js'
import { Type } from './column-spec.js'
import { field, type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { Name, Text, Values } from './fields.js'

const set = v.strictObject({
  type: v.nullish(field(Type, 'Another type; null for none declared.')),
  formula: v.optional(field(Text, 'Another formula; a source column with one is calculated from now on.')),
  ...changedProperties,
  orderKey: v.nullish(field(Name, 'The column of the table that it is ordered by.')),
})

export const changeColumnSchema = operationSchema('change-column', {
  does: "Sets a column's formula, type or properties; null takes a property, or a declared type, away.",
  fields: {
    table: field(Name, 'The table it belongs to.'),
    column: field(Name, 'The column.'),
    set: field(set, 'What is to be other than before.'),
  },
  journal: {
    values: v.optional(
      field(Values, 'With a new type of a source column: its cells in row order, instead of converting those it has.'),
    ),
    reattach: v.optional(
      field(v.boolean(), 'True for a formula that takes its place again in a detached column, whose values it gave.'),
    ),
  },
  examples: [
    { op: 'change-column', table: 'harvests', column: 'honey_kg', set: { unit: 'kg', decimals: 1 } },
    { op: 'change-column', table: 'harvests', column: 'per_frame', set: { formula: 'honey_kg per frames' } },
  ],
})

/** Other facts of a column: formula, type or properties. */
export type ChangeColumn = GivenBy<typeof changeColumnSchema>
/** The same as journals carry it. */
export type JournaledChangeColumn = JournaledBy<typeof changeColumnSchema>
