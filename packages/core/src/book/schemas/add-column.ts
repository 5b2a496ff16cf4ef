import * as v from 'valibot'
import { GivenColumn, JournaledColumn } from './column-spec.js'
import { field, type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { Name, Values } from './fields.js'

const columnMeans = 'Its name, type or formula, and properties.'

export const addColumnSchema = operationSchema('add-column', {
  does: 'Adds a column, calculated when it has a formula.',
  fields: {
    table: field(Name, 'The table it belongs to.'),
    column: field(GivenColumn, columnMeans),
    before: v.optional(field(Name, 'The column it stands before; at the end when left out.')),
    values: v.optional(field(Values, 'Values of a source column, in row order.')),
  },
  journal: { column: field(JournaledColumn, columnMeans) },
  examples: [
    { op: 'add-column', table: 'harvests', column: { name: 'value', formula: 'honey_kg * price', display: 'currency:EUR' } },
    { op: 'add-column', table: 'hives', column: { name: 'queen', type: 'text' }, before: 'boxes', values: ['blue', 'red', null] },
  ],
})

/** A new column, calculated when it has a formula. */
export type AddColumn = GivenBy<typeof addColumnSchema>
/** The same as journals carry it. */
export type JournaledAddColumn = JournaledBy<typeof addColumnSchema>
