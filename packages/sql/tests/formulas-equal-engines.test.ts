import fc from 'fast-check'
import { loadPatterns, Workbook } from 'mellow-abacus'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { randomFormulas, randomRow, SOURCE_COLUMNS } from '../../core/tests/helpers/random-formulas.js'
import { duckdb, pglite, type TestEngine } from './helpers/engines.js'
import { differences, publishIn } from './helpers/published.js'

/**
 * Random row formulas over edge values: what the engine gives must be what the workbook holds, errors included, or the formula
 * be refused. Raise it for a long run: RUNS=2000 npx vitest run --project sql formulas-equal-engines
 */
const numRuns = Number(process.env.RUNS ?? 5)
const engines: TestEngine[] = []

beforeAll(async () => {
  await loadPatterns()
  engines.push(await duckdb(), await pglite())
})
afterAll(async () => {
  for (const engine of engines) await engine.close()
})

const formulas = randomFormulas()

test('row formulas give on engines what they give in the workbook', async () => {
  const refused = new Map<string, number>()
  let held = 0
  await fc.assert(
    fc.asyncProperty(
      fc.array(randomRow, { minLength: 1, maxLength: 12 }),
      fc.array(fc.oneof(formulas.number, formulas.text, formulas.boolean, formulas.date), {
        minLength: 25,
        maxLength: 25,
        size: 'max',
      }),
      async (rows, written) => {
        for (const engine of engines) {
          const book = new Workbook()
          book.applyJson([
            { op: 'add-table', table: 'x', columns: [{ name: 'n', type: 'integer' }, ...SOURCE_COLUMNS] },
            { op: 'insert-rows', table: 'x', rows: rows.map((row, index) => ({ n: index, ...row })) },
          ])
          for (const [index, formula] of written.entries())
            book.applyJson({ op: 'add-column', table: 'x', column: { name: `f${index}`, formula } })
          let model = await publishIn(engine, book)
          for (const { address, reason } of model.refused) {
            const why = reason.replace(/pattern .*/, 'pattern').slice(0, 70)
            refused.set(why, (refused.get(why) ?? 0) + 1)
            book.applyJson({ op: 'remove-column', table: 'x', column: address.slice(2) })
          }
          if (model.refused.length > 0) model = await publishIn(engine, book)
          held += book.table('x').columns.length - SOURCE_COLUMNS.length - 1
          expect({ engine: engine.name, differences: await differences(engine, book, model) }).toEqual({
            engine: engine.name,
            differences: [],
          })
        }
      },
    ),
    // The same sample in every run of the tests; a long run takes another each time.
    { numRuns, ...(process.env.RUNS === undefined && { seed: 20_261_130 }) },
  )
  if (process.env.RUNS !== undefined) console.log(held, refused)
  expect(held).toBeGreaterThan(numRuns * 20)
}, 14_400_000)
