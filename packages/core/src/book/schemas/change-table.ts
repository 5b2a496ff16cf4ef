import * as v from 'valibot'
import { type GivenBy, operationSchema } from './define-schema.js'
import { JsonRecord, list, Name, Text } from './fields.js'

const source = v.strictObject({
  /** The file. */
  file: Text,
  /** The options it was read with. */
  options: JsonRecord,
  /** The columns that it had; others are the table's own. */
  columns: v.optional(list(Name)),
})

const set = v.strictObject({
  /** The column that names a row for its reader. */
  label: v.optional(v.nullable(Name)),
  /** The columns by which rows are found again when their source is read again. */
  key: v.optional(v.nullable(v.pipe(list(Name), v.minLength(1, 'a key needs a column')))),
  /** The column that holds the key of a row's parent. */
  parent: v.optional(v.nullable(Name)),
  /** Where the rows were read from. */
  source: v.optional(v.nullable(source)),
})

export const changeTableSchema = operationSchema('change-table', {
  /** The table. */
  table: Name,
  /** What is to be other than before. */
  set,
})

/**
 * Sets properties of a table; null takes one away. Columns in them follow when they are renamed.
 *
 * @example
 * { op: 'change-table', table: 'hives', set: { label: 'code', key: ['code'] } }
 */
export type ChangeTable = GivenBy<typeof changeTableSchema>
