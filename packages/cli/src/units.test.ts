import { type QueryResult, Workbook } from 'mellow-abacus'
import { describe, expect, test } from 'vitest'
import { tableText } from './output/index.js'
import { formatOfInput, tableNameOf } from './reading/index.js'
import { makePaint } from './shell/index.js'

test.each([
  ['a/b/inspections.csv', 'inspections'],
  ['x.tar.gz', 'x.tar'],
  ['-', 'input'],
  ['plain', 'plain'],
  ['.csv', 'input'],
])('%s is table %s', (path, name) => expect(tableNameOf(path)).toBe(name))

test.each([
  ['x.json', undefined, 'json'],
  ['x.json', 'csv', 'csv'],
  ['-', undefined, 'csv'],
  ['x.dat', undefined, 'csv'],
] as const)('%s said to be %s is read as %s', (path, from, format) => expect(formatOfInput(from, path)).toBe(format))

describe('a table for the eye', () => {
  const result = (limit?: number): QueryResult => {
    const book = new Workbook()
    book.apply([
      {
        op: 'add-table',
        table: 't',
        columns: [
          { name: 'hive', type: 'text' },
          { name: 'kg', type: 'number', unit: 'kg' },
          { name: 'note', type: 'text' },
        ],
      },
      {
        op: 'insert-rows',
        table: 't',
        rows: [
          { hive: 'LM-01', kg: 1 / 3, note: 'two\nlines' },
          { hive: '', kg: { misfit: 'n/a' } },
          { hive: 'x'.repeat(60), kg: 0 },
        ],
      },
      { op: 'add-column', table: 't', column: { name: 'part', formula: '1 / kg' } },
    ])
    return book.query({ table: 't', ...(limit !== undefined && { limit }) })
  }
  const paint = makePaint(false)

  test('says each kind of cell, in one line each', () => {
    expect(tableText(result(), paint, 200).split('\n')).toEqual([
      '○ hive                                 ○ kg kg  ○ note             ● part 1/kg',
      'LM-01                                 0.333333  two ⏎ lines                  3',
      '""                                         n/a                         !misfit',
      `${'x'.repeat(35)}…  0.000000               !division-by-zero`,
      '',
    ])
    expect(tableText(result(), paint, 200, { exact: true })).toContain('0.333333333333333  two ⏎ lines')
  })

  test('leaves out columns that do not fit, source columns first, and names what is not shown', () => {
    const text = tableText(result(1), paint, 34)
    expect(text).toContain('● part')
    expect(text.split('\n')[0]).not.toContain('note')
    expect(text).toMatch(/… 2 more rows, … 1 more column: note\n/)
  })
})
