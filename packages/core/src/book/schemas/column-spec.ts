import * as v from 'valibot'
import { VALUE_TYPES } from '../../values/index.js'
import { optionalProperties } from './column-properties.js'
import { Id, list, Name, Text } from './fields.js'
import { RowId } from './row-ids.js'

/** A type of values. */
export const Type = v.picklist(VALUE_TYPES)

const given = {
  /** The name that formulas read it by. */
  name: Name,
  /** The type of its values; without one, its formula or its first value decides. */
  type: v.optional(Type),
  /** What calculates it; a column without a formula is a source column. */
  formula: v.optional(Text),
  /** The column of the table that the formula's own name means, where it replaces one. */
  original: v.optional(Name),
  ...optionalProperties,
}

/** What a paused column goes back to. */
export const PausedSpec = v.strictObject({
  formula: Text,
  declared: v.boolean(),
  /** The rows typed over since, by id. */
  typed: list(RowId),
})

const journal = {
  /** Its id; given anew when left out. */
  id: v.optional(Id),
  /** The formula put aside in a paused column. */
  paused: v.optional(PausedSpec),
  /** The column it is ordered by, by its id. */
  orderKey: v.optional(Id),
  /** When a stamp is written, columns by their ids. */
  stamp: v.optional(
    v.strictObject({
      when: list(Id),
      on: v.picklist(['first-fill', 'each-change']),
      content: v.picklist(['time', 'author']),
    }),
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
