import { expect, test } from 'vitest'
import { DEMO_BOOK, DEMO_SEED, demoCsv, demoDefinitions, demoOperations, manyReadings, thistleAndComb } from './index.js'

const tables = thistleAndComb()
const named = (name: string) => tables.find((table) => table.name === name) as (typeof tables)[number]

test('the same seed makes the same tables, another seed others', () => {
  expect(thistleAndComb(DEMO_SEED)).toEqual(tables)
  expect(thistleAndComb(DEMO_SEED + 1)).not.toEqual(tables)
})

test('tables have 12 to about 2 000 rows, each as wide as its columns', () => {
  for (const { columns, rows } of tables) {
    expect(rows.length).toBeGreaterThanOrEqual(12)
    expect(rows.length).toBeLessThan(2100)
    for (const row of rows) expect(row).toHaveLength(columns.length)
  }
})

test('the faults of real tables are there', () => {
  const column = (table: string, name: string): unknown[] => {
    const { columns, rows } = named(table)
    return rows.map((row) => row[columns.findIndex((one) => one.name === name)])
  }
  expect(column('inspections', 'bees_sampled').filter((value) => value === 0).length).toBeGreaterThan(50)
  expect(column('inspections', 'mites').filter((value) => typeof value === 'string')).toHaveLength(3)
  expect(column('batches', 'lot').filter((value) => value === null).length).toBeGreaterThan(5)
  const wait = column('batches', 'bottled').map(
    (bottled, row) => Date.parse(String(bottled)) - Date.parse(String(column('batches', 'extracted')[row])),
  )
  expect(wait.filter((days) => days < 0)).toHaveLength(4)
  expect(column('batches', 'bottled').filter((bottled) => String(bottled) > '2027-12-31')).toHaveLength(1)
})

test('CSV quotes what must be quoted, and operations carry every row', () => {
  expect(demoCsv({ name: 't', columns: [{ name: 'a', type: 'text' }], rows: [['x, "y"'], [null]] })).toBe('a\n"x, ""y"""\n\n')
  expect(demoOperations(tables)).toHaveLength(tables.length * 2)
})

test('all that the co-operative has defined is made of operations', () => {
  const made = demoDefinitions()
  const of = (op: string) => made.filter((one) => one.op === op)
  const formulas = of('add-column').map(({ table, column }) => [table, column])
  for (const { table, definitions } of DEMO_BOOK.columns)
    for (const definition of definitions) {
      const [name = '', ...rest] = definition.split(' = ')
      expect(formulas).toContainEqual([table, { name, formula: rest.join(' = ') }])
    }
  expect(of('add-link')).toContainEqual({ op: 'add-link', table: 'hives', columns: ['yard'], to: 'apiaries', keys: ['code'] })
  expect(of('set-report').find(({ name }) => name === 'by_apiary')).toMatchObject({
    report: {
      levels: [{ name: 'apiary', key: 'hive.yard.name' }, { key: 'forage' }],
      lines: [{ name: 'part', formula: 'honey per parent.honey', display: 'percent' }],
      order: [{ by: 'honey', descending: true }],
    },
  })
  expect(of('set-chart').find(({ name }) => name === 'comb_growth')).toMatchObject({
    chart: {
      table: 'combs',
      x: 'day',
      series: [{ formula: 'comb_cm2', kind: 'point' }],
      fit: { series: 'comb_cm2', degree: 3, residuals: true },
    },
  })
  expect(of('set-rule')).toHaveLength(DEMO_BOOK.rules.length)
})

test('readings are as many as are asked for, hour by hour, and the same each time', () => {
  const { columns, rows } = manyReadings(490)
  expect(rows).toHaveLength(490)
  expect(rows.every((row) => row.length === columns.length)).toBe(true)
  expect(rows.at(-1)?.slice(0, 3)).toEqual(['GB', '2024-04-03', 0])
  expect(manyReadings(490).rows).toEqual(rows)
})
