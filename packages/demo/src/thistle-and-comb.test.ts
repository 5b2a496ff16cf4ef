import { expect, test } from 'vitest'
import { DEMO_SEED, demoCsv, demoOperations, thistleAndComb } from './index.js'

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
