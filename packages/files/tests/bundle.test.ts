import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { type CellValue, type Operation, Workbook } from 'mellow-abacus'
import { describe, expect, test } from 'vitest'
import { ReadFault, readBundle, writeBundle } from '../src/index.js'

/** A bundle is a workbook to read and to compare; what is made of it is the same workbook. */

const MADE: Operation[] = [
  { op: 'set-value', name: 'price', value: 4.5 },
  { op: 'set-value', name: 'since', value: '2026-01-01', type: 'date' },
  { op: 'set-value', name: 'worth', formula: 'price * takes.total' },
  {
    op: 'add-table',
    table: 'hives',
    columns: [
      { name: 'tag', type: 'text', note: 'on the lid', tags: ['names'] },
      { name: '__proto__', type: 'number', unit: 'frames', decimals: 1, display: '0.0' },
      { name: 'above', type: 'text' },
      { name: 'untyped' },
      { name: 'whole', type: 'integer', hidden: true, choices: ['1', '2'] },
      { name: 'rate', formula: '1 / whole' },
      { name: 'score', formula: 'whole * 2' },
      { name: 'seen_at' },
      { name: 'kept', formula: '1 / whole' },
    ],
  },
  {
    op: 'add-table',
    table: 'takes',
    columns: [
      { name: 'hive', type: 'text' },
      { name: 'day', type: 'datetime' },
      { name: 'kg', type: 'number' },
    ],
  },
  { op: 'add-table', table: 'only / formulas', columns: [{ name: 'x', formula: 'row_number()' }] },
  { op: 'add-link', table: 'takes', columns: ['hive'], to: 'hives', keys: ['tag'], name: 'of' },
  { op: 'add-link', table: 'hives', columns: ['above'], to: 'hives', keys: ['tag'] },
  { op: 'change-table', table: 'hives', set: { label: 'tag', key: ['tag'], parent: 'above' } },
  { op: 'set-tally', table: 'takes', name: 'total', formula: 'sum(kg)' },
  { op: 'set-rule', table: 'takes', name: 'heavy', condition: 'kg > 1', severity: 'hint', note: 'Weigh again.' },
  { op: 'change-column', table: 'takes', column: 'hive', set: { orderKey: 'kg' } },
]

function made(): Workbook {
  const book = new Workbook({ zone: 'Europe/Oslo', seed: 7 })
  book.apply(MADE)
  book.apply(
    [
      { op: 'set-stamp', table: 'hives', column: 'seen_at', stamp: { when: ['whole'] } },
      {
        op: 'insert-rows',
        table: 'hives',
        rows: [
          Object.fromEntries<CellValue>([
            ['tag', 'A "1", x'],
            ['__proto__', 1e-300],
            ['whole', 2],
          ]),
          Object.fromEntries<CellValue>([
            ['tag', ''],
            ['__proto__', { misfit: 'ten' }],
            ['above', 'A "1", x'],
            ['whole', { misfit: '1.5' }],
          ]),
          { tag: '=1+1\r\n🐝', whole: 0 },
          {},
        ],
      },
    ],
    { at: '2026-03-01T09:30:00' },
  )
  book.apply({ op: 'insert-rows', table: 'takes', rows: [{ hive: 'A "1", x', day: '2026-03-01T09:30:00', kg: 3 }, { kg: 0.5 }] })
  book.apply({ op: 'insert-rows', table: 'only / formulas', rows: [{}, {}] })
  book.apply({ op: 'pause-column', table: 'hives', column: 'score' })
  book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 2, column: 'score', value: 9 }] })
  book.apply({ op: 'detach-column', table: 'hives', column: 'kept' })
  book.apply({ op: 'remove-rows', table: 'takes', rows: [2] })
  return book
}

async function again(bytes: Uint8Array): Promise<Workbook> {
  const { operations, surroundings } = await readBundle(bytes)
  const book = new Workbook(surroundings)
  book.applyJson(operations)
  return book
}

