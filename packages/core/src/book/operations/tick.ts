import { refusal } from '../../findings/index.js'
import { parseMomentText, printDateTime, zonedWallClock } from '../../values/index.js'
import { isMoment, type Tick, tickSchema } from '../schemas/index.js'
import { defineOperation } from './define.js'

export const tick = defineOperation<Tick>({
  schema: tickSchema,
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
  const time = parseMomentText(text, zonedWallClock(zone))
  if (isMoment(time)) return time
  throw refusal('bad-operation', { place: 'tick, field now', reason: `expected an ISO 8601 date-time, received "${text}".` })
}
