import * as v from 'valibot'
import { list, Name, Text } from './fields.js'

/** How many digits are shown after the point. */
const Decimals = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(20))

/** What is said of a column besides its type and formula; none of it changes a value. */
const columnProperties = {
  /** The unit of its values, such as `kg`. */
  unit: Text,
  /** A short sign that stands for it in explanations. */
  symbol: Text,
  /** How values are shown: `percent`, `currency:EUR`, or a pattern of Unicode TR35. */
  display: Text,
  /** Digits shown after the point. */
  decimals: Decimals,
  /** What stands above it instead of its name. */
  heading: Text,
  /** A note for its readers. */
  note: Text,
  /** Words that formulas take it in by: `#temperature`. */
  tags: list(Name),
  /** The texts that it is meant to hold. */
  choices: list(Text),
  /** True to show it only to those who ask. */
  hidden: v.boolean(),
  /** The groups of readers for whom it does not exist, as long as they may not define. */
  hiddenFrom: list(Name),
  /** True where only those who may define type over its cells. */
  fixed: v.boolean(),
}

type Properties = typeof columnProperties

/** The same, each of which can be left out. */
export const optionalProperties = mapped((schema) => v.optional(schema)) as unknown as {
  readonly [Name in keyof Properties]: v.OptionalSchema<Properties[Name], undefined>
}

/** The same for a change: left out stays as it is, null is taken away. */
export const changedProperties = mapped((schema) => v.nullish(schema)) as unknown as {
  readonly [Name in keyof Properties]: v.NullishSchema<Properties[Name], undefined>
}

/** Properties of a column as callers say them. */
export type DescribedProperties = { readonly [Name in keyof Properties]?: v.InferOutput<Properties[Name]> }

/** Those that a tally has too, for a change. */
const { unit, symbol, display, decimals, heading, note } = changedProperties
export const tallyProperties: Pick<typeof changedProperties, 'unit' | 'symbol' | 'display' | 'decimals' | 'heading' | 'note'> = {
  unit,
  symbol,
  display,
  decimals,
  heading,
  note,
}

function mapped(of: (schema: v.GenericSchema) => v.GenericSchema): Record<string, v.GenericSchema> {
  return Object.fromEntries(Object.entries(columnProperties).map(([name, schema]) => [name, of(schema)]))
}
