import { expect, test } from 'vitest'
import { Workbook } from '../src/index.js'

/** What is kept is counted, shared between formulas, and gone with the last of them. */

function book(): Workbook {
  const made = new Workbook()
  const rows = 5000
  made.apply([
    { op: 'add-table', table: 'hives', columns: [{ name: 'tag', type: 'number' }] },
    {
      op: 'add-table',
      table: 'takes',
      columns: [
        { name: 'hive', type: 'number' },
        { name: 'kg', type: 'number' },
      ],
    },
    { op: 'add-link', table: 'takes', columns: ['hive'], to: 'hives', keys: ['tag'] },
    { op: 'insert-rows', table: 'hives', block: { tag: Int32Array.from({ length: 50 }, (_, row) => row) } },
    {
      op: 'insert-rows',
      table: 'takes',
      block: {
        hive: Int32Array.from({ length: rows }, (_, row) => row % 50),
        kg: Float64Array.from({ length: rows }, (_, row) => row / 8),
      },
    },
  ])
  return made
}
const whats = (made: Workbook): string[] =>
  made
    .memory()
    .indexes.map(({ table, what }) => `${table}: ${what}`)
    .sort()

test('columns by bytes a cell, and the total', () => {
  const { columns, bytes, indexes } = book().memory()
  expect(columns.map(({ table, column, perCell }) => [table, column, Math.round(perCell)])).toEqual([
    ['hives', 'tag', 2],
    ['takes', 'hive', 2],
    ['takes', 'kg', 9],
  ])
  expect(bytes).toBe([...columns, ...indexes].reduce((sum, one) => sum + one.bytes, 0))
})

test('indexes come with the formulas that need them, once for all of these, and go with the last', () => {
  const made = book()
  const before = whats(made)
  const define = (name: string, formula: string) => made.apply({ op: 'add-column', table: 'takes', column: { name, formula } })
  define('a', 'sum(kg by hive)')
  const one = whats(made)
  expect(one.filter((what) => !before.includes(what))).toEqual(['takes: kept sums of kg'])
  define('b', 'max(kg by hive)')
  define('c', 'count(every takes where kg > this.kg)')
  expect(whats(made)).toContain('takes: sorted keys of kg')
  expect(whats(made).filter((what) => what === 'takes: groups by hive')).toHaveLength(2)
  for (const column of ['c', 'b', 'a']) made.apply({ op: 'remove-column', table: 'takes', column })
  expect(whats(made)).toEqual(before)
})
