import { type Published, PublishRefusal, publish, refresh } from '@mellow-abacus/sql'
import fc from 'fast-check'
import type { Workbook } from 'mellow-abacus'
import { expect } from 'vitest'
import { type Definition, definition, NAMES, rowOf, type TableName } from '../../../core/tests/helpers/random-models.js'
import { asDatabase, tableOfDatabase } from './attached-book.js'
import type { TestEngine } from './engines.js'
import { differences } from './published.js'
import { attachedBook, columnsOf, makeSources, randomRows } from './random-book.js'

/** What happens to a row of a table: it is another from then on, or gone, or comes. */
interface Edit {
  readonly table: TableName
  readonly n: number
  readonly row: object | null
}

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
  triggers: boolean,
): Promise<{ readonly book: Workbook; readonly definitions: readonly Definition[]; readonly published: Published }> {
  let held = definitions
  for (;;) {
    const book = await attachedBook(engine, held)
    await engine.run('drop schema if exists m cascade')
    const kept = [...held.map(({ table }, index) => `${table}.x${index}`), 'takes.total_kg', 'yards.hive_sum']
    try {
      const published = await publish(book, asDatabase(engine), { book: 'random', schema: 'm', kept, triggers })
      return { book, definitions: held, published }
    } catch (error) {
      if (!(error instanceof PublishRefusal) || error.formulas.length === 0) throw error
      const refused = new Set(error.formulas.map(({ address }) => address))
      held = held.filter(({ table }, index) => !refused.has(`${table}.x${index}`))
    }
  }
}

/**
 * Holds what is kept of random models, over rows of the engines that are changed, come and go, to what a workbook gives for the rows
 * as they are now.
 *
 * @returns how many formulas were held
 */
export async function holdRefreshed(
  engines: readonly TestEngine[],
  parameters: { readonly numRuns: number; readonly seed?: number },
): Promise<number> {
  let held = 0
  await fc.assert(
    fc.asyncProperty(
      randomRows,
      fc.array(definition, { minLength: 1, maxLength: 6 }),
      fc.array(fc.array(edit, { minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 3 }),
      fc.boolean(),
      async (rows, definitions, rounds, hasTriggers) => {
        for (const engine of engines) {
          await makeSources(engine, rows)
          const {
            book,
            definitions: rest,
            published,
          } = await publishKept(engine, definitions, hasTriggers && engine.name === 'postgresql')
          held += rest.length
          const { approximate } = published
          const first = await differences(engine, book, { approximate })
          expect({ engine: engine.name, first }).toEqual({ engine: engine.name, first: [] })
          for (const round of rounds) {
            for (const one of round) await makeEdit(engine, one)
            await refresh(book, asDatabase(engine), { book: 'random', schema: 'm' })
            const all = await differences(engine, await attachedBook(engine, rest), { approximate })
            // Views read sources as their rows were when they were published.
            const found = all.filter(({ formula }) => formula !== null)
            expect({ engine: engine.name, found }).toEqual({ engine: engine.name, found: [] })
          }
        }
      },
    ),
    parameters,
  )
  return held
}
