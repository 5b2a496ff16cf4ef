import * as v from 'valibot'
import { GivenColumn, JournaledColumn } from './column-spec.js'
import { field, type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { list, Name } from './fields.js'

const columnsMean = 'Its columns, in order.'

export const addTableSchema = operationSchema('add-table', {
  does: 'Adds a table with columns and no rows.',
  fields: {
    table: field(Name, 'The name of the table.'),
    columns: v.optional(field(list(GivenColumn), columnsMean)),
  },
  journal: { columns: v.optional(field(list(JournaledColumn), columnsMean), []) },
  examples: [
    {
      op: 'add-table',
      table: 'inspections',
      columns: [
        { name: 'mites', type: 'integer' },
        { name: 'bees_sampled', type: 'integer' },
        { name: 'infestation', formula: '100 * mites per bees_sampled', unit: '%' },
      ],
    },
  ],
})

/** A new table with columns and no rows. */
export type AddTable = GivenBy<typeof addTableSchema>
/** The same as journals carry it. */
export type JournaledAddTable = JournaledBy<typeof addTableSchema>
