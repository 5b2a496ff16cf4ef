import { CellFault, type ColumnView, Workbook } from 'mellow-abacus'
import { describe, expect, test } from 'vitest'
import { cellText, fullText } from '../src/display/cell-text'
import { totalText } from '../src/grid/totals'
import { typedValue } from '../src/grid/typed-value'
import { threadsOf } from '../src/rod/threads'

const book = new Workbook()
book.apply([
  {
    op: 'add-table',
    table: 't',
    columns: [
      { name: 'n', type: 'number', decimals: 1 },
      { name: 'i', type: 'integer' },
      { name: 's', type: 'text' },
      { name: 'd', type: 'date' },
      { name: 'ok', type: 'boolean' },
      { name: 'w', type: 'number' },
    ],
  },
  {
    op: 'insert-rows',
    table: 't',
    rows: [
      { n: 1.26, i: 3, s: 'b', d: '2026-03-14', ok: true, w: { misfit: '?' } },
      { n: 2, i: 4, d: '2026-03-10' },
    ],
  },
  { op: 'add-column', table: 't', column: { name: 'x', formula: 'n + i' } },
  { op: 'add-column', table: 't', column: { name: 'y', formula: 'x * 2 + w' } },
])
const table = book.table('t')
const column = (name: string): ColumnView => table.column(name)

describe('what is typed into a cell', () => {
  test.each<[string, string, object]>([
    ['n', '', { value: null }],
    ['n', ' 2.5 ', { value: 2.5 }],
    ['n', 'about 2', { refused: 'n holds numbers; "about 2" is none.' }],
    ['i', '7', { value: 7 }],
    ['i', '7.5', { refused: 'i holds whole numbers; 7.5 would lose its fraction.' }],
    ['s', '007', { value: '007' }],
    ['d', '2028-02-29', { value: '2028-02-29' }],
    ['d', '2026-02-29', { refused: 'd holds dates like 2026-03-14; "2026-02-29" is none.' }],
    ['ok', 'true', { value: true }],
    ['ok', 'yes', { refused: 'ok holds true or false; "yes" is neither.' }],
  ])('%s: "%s"', (name, text, expected) => expect(typedValue(text, column(name))).toEqual(expected))
})

test.each<[unknown, number | undefined, object]>([
  [null, undefined, { text: '', kind: 'blank' }],
  ['', undefined, { text: '""', kind: 'value' }],
  [1 / 3, undefined, { text: '0.333333333333333', kind: 'value' }],
  [1 / 3, 2, { text: '0.33', kind: 'value' }],
  [1234.5, 1, { text: '1234.5', kind: 'value' }],
  [new CellFault('division-by-zero'), 2, { text: '!division-by-zero', kind: 'error' }],
  [new CellFault('misfit', 'about 12'), 2, { text: 'about 12', kind: 'misfit' }],
  [true, undefined, { text: 'true', kind: 'value' }],
])('%s with %s decimals is shown', (value, decimals, expected) =>
  expect(cellText(value as never, { decimals })).toEqual(expected),
)

test('numbers are shown as is said of their column, in full for who rests on them', () => {
  expect(cellText(0.125, { display: 'percent', decimals: 1 }).text).toBe('12.5%')
  expect(cellText(1234.5, { display: 'currency:EUR' }).text).toBe('€1,234.50')
  expect(fullText(1 / 3)).toBe('0.333333333333333')
  expect(fullText('calm')).toBe('calm')
})

test.each([
  ['sum', 'n', '3.3'],
  ['mean', 'i', '3.5'],
  ['smallest', 'd', '2026-03-10'],
  ['largest', 'n', '2.0'],
  ['filled', 's', '1 of 2'],
  ['sum', 's', ''],
  ['sum', 'd', ''],
  ['largest', 'ok', ''],
  ['sum', 'w', '!misfit'],
  ['filled', 'w', '0 of 2'],
] as const)('the %s of %s is "%s"', (total, name, text) =>
  expect(totalText(total, column(name), column(name).summary(), column(name).properties)).toBe(text),
)

test('threads go all the way to sources and dependents', () => {
  const named = (name: string): number => table.columns.findIndex((one) => one.name === name)
  expect(threadsOf(table, null)).toEqual([])
  expect(threadsOf(table, 'n')).toEqual([
    { from: named('n'), to: named('x'), kind: 'dependent' },
    { from: named('x'), to: named('y'), kind: 'dependent' },
  ])
  expect(threadsOf(table, 'y').filter((thread) => thread.kind === 'source')).toHaveLength(4)
})
