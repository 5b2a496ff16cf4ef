import * as v from 'valibot'
import { type GivenBy, operationSchema } from './define-schema.js'
import { JsonRecord, list, Name, Text } from './fields.js'

/** How many rows of a database. */
const Count = v.pipe(v.number(), v.safeInteger(), v.minValue(0))

const fileSource = v.strictObject({
  /** The file. */
  file: Text,
  /** The options it was read with. */
  options: JsonRecord,
  /** The columns that it had; others are the table's own. */
  columns: v.optional(list(Name)),
})

const databaseSource = v.strictObject({
  /** The database: an address without user and password. */
  database: Text,
  /** The names that lead to the table or view there: its schema, and its own. */
  relation: v.pipe(list(Text), v.minLength(1, 'a relation needs a name')),
  /** How many rows it had when the sample was taken. */
  rows: Count,
  /** The columns that hold a sample. */
  columns: list(
    v.strictObject({
      /** The column here. */
      column: Name,
      /** The name of the column in the database. */
      of: Text,
      /** Its type there, as the engine writes it. */
      as: Text,
      /** True where the database lets no row be without a value. */
      isFull: v.boolean(),
      /** True where all values were as they mostly are: no infinities, numbers of a usual size. */
      isUsual: v.boolean(),
      /** Rows without a value, of all rows. */
      blanks: Count,
      /** Rows with 0. */
      zeros: Count,
      /** Rows whose value does not fit the type of the column here. */
      misfits: Count,
    }),
  ),
  /** Lists of columns, by their names there, of which no two rows have the same. */
  unique: list(list(Text)),
})

const set = v.strictObject({
  /** The column that names a row for its reader. */
  label: v.optional(v.nullable(Name)),
  /** The columns by which rows are found again when their source is read again. */
  key: v.optional(v.nullable(v.pipe(list(Name), v.minLength(1, 'a key needs a column')))),
  /** The column that holds the key of a row's parent. */
  parent: v.optional(v.nullable(Name)),
  /** Where the rows were read from, or what they are a sample of. */
  source: v.optional(v.nullable(v.union([fileSource, databaseSource]))),
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
