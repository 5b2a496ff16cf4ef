import * as v from 'valibot'
import { GivenColumn, JournaledColumn } from './column-spec.js'
import { type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { list, Name } from './fields.js'

export const addTableSchema = operationSchema(
  'add-table',
  {
    /** The name of the table. */
    table: Name,
    /** Its columns, in order. */
    columns: v.optional(list(GivenColumn)),
  },
  {
    /** Its columns, in order. */
    columns: v.optional(list(JournaledColumn), []),
  },
)

/**
 * Adds a table with columns and no rows.
 *
 * @example
 * {
 *   op: 'add-table',
 *   table: 'inspections',
 *   columns: [
 *     { name: 'mites', type: 'integer' },
 *     { name: 'bees_sampled', type: 'integer' },
 *     { name: 'infestation', formula: '100 * mites per bees_sampled', unit: '%' },
 *   ],
 * }
 */
export type AddTable = GivenBy<typeof addTableSchema>
/** The same as journals carry it. */
export type JournaledAddTable = JournaledBy<typeof addTableSchema>
