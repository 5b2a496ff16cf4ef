import { describe, expect, test } from 'vitest'
import { tidyDisplayOf, Workbook } from '../src/index.js'

/** How columns of numbers are shown where nothing is said about it. */

/** The cells of a column as they are shown; a formula makes the column a calculated one. */
function shown(
  values: readonly (number | null)[],
  column: { formula?: string; display?: string; decimals?: number } = {},
): string[] {
  const book = new Workbook({ now: 0 })
  const { formula, ...properties } = column
  book.apply([
    { op: 'add-table', table: 't', columns: [{ name: 'x', type: 'number', ...(formula === undefined ? properties : {}) }] },
    { op: 'insert-rows', table: 't', block: { x: values } },
    ...(formula === undefined ? [] : [{ op: 'add-column' as const, table: 't', column: { name: 'y', formula, ...properties } }]),
  ])
  const result = book.query({ table: 't' })
  const [last] = result.columns.slice(-1)
  if (last === undefined) throw new Error('no column')
  const show = tidyDisplayOf(last, result.slots, 'en')
  return Array.from(result.slots, (slot) => {
    const cell = last.storage?.read(slot) ?? null
    return typeof cell === 'number' ? (show?.(cell) ?? '?') : ''
  })
}

describe('numbers that were typed or read', () => {
  test.each<[string, (number | null)[], string[]]>([
    ['whole numbers stay whole', [1, 20, null, 1234567], ['1', '20', '', '1234567']],
    ['all have the decimals that any has', [12, 12.5, 3.25], ['12.00', '12.50', '3.25']],
    ['few decimals are kept however large the values', [1234567.25, 1234567.5], ['1234567.25', '1234567.50']],
    [
      'noise is cut to six digits of the typical value',
      [12.3456789012, 9.8765432109, 1000.1],
      ['12.3457', '9.8765', '1000.1000'],
    ],
    ['small values have more decimals', [0.00123456789, 0.002], ['0.00123457', '0.00200000']],
    ['very small ones are shown as they are', [1e-20, 2e-20], ['1e-20', '2e-20']],
    ['zeros do not make values small', [0, 0, 0, 0.123456789], ['0.000000', '0.000000', '0.000000', '0.123457']],
    ['what rounds to zero has no sign', [-0.000000001234, 123.456789], ['0.000', '123.457']],
  ])('%s', (_, values, texts) => expect(shown(values)).toEqual(texts))
})

test('calculated numbers have six digits of the typical value, and no more decimals than they need', () => {
  expect(shown([1, 2, 3], { formula: 'x / 3' })).toEqual(['0.333333', '0.666667', '1.000000'])
  expect(shown([1, 2, 3], { formula: 'x / 4' })).toEqual(['0.25', '0.50', '0.75'])
  expect(shown([0.1, 0.7, 8.2], { formula: 'x * 3 + 0.1' })).toEqual(['0.4', '2.2', '24.7'])
  expect(shown([100, 200, 301], { formula: '10000 * x / 3' })).toEqual(['333333', '666667', '1003333'])
})

test('a way to show that is set is kept; percent has one decimal unless more are asked for', () => {
  expect(shown([1 / 3], { decimals: 2 })).toEqual(['0.33'])
  expect(shown([1 / 3], { display: '#,##0.0' })).toEqual(['0.3'])
  expect(shown([1 / 3], { display: 'percent' })).toEqual(['33.3%'])
  expect(shown([1 / 3], { display: 'percent', decimals: 2 })).toEqual(['33.33%'])
  expect(shown([1 / 3], { display: 'currency:EUR' })).toEqual(['€0.33'])
})
