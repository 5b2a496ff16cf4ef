import * as v from 'valibot'
import { refusal } from '../../findings/index.js'
import { MS_PER_DAY, parseDateText, parseDateTimeText, printDateTime, zonedWallClock } from '../../values/index.js'
import { defineOperation } from './define.js'
import { isMoment, Seed, Text } from './shapes.js'

const shape = v.strictObject({
  op: v.literal('tick'),
  /** The clock from now on, as ISO 8601 text; the time of the machine in the book's zone when not given. */
  now: v.optional(Text),
  /** The seed of the random functions; one more than before when not given. */
  seed: v.optional(Seed),
})

/** Moves the book's clock and seed, and with them everything that reads them. */
export type Tick = v.InferOutput<typeof shape>

export const tick = defineOperation<Tick>({
  op: 'tick',
  shape,
  apply: (transaction, operation) => {
    const { engine } = transaction
    const { now, seed, zone } = engine.surroundings
    const next = operation.now === undefined ? zonedWallClock(zone)(Date.now()) : readClock(operation.now, zone)
    const nextSeed = operation.seed ?? seed + 1
    engine.tick(next, nextSeed)
    transaction.applied.push({ op: 'tick', now: printDateTime(next), seed: nextSeed })
    transaction.undoWith({ op: 'tick', now: printDateTime(now), seed })
  },
})

function readClock(text: string, zone: string): number {
  const day = parseDateText(text)
  const time = Number.isNaN(day) ? parseDateTimeText(text, zonedWallClock(zone)) : day * MS_PER_DAY
  if (isMoment(time)) return time
  throw refusal('bad-operation', { place: 'tick, field now', reason: `expected an ISO 8601 date-time, received "${text}".` })
}
