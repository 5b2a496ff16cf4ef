import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { type Definition, definition, type TableName } from '../../core/tests/helpers/random-models.js'
import { duckdb, pglite, type TestEngine } from './helpers/engines.js'
import { differences } from './helpers/published.js'
import { publishedModel, randomRows } from './helpers/random-book.js'

/**
 * Random models of several tables with links, tallies, named values and formulas over rows: what engines give must be what the
 * workbook holds, errors included, or the formula be refused. Raise it for a long run: RUNS=2000 npx vitest run --project sql models-equal
 */
const numRuns = Number(process.env.RUNS ?? 25)
const engines: TestEngine[] = []

/** A value is read over a link before it is known what its column is called. */
const CALLED_LATE: [Record<TableName, object[]>, Definition[], boolean] = [
  { yards: [], hives: [], takes: [] },
  [
    { table: 'yards', formula: 'count(every takes where hive.site.area = this.area and kg > 1)' },
    { table: 'hives', formula: 'site.area' },
    { table: 'yards', formula: 'sum(hives.frames)' },
  ],
  false,
]

beforeAll(async () => {
  engines.push(await duckdb(), await pglite())
})
afterAll(async () => {
  for (const engine of engines) await engine.close()
})

test('models give on engines what they give in the workbook', async () => {
  let held = 0
  await fc.assert(
    fc.asyncProperty(
      randomRows,
      fc.array(definition, { minLength: 1, maxLength: 8 }),
      fc.boolean(),
      async (rows, definitions, isAttached) => {
        for (const engine of engines) {
          const published = await publishedModel(engine, rows, definitions, isAttached)
          held += published.held
          const found = await differences(engine, published.book, published.model)
          expect({ engine: engine.name, found }).toEqual({ engine: engine.name, found: [] })
        }
      },
    ),
    // The same sample in every run of the tests; a long run takes another each time.
    { numRuns, examples: [CALLED_LATE], ...(process.env.RUNS === undefined && { seed: 20_261_130 }) },
  )
  expect(held).toBeGreaterThan(numRuns * 2)
}, 14_400_000)
