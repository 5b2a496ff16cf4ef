import * as v from 'valibot'
import { GivenColumn, JournaledColumn } from './column-spec.js'
import { type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { Name, Values } from './fields.js'

export const addColumnSchema = operationSchema(
  'add-column',
  {
    /** The table it belongs to. */
    table: Name,
    /** Its name, type or formula, and properties. */
    column: GivenColumn,
    /** The column it stands before; at the end when left out. */
    before: v.optional(Name),
    /** Values of a source column, in row order. */
    values: v.optional(Values),
  },
  {
    /** Its name, type or formula, and properties. */
    column: JournaledColumn,
  },
)

/**
 * Adds a column, calculated when it has a formula.
 *
 * @example
 * { op: 'add-column', table: 'harvests', column: { name: 'value', formula: 'honey_kg * price', display: 'currency:EUR' } }
 *
 * @example
 * { op: 'add-column', table: 'hives', column: { name: 'queen', type: 'text' }, before: 'boxes', values: ['blue', 'red', null] }
 */
export type AddColumn = GivenBy<typeof addColumnSchema>
/** The same as journals carry it. */
export type JournaledAddColumn = JournaledBy<typeof addColumnSchema>
