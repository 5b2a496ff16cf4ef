import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { duckdb, pglite, type TestEngine } from './helpers/engines.js'
import { publishedModel, randomRows } from './helpers/random-book.js'
import { randomReport, reportDifferences } from './helpers/random-report.js'

/**
 * Random reports of random rows: the lines of their views must be those that the workbook makes, in the same order, errors and
 * blanks included. Raise it for a long run: RUNS=2000 npx vitest run --project sql reports-equal
 */
const numRuns = Number(process.env.RUNS ?? 40)
const engines: TestEngine[] = []

beforeAll(async () => {
  engines.push(await duckdb(), await pglite())
})
afterAll(async () => {
  for (const engine of engines) await engine.close()
})

test('reports give on engines the lines that they have in the workbook', async () => {
  await fc.assert(
    fc.asyncProperty(randomRows, randomReport, async (rows, report) => {
      for (const engine of engines) {
        const { book, model } = await publishedModel(engine, rows, [], false, report)
        const found = await reportDifferences(engine, book, new Set(model.approximate.map(({ address }) => address)))
        expect({ engine: engine.name, found }).toEqual({ engine: engine.name, found: [] })
      }
    }),
    // The same sample in every run of the tests; a long run takes another each time.
    { numRuns, ...(process.env.RUNS === undefined && { seed: 20_261_201 }) },
  )
}, 14_400_000)
