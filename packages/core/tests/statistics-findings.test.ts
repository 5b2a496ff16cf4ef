import { describe, expect, test } from 'vitest'
import { applyEdits, type Finding, Workbook } from '../src/index.js'
import { BLOCK_ROWS } from '../src/storage.js'

/** Findings that go by the counts and ends of whole columns: zeros that are really missing, parts on unlike scales. */

const COLUMNS = [
  { name: 'stores_kg', type: 'number', tags: ['parts'] },
  { name: 'brood', type: 'number', tags: ['parts'] },
  { name: 'temper', type: 'number' },
] as const

function hives(formula: string, block: Record<string, readonly (number | null)[]>): Workbook {
  const book = new Workbook()
  book.apply([
    { op: 'add-table', table: 'hives', columns: COLUMNS },
    { op: 'insert-rows', table: 'hives', block },
    { op: 'add-column', table: 'hives', column: { name: 'result', formula } },
  ])
  return book
}

const found = (book: Workbook, code: string): Finding | undefined =>
  book
    .table('hives')
    .column('result')
    .findings()
    .find((one) => one.code === code)

const STORES = [14, 15, 0, 18, 20.5, null, 16]

describe('a zero that is really missing', () => {
  test.each([
    ['stores_kg * 2', STORES, 1],
    ['1 + brood + stores_kg', STORES, 1],
    ['sum_of(stores_kg, brood)', STORES, 1],
    ['sum_of(#parts)', STORES, 1],
    ['let net = stores_kg - 2 in if(net > 3, net, 0)', STORES, 1],
    ['-8 * stores_kg', [-14, -15, 0, -18, -20.5, null, -16], 1],
    ['stores_kg + 1', [14, 15, 4, 18, 0, 16], undefined],
    ['stores_kg + 1', [14, 0, 0, 18, 0, 16], undefined],
    ['stores_kg + 1', [0, 1, 1, 1, 1, 1, 1], undefined],
    ['stores_kg + 1', [0, null, null], undefined],
    ['if(stores_kg = 0, 1, 2)', STORES, undefined],
    ['blank_if(stores_kg, 0) + 1', STORES, undefined],
    ['100 / stores_kg', STORES, undefined],
    ['sum_of(stores_kg, brood, blanks as zero)', STORES, undefined],
  ] as const)('%s over %j', (formula, stores_kg, rows) => {
    const book = hives(formula, { stores_kg, brood: stores_kg.map(() => 5), temper: stores_kg.map(() => 1) })
    expect(found(book, 'zero-apart')?.rows).toBe(rows)
  })

  test('is told once, with a fix for every place, and goes away with its cell', () => {
    const formula = 'stores_kg + stores_kg * 2'
    const book = hives(formula, { stores_kg: STORES })
    const [fix, ...others] = found(book, 'zero-apart')?.fixes ?? []
    expect(others).toEqual([])
    const fixed = applyEdits(formula, fix?.edits ?? [])
    expect(fixed).toBe('blank_if(stores_kg, 0) + blank_if(stores_kg, 0) * 2')
    book.apply({ op: 'change-column', table: 'hives', column: 'result', set: { formula: fixed } })
    expect(found(book, 'zero-apart')).toBeUndefined()
    book.undo()
    expect(found(book, 'zero-apart')?.rows).toBe(1)
    const change = book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 3, column: 'stores_kg', value: 17 }] })
    expect(change.findings.removed.map(({ code }) => code)).toEqual(['zero-apart'])
  })

  test('follows rows that come and go, over several blocks', () => {
    const count = BLOCK_ROWS * 2
    const book = hives('stores_kg + 1', { stores_kg: Array.from({ length: count }, (_, index) => 20 + (index % 15)) })
    expect(found(book, 'zero-apart')).toBeUndefined()
    book.apply({ op: 'insert-rows', table: 'hives', rows: [{ stores_kg: 0 }, { stores_kg: 0 }] })
    expect(found(book, 'zero-apart')?.rows).toBe(2)
    book.apply({ op: 'remove-rows', table: 'hives', rows: [count + 1] })
    expect(found(book, 'zero-apart')?.rows).toBe(1)
    book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 7, column: 'stores_kg', value: 3 }] })
    expect(found(book, 'zero-apart')).toBeUndefined()
  })
})

describe('parts of a score on unlike scales', () => {
  const block = { stores_kg: [4, 20, 12], brood: [1, 9, 3], temper: [0.1, 0.9, null] }

  test.each([
    ['weighted(brood at 40%, stores_kg at 35%, temper at 25%)', true],
    ['weighted(brood at 40%, stores_kg at 60%)', false],
    ['mean_of(brood, temper)', true],
    ['median_of(brood, temper, 3)', true],
    ['weighted(brood / 10 at 40%, temper at 60%)', false],
    ['sum_of(brood, temper)', false],
    ['max_of(brood, temper)', false],
  ])('%s: %s', (formula, isTold) => {
    expect(found(hives(formula, block), 'unlike-scales') !== undefined).toBe(isTold)
  })

  test('names the widest and the narrowest, and follows the data', () => {
    const book = hives('weighted(brood at 40%, stores_kg at 35%, temper at 25%)', block)
    expect(found(book, 'unlike-scales')?.message).toBe(
      'stores_kg ranges over 16, temper only over 0.8, so the first decides most of the result.',
    )
    book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 3, column: 'temper', value: 7 }] })
    expect(found(book, 'unlike-scales')).toBeUndefined()
  })
})
