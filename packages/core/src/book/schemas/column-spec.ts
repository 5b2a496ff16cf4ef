import * as v from 'valibot'
import { VALUE_TYPES } from '../../values/index.js'
import { optionalProperties } from './column-properties.js'
import { field } from './define-schema.js'
import { Id, list, Name, Text } from './fields.js'
import { RowId } from './row-ids.js'

/** A type of values. */
export const Type = v.picklist(VALUE_TYPES)

const given = {
  name: field(Name, 'The name that formulas read it by.'),
  type: v.optional(field(Type, 'The type of its values; without one, its formula or its first value decides.')),
  formula: v.optional(field(Text, 'What calculates it; a column without a formula is a source column.')),
  original: v.optional(field(Name, "The column of the table that the formula's own name means, where it replaces one.")),
  ...optionalProperties,
}

/** What a paused column goes back to. */
export const PausedSpec = v.strictObject({
  formula: Text,
  declared: v.boolean(),
  typed: field(list(RowId), 'The rows typed over since, by id.'),
})

const journal = {
  id: v.optional(field(Id, 'Its id; given anew when left out.')),
  paused: v.optional(field(PausedSpec, 'The formula put aside in a paused column.')),
  orderKey: v.optional(field(Id, 'The column it is ordered by, by its id.')),
  stamp: v.optional(
    field(
      v.strictObject({
        when: list(Id),
        on: v.picklist(['first-fill', 'each-change']),
        content: v.picklist(['time', 'author']),
      }),
      'When a stamp is written, columns by their ids.',
    ),
  ),
}

/** A column as callers describe it. */
export const GivenColumn = v.strictObject(given)
/** A column as journals describe it. */
export const JournaledColumn = v.strictObject({ ...given, ...journal })

/** A column as callers describe it. */
export type ColumnSpec = v.InferInput<typeof GivenColumn>
/** A column as journals describe it. */
export type JournaledColumn = v.InferOutput<typeof JournaledColumn>
