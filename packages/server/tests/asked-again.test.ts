import { connect } from '@mellow-abacus/session'
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'

/** An answer as a server gives it. */
const json = (status: number, body: object): Response =>
  new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })
const BOOK = { revision: 1, reader: { role: 'own', groups: [], author: 'Olga' } }
const CHANGE = { revision: 2, rows: [] }
const slow = (): Response => json(503, { code: 'too-slow', detail: 'It takes too long.' })
const running = (): Response => json(409, { code: 'still-running', detail: 'A request with this idempotency key is on its way.' })

/** Does an edit at a server that answers one after the other; gives what came of it, and the keys that were asked under. */
async function edited(answers: readonly (() => Response)[]): Promise<{ keys: Set<string | null>; asked: number; came: unknown }> {
  const keys = new Set<string | null>()
  const left = [...answers]
  let asked = 0
  const session = await connect('http://honey.test/books/honey', {
    fetch: async (_, init) => {
      if (init?.method !== 'POST') return json(200, BOOK)
      asked++
      keys.add(new Headers(init.headers).get('idempotency-key'))
      return (left.shift() ?? running)()
    },
  })
  const done = session.apply({ op: 'remove-table', table: 'hives' }).catch((error: unknown) => error)
  let came: unknown
  void done.then((value) => {
    came = value
  })
  for (let at = 0; at < 60 && came === undefined; at++) await vi.advanceTimersByTimeAsync(1_000)
  return { keys, asked, came }
}

describe('a write that is asked for again', () => {
  beforeEach(() => vi.useFakeTimers())
  afterEach(() => vi.useRealTimers())

  test('waits for what takes longer than a request may, under one key', async () => {
    const { keys, asked, came } = await edited([slow, ...Array.from({ length: 9 }, () => running), () => json(200, CHANGE)])
    expect(came).toMatchObject({ revision: 2 })
    expect([keys.size, asked]).toEqual([1, 11])
  })

  test('is given up where the server cannot be reached five times', async () => {
    const { asked, came } = await edited(Array.from({ length: 9 }, () => slow))
    expect(came).toMatchObject({ code: 'lost', message: 'It takes too long.' })
    expect(asked).toBe(5)
  })
})
