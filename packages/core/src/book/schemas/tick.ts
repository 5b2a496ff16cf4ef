import * as v from 'valibot'
import { type GivenBy, operationSchema } from './define-schema.js'
import { Seed, Text } from './fields.js'

export const tickSchema = operationSchema('tick', {
  /** The clock from now on, as ISO 8601 text; the time of the machine in the book's zone when left out. */
  now: v.optional(Text),
  /** The seed of the random functions; one more than before when left out. */
  seed: v.optional(Seed),
})

/**
 * Moves the book's clock and seed, and with them everything that reads them.
 *
 * @example
 * { op: 'tick', now: '2026-07-01T08:00:00', seed: 7 }
 */
export type Tick = GivenBy<typeof tickSchema>
