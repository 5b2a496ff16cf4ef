import * as v from 'valibot'
import { field, type GivenBy, operationSchema } from './define-schema.js'
import { JsonRecord, list, Name, Text } from './fields.js'

const source = v.strictObject({
  file: field(Text, 'The file.'),
  options: field(JsonRecord, 'The options it was read with.'),
  columns: v.optional(field(list(Name), "The columns that it had; others are the table's own.")),
})

const set = v.strictObject({
  label: v.optional(v.nullable(field(Name, 'The column that names a row for its reader.'))),
  key: v.optional(
    v.nullable(
      field(
        v.pipe(list(Name), v.minLength(1, 'a key needs a column')),
        'The columns by which rows are found again when their source is read again.',
      ),
    ),
  ),
  parent: v.optional(v.nullable(field(Name, "The column that holds the key of a row's parent."))),
  source: v.optional(v.nullable(field(source, 'Where the rows were read from.'))),
})

export const changeTableSchema = operationSchema('change-table', {
  does: 'Sets properties of a table; null takes one away. Columns in them follow when they are renamed.',
  fields: { table: field(Name, 'The table.'), set: field(set, 'What is to be other than before.') },
  examples: [{ op: 'change-table', table: 'hives', set: { label: 'code', key: ['code'] } }],
})

/** Other properties for a table. */
export type ChangeTable = GivenBy<typeof changeTableSchema>
