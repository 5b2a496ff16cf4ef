import * as v from 'valibot'
import { field, type GivenBy, operationSchema } from './define-schema.js'
import { Seed, Text } from './fields.js'

export const tickSchema = operationSchema('tick', {
  does: "Moves the book's clock and seed, and with them everything that reads them.",
  fields: {
    now: v.optional(
      field(Text, "The clock from now on, as ISO 8601 text; the time of the machine in the book's zone when left out."),
    ),
    seed: v.optional(field(Seed, 'The seed of the random functions; one more than before when left out.')),
  },
  examples: [{ op: 'tick', now: '2026-07-01T08:00:00', seed: 7 }],
})

/** Moves the clock and the seed. */
export type Tick = GivenBy<typeof tickSchema>
