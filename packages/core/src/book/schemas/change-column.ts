import * as v from 'valibot'
import { Decimals, Type } from './column-spec.js'
import { field, type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { list, Name, Text, Values } from './fields.js'

const set = v.strictObject({
  type: v.nullish(field(Type, 'Another type; null for none declared.')),
  formula: v.optional(field(Text, 'Another formula; a source column with one is calculated from now on.')),
  unit: v.nullish(field(Text, 'The unit of its values.')),
  symbol: v.nullish(field(Text, 'A short sign that stands for it in explanations.')),
  display: v.nullish(field(Text, 'How values are shown: `percent`, `currency:EUR`, or a pattern of Unicode TR35.')),
  decimals: v.nullish(field(Decimals, 'Digits shown after the point.')),
  heading: v.nullish(field(Text, 'What stands above it instead of its name.')),
  note: v.nullish(field(Text, 'A note for its readers.')),
  tags: v.nullish(field(list(Name), 'Words that formulas take it in by.')),
  choices: v.nullish(field(list(Text), 'The texts that it is meant to hold.')),
  hidden: v.nullish(field(v.boolean(), 'True to show it only to those who ask.')),
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
