import { afterAll, beforeAll, expect, test } from 'vitest'
import { duckdb, pglite, type TestEngine } from './helpers/engines.js'
import { holdRefreshed } from './helpers/random-refresh.js'

/** Raise it for a long run: RUNS=500 npx vitest run --project sql refresh-equals */
const numRuns = Number(process.env.RUNS ?? 12)
const engines: TestEngine[] = []

beforeAll(async () => {
  engines.push(await duckdb(), await pglite())
})
afterAll(async () => {
  for (const engine of engines) await engine.close()
})

test('what is kept is, refreshed, what the rows give as they are now', async () => {
  const held = await holdRefreshed(engines, { numRuns, ...(process.env.RUNS === undefined && { seed: 20_261_201 }) })
  expect(held).toBeGreaterThan(numRuns * 2)
}, 14_400_000)
