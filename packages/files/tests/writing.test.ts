import fc from 'fast-check'
import { type CellValue, Workbook } from 'mellow-abacus'
import { printNumber } from 'mellow-abacus/storage'
import { describe, expect, test } from 'vitest'
import { type ReadableFormat, readTable, WRITABLE_FORMATS, type WritableFormat, writeTable } from '../src/index.js'
import { BatchBytes } from '../src/writing/batch-bytes.js'

function bookOf(columns: readonly { name: string; type: string }[], rows: Record<string, CellValue>[]): Workbook {
  const book = new Workbook()
  book.applyJson([
    { op: 'add-table', table: 't', columns },
    { op: 'insert-rows', table: 't', rows },
  ])
  return book
}

async function write(book: Workbook, format: WritableFormat): Promise<string> {
  const parts: Buffer[] = []
  await writeTable(book.query({ table: 't' }), format, (bytes) => void parts.push(Buffer.from(bytes)))
  return Buffer.concat(parts).toString('utf8')
}

const columns = [
  { name: '__proto__', type: 'number' },
  { name: '2024', type: 'text' },
  { name: 'd', type: 'date' },
  { name: 'm', type: 'datetime' },
  { name: 'ok', type: 'boolean' },
]
const rows = [
  Object.fromEntries<CellValue>([
    ['__proto__', 1.5],
    ['2024', 'a "b", c'],
    ['d', '2026-03-14'],
    ['m', '2026-03-14T09:30:00'],
    ['ok', true],
  ]),
  Object.fromEntries<CellValue>([
    ['__proto__', { misfit: 'n/a' }],
    ['2024', ''],
    ['ok', false],
  ]),
]
const book = bookOf(columns, rows)
book.apply({ op: 'add-column', table: 't', column: { name: 'bad', formula: '1 / 0' } })

test.each<[WritableFormat, string]>([
  [
    'csv',
    '__proto__,2024,d,m,ok,bad\n1.5,"a ""b"", c",2026-03-14,2026-03-14T09:30:00,true,!division-by-zero\nn/a,"",,,false,!division-by-zero\n',
  ],
  [
    'tsv',
    '__proto__\t2024\td\tm\tok\tbad\n1.5\t"a ""b"", c"\t2026-03-14\t2026-03-14T09:30:00\ttrue\t!division-by-zero\nn/a\t""\t\t\tfalse\t!division-by-zero\n',
  ],
  [
    'ndjson',
    '{"__proto__":1.5,"2024":"a \\"b\\", c","d":"2026-03-14","m":"2026-03-14T09:30:00","ok":true,"bad":{"error":"division-by-zero"}}\n{"__proto__":"n/a","2024":"","d":null,"m":null,"ok":false,"bad":{"error":"division-by-zero"}}\n',
  ],
])('%s says each kind of cell', async (format, text) => expect(await write(book, format)).toBe(text))

test('JSON is an array that parses, also without rows', async () => {
  expect(JSON.parse(await write(book, 'json'))).toHaveLength(2)
  expect(JSON.parse(await write(bookOf(columns, []), 'json'))).toEqual([])
})

test('numbers go out byte by byte exactly as they print', () => {
  const any = fc.oneof(
    fc.double({ noNaN: true, noDefaultInfinity: true }),
    fc
      .tuple(fc.integer({ min: -(2 ** 31), max: 2 ** 31 }), fc.integer({ min: 0, max: 6 }))
      .map(([whole, digits]) => whole / 10 ** digits),
  )
  const out = new BatchBytes()
  fc.assert(
    fc.property(any, (value) => {
      out.number(value + 0)
      return new TextDecoder().decode(out.take()) === printNumber(value + 0)
    }),
    { numRuns: 3000 },
  )
})

describe('what is written reads back the same', () => {
  const cell = {
    n: fc.oneof(
      fc.constant(null),
      fc.double({ noNaN: true, noDefaultInfinity: true }).map((value) => value + 0),
      fc.constantFrom(1e-300, 2 ** 53, 0.1, 1e21),
    ),
    s: fc.oneof(
      fc.constant(null),
      fc.string({ unit: 'grapheme', minLength: 1 }),
      fc.constantFrom('007', '=1+1', 'a\r\nb', '"', ' x ', '-', '\t'),
    ),
  }
  test.each<ReadableFormat>(['csv', 'tsv', 'json', 'ndjson'])('%s', async (format) => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.record(cell), { minLength: 1, maxLength: 20 }), async (rows) => {
        const types = [
          { name: 'n', type: 'number' },
          { name: 's', type: 'text' },
        ]
        const first = bookOf(types, rows)
        const text = await write(first, format)
        const read = await readTable([new TextEncoder().encode(text)], format, {
          types: new Map([
            ['n', { type: 'number' }],
            ['s', { type: 'text' }],
          ]),
        })
        const values = read.columns.map(({ name, column }) => [
          name,
          Array.from({ length: read.rowCount }, (_, slot) => column?.read(slot) ?? null),
        ])
        // A row of blanks alone is an empty line of a file of one column only; these have two.
        expect(values).toEqual(first.table('t').columns.map((column) => [column.name, column.values()]))
      }),
      { numRuns: 200 },
    )
  })
})

describe.each([...WRITABLE_FORMATS])('writing %s', (format) => {
  const large = new Workbook()
  large.apply([
    { op: 'add-table', table: 't', columns: [{ name: 'kg', type: 'number' }] },
    { op: 'insert-rows', table: 't', block: { kg: Float64Array.from({ length: 150_000 }, (_, row) => row / 8) } },
  ])
  const result = large.query({ table: 't', limit: format === 'xlsx' ? 10_000 : 150_000 })

  test('tells how many rows are written', async () => {
    const told: number[] = []
    await writeTable(result, format, () => undefined, { onProgress: (rows) => void told.push(rows) })
    expect(told.length).toBeGreaterThan(1)
    expect(told).toEqual([...told].sort((a, b) => a - b))
    expect(told.at(-1)).toBe(result.slots.length)
  })

  test('ends when it is cancelled, also before it begins', async () => {
    const cancel = new AbortController()
    let last = 0
    const onProgress = (rows: number): void => {
      last = rows
      cancel.abort(new Error('no longer wanted'))
    }
    const { signal } = cancel
    await expect(writeTable(result, format, () => undefined, { onProgress, signal })).rejects.toThrow('no longer wanted')
    expect(last).toBeLessThan(result.slots.length)
    let bytes = 0
    const sink = (piece: Uint8Array): void => {
      bytes += piece.length
    }
    await expect(writeTable(result, format, sink, { signal })).rejects.toThrow('no longer wanted')
    // What stands before the rows may be written.
    expect(bytes).toBeLessThan(3000)
  })
})