test('comes back the same: cells, definitions, findings, and the bytes of its own bundle', async () => {
  const book = made()
  const bytes = await writeBundle(book)
  const back = await again(bytes)
  for (const table of book.tables) {
    expect(back.query({ table }).rows()).toEqual(book.query({ table }).rows())
    expect(back.table(table).columns.map(({ name, type, formula, isPaused }) => [name, type, formula, isPaused])).toEqual(
      book.table(table).columns.map(({ name, type, formula, isPaused }) => [name, type, formula, isPaused]),
    )
  }
  expect(back.check().map(({ code, message }) => [code, message])).toEqual(
    book.check().map(({ code, message }) => [code, message]),
  )
  expect([back.value('worth'), back.value('since'), back.surroundings]).toEqual([
    book.value('worth'),
    '2026-01-01',
    book.surroundings,
  ])
  expect(back.table('hives').column('score').typedIds()).toEqual([2])
  expect(Buffer.from(await writeBundle(back)).equals(bytes)).toBe(true)
  back.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 4, column: 'whole', value: 1 }] }, { at: '2026-04-01T00:00:00' })
  expect(back.table('hives').column('seen_at').values()[3]).toBe('2026-04-01T00:00:00')
})

test('is readable, and a small edit is a small difference', async () => {
  const book = made()
  const lines = (bytes: Uint8Array): string[] => Object.values(unzipSync(bytes)).flatMap((part) => strFromU8(part).split('\n'))
  const before = lines(await writeBundle(book))
  expect(Object.keys(unzipSync(await writeBundle(book)))).toEqual(['book.json', 'tables/01-hives.csv', 'tables/02-takes.csv'])
  book.apply({ op: 'set-cells', table: 'takes', cells: [{ row: 1, column: 'kg', value: 4 }] })
  const after = lines(await writeBundle(book))
  expect(after.filter((line, index) => line !== before[index])).toHaveLength(1)
})

describe('refused, with the part and the field', () => {
  const altered = async (edit: (parts: Record<string, Uint8Array>) => void): Promise<Uint8Array> => {
    const parts = unzipSync(await writeBundle(made()))
    edit(parts)
    return zipSync(parts)
  }
  const json = (edit: (bundle: { [field: string]: unknown; tables: { rows: number; columns: object[] }[] }) => void) =>
    altered((parts) => {
      const bundle = JSON.parse(strFromU8(parts['book.json'] as Uint8Array)) as Parameters<typeof edit>[0]
      edit(bundle)
      parts['book.json'] = strToU8(JSON.stringify(bundle))
    })
  test.each<[string, () => Promise<Uint8Array>, RegExp]>([
    ['no zip', async () => strToU8('hello'), /not a bundle: it is no zip file/],
    ['another zip', async () => zipSync({ 'a.txt': strToU8('a') }), /has no book.json/],
    ['no JSON', () => altered((parts) => (parts['book.json'] = strToU8('{'))), /book.json is not JSON/],
    ['a newer version', () => json((bundle) => (bundle.version = 2)), /book.json, version/],
    ['a field too many', () => json((bundle) => (bundle.extra = 1)), /book.json, extra/],
    [
      'a type there is not',
      () => json((bundle) => ((bundle.tables[0]?.columns[0] as { type: string }).type = 'blob')),
      /tables.0.columns.0.type/,
    ],
    [
      'rows that do not fit',
      () => json((bundle) => ((bundle.tables[0] as { rows: number }).rows = 9)),
      /has 4 rows, and book.json says that hives has 9/,
    ],
    ['a part that is missing', () => altered((parts) => delete parts['tables/02-takes.csv']), /the part tables\/02-takes.csv/],
    [
      'a broken part',
      () => altered((parts) => (parts['tables/02-takes.csv'] = strToU8('hive,day,kg\na,b,c,d\n'))),
      /tables\/02-takes.csv: line 2/,
    ],
    ['a part cut short', async () => (await writeBundle(made())).subarray(0, 300), /not the whole of a bundle/],
  ])('%s', async (_, bytes, message) => {
    const fault = await readBundle(await bytes()).catch((error: unknown) => error)
    expect(fault).toBeInstanceOf(ReadFault)
    expect((fault as Error).message).toMatch(message)
  })
})
