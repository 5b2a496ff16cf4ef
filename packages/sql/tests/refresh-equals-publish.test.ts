import { type Published, PublishRefusal, publish, refresh } from '@mellow-abacus/sql'
import fc from 'fast-check'
import type { Workbook } from 'mellow-abacus'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { type Definition, definition, NAMES, rowOf, type TableName } from '../../core/tests/helpers/random-models.js'
import { asDatabase, tableOfDatabase } from './helpers/attached-book.js'
import { duckdb, pglite, type TestEngine } from './helpers/engines.js'
import { differences } from './helpers/published.js'
import { attachedBook, columnsOf, makeSources, randomRows } from './helpers/random-book.js'

/**
 * Random models of which all formulas are kept, over rows of the engine that are changed, come and go: what is kept must be, once it
 * was refreshed, what a workbook gives for the rows as they are now. Raise it for a long run: RUNS=500 npx vitest run --project sql refresh-equals
 */
const numRuns = Number(process.env.RUNS ?? 15)
const engines: TestEngine[] = []

beforeAll(async () => {
  engines.push(await duckdb(), await pglite())
})
afterAll(async () => {
  for (const engine of engines) await engine.close()
})

/** What happens to a row of a table: it is another from then on, or gone, or comes. */
type Edit = { readonly table: TableName; readonly n: number; readonly row: object | null }

const edit: fc.Arbitrary<Edit> = fc
  .constantFrom(...NAMES)
  .chain((table) => fc.record({ table: fc.constant(table), n: fc.nat(11), row: fc.option(rowOf(table), { nil: null, freq: 4 }) }))

async function makeEdit(engine: TestEngine, { table, n, row }: Edit): Promise<void> {
  const name = `src.${table}`
  await engine.run(`delete from ${name} where n = ${n}`)
  if (row === null) return
  const [, insert] = tableOfDatabase(name, columnsOf(table), [{ ...row, n }], engine.name)
  await engine.run(insert as string)
}

/** Publishes what the engine has a form for, with all of it kept. */
async function publishKept(
  engine: TestEngine,
  definitions: readonly Definition[],
): Promise<{ readonly book: Workbook; readonly definitions: readonly Definition[]; readonly published: Published }> {
  let held = definitions
  for (;;) {
    const book = await attachedBook(engine, held)
    await engine.run('drop schema if exists m cascade')
    const kept = [...held.map(({ table }, index) => `${table}.x${index}`), 'takes.total_kg', 'yards.hive_sum']
    try {
      const published = await publish(book, asDatabase(engine), { book: 'random', schema: 'm', kept })
      return { book, definitions: held, published }
    } catch (error) {
      if (!(error instanceof PublishRefusal) || error.formulas.length === 0) throw error
      const refused = new Set(error.formulas.map(({ address }) => address))
      held = held.filter(({ table }, index) => !refused.has(`${table}.x${index}`))
    }
  }
}

test('what is kept is, refreshed, what the rows give as they are now', async () => {
  let held = 0
  await fc.assert(
    fc.asyncProperty(
      randomRows,
      fc.array(definition, { minLength: 1, maxLength: 6 }),
      fc.array(fc.array(edit, { minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 3 }),
      async (rows, definitions, rounds) => {
        for (const engine of engines) {
          await makeSources(engine, rows)
          const { book, definitions: rest, published } = await publishKept(engine, definitions)
          held += rest.length
          const model = { approximate: published.approximate, statements: [] } as never
          expect({ engine: engine.name, first: await differences(engine, book, model) }).toEqual({
            engine: engine.name,
            first: [],
          })
          for (const round of rounds) {
            for (const one of round) await makeEdit(engine, one)
            await refresh(book, asDatabase(engine), { book: 'random', schema: 'm' })
            const all = await differences(engine, await attachedBook(engine, rest), model)
            // Views read sources as their rows were when they were published.
            const found = all.filter(({ formula }) => formula !== null)
            expect({ engine: engine.name, found }).toEqual({ engine: engine.name, found: [] })
          }
        }
      },
    ),
    { numRuns, ...(process.env.RUNS === undefined && { seed: 20_261_201 }) },
  )
  expect(held).toBeGreaterThan(numRuns * 2)
}, 14_400_000)
