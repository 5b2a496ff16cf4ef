import { Workbook } from 'mellow-abacus'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { DUCKDB, modelSql } from '../src/index.js'
import { duckdb, pglite, type TestEngine } from './helpers/engines.js'
import { publishIn } from './helpers/published.js'

/** How far what an engine gives may be from what the workbook has. */
const engines: TestEngine[] = []
beforeAll(async () => {
  engines.push(await duckdb(), await pglite())
}, 60_000)
afterAll(async () => {
  for (const engine of engines) await engine.close()
})

const ROUNDING = 2 ** -53
const LIBRARIES = 4 * ROUNDING

/** Harvests of many sizes, all of them more than nothing. */
function bookOf(formulas: readonly string[], rows = 1000): Workbook {
  const book = new Workbook()
  book.applyJson([
    {
      op: 'add-table',
      table: 'takes',
      columns: [
        { name: 'n', type: 'integer' },
        { name: 'hive', type: 'text' },
        { name: 'kg', type: 'number' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'takes',
      rows: Array.from({ length: rows }, (_, n) => ({ n, hive: `H${n % 7}`, kg: (1 + ((n * 7919) % 1009)) / 7 ** (n % 5) })),
    },
    ...formulas.map((formula, at) => ({ op: 'add-column', table: 'takes', column: { name: `x${at}`, formula } })),
  ])
  return book
}

describe('a column that is approximate has a bound', () => {
  test.each([
    ['sum(kg by hive)', 1000 * ROUNDING],
    ['sum(kg by hive) * 2', 1001 * ROUNDING],
    ['mean(kg by hive)', 1001 * ROUNDING],
    ['kg per sum(kg by hive)', 1001 * ROUNDING],
    ['sum(kg) + sum(kg by hive)', 1001 * ROUNDING],
    ['-cumulative_sum(kg by hive order by n)', 1000 * ROUNDING],
    ['sin(kg)', LIBRARIES],
    ['sqrt(sum(kg))', 500 * ROUNDING + LIBRARIES],
    ['abs(sum(kg)) * sin(kg)', 1000 * ROUNDING + LIBRARIES + ROUNDING],
    ['case when kg > 1 then sum(kg) else kg end', 1000 * ROUNDING],
    // Other bits can make quite another value of these.
    ['sum(kg) - sum(kg by hive)', null],
    ['case when sum(kg by hive) > 5 then 1 else 2 end', null],
    ['rank(x0)', null],
    ['round(sum(kg by hive), 2)', null],
    ['variance(kg by hive)', null],
  ])('%s', (formula, bound) => {
    const book = bookOf(['sum(kg by hive)', formula])
    const { approximate, refused } = modelSql(book, DUCKDB)
    expect(refused).toEqual([])
    expect(approximate.find(({ address }) => address === 'takes.x1')?.bound).toEqual(bound)
  })

  test('what is read from others has theirs, of as many rows as their table has', () => {
    const book = bookOf(['sum(kg by hive)', 'x0 * 2'], 10)
    book.applyJson({ op: 'set-tally', table: 'takes', name: 'all', formula: 'sum(kg)' })
    book.applyJson({ op: 'set-value', name: 'half', formula: 'takes.all / 2' })
    const bounds = modelSql(book, DUCKDB).approximate.map(({ address, bound }) => [address, bound])
    expect(bounds).toEqual([
      ['takes.x0', 10 * ROUNDING],
      ['takes.x1', 11 * ROUNDING],
      ['takes.all', 10 * ROUNDING],
      ['half', 11 * ROUNDING],
    ])
  })
})

test('engines keep to the bounds', async () => {
  const formulas = [
    'sum(kg by hive)',
    'mean(kg by hive)',
    'kg per sum(kg by hive)',
    'cumulative_sum(kg by hive order by n)',
    'sqrt(sum(kg by hive)) * sin(kg)',
    'sum(kg per sum(kg by hive) by hive)',
  ]
  const book = bookOf(formulas)
  for (const engine of engines) {
    const { approximate } = await publishIn(engine, book)
    const rows = await engine.rows('select * from m.takes order by n')
    for (const at of formulas.keys()) {
      const bound = approximate.find(({ address }) => address === `takes.x${at}`)?.bound as number
      const ours = book.table('takes').column(`x${at}`).values() as number[]
      const apart = ours.map((value, row) => Math.abs((rows[row]?.[`x${at}`] as number) / value - 1))
      expect(Math.max(...apart)).toBeLessThanOrEqual(bound + ROUNDING)
    }
  }
})
