import { describe, expect, test } from 'vitest'
import { Workbook } from '../../src/index.js'
import { TASKS } from './example-tasks.js'
import { MEASURES, SITES, tableOf } from './lists.js'

test('there are tasks of every kind that people ask for, each once', () => {
  expect(TASKS.length).toBeGreaterThanOrEqual(120)
  expect(new Set(TASKS.map(({ family }) => family)).size).toBe(10)
  expect(new Set(TASKS.map(({ wish }) => wish)).size).toBe(TASKS.length)
})

describe.each(TASKS)('$family: $wish', ({ list, from, wanted, given }) => {
  test('has an answer: a formula of the sources that gives what is wanted, and tells the rows apart', () => {
    const book = new Workbook({ now: '2026-11-30' })
    book.apply(tableOf(list))
    if (list === MEASURES)
      book.apply([...tableOf(SITES), { op: 'add-link', table: list.name, columns: ['site'], to: 'sites', keys: ['code'] }])
    const columns = Object.entries(wanted).map(([name, formula]) => ({ name, formula }))
    book.apply(columns.map((column) => ({ op: 'add-column', table: list.name, column })))
    const table = book.table(list.name)
    expect(from.every((name) => table.columns.some((column) => column.name === name))).toBe(true)
    expect([given.length >= 1, given.length <= 3]).toEqual([true, true])
    for (const { name } of columns) {
      const { rows } = book.query({ table: list.name, columns: [name] })
      const values = rows().map(([value]) => value)
      expect(values.filter((value) => typeof value === 'object' && value !== null && 'code' in value)).toEqual([])
      expect(given.map((row) => values[row - 1]).filter((value) => value === null || value === undefined)).toEqual([])
      expect(new Set(values.map(String)).size).toBeGreaterThan(1)
    }
  })
})
