import fc from 'fast-check'
import { strToU8, zipSync } from 'fflate'
import { type CellValue, Workbook } from 'mellow-abacus'
import { describe, expect, test } from 'vitest'
import {
  type Loss,
  type ReadableFormat,
  ReadFault,
  type ReadingOptions,
  readTable,
  writeSheets,
  writeTable,
} from '../src/index.js'

/** Formats with types of their own: what goes out comes back the same, what cannot is told, and hostile files are refused. */

type Typed = 'arrow' | 'parquet' | 'xlsx'
const FORMATS: readonly Typed[] = ['arrow', 'parquet', 'xlsx']

const COLUMNS = [
  { name: '__proto__', type: 'number' },
  { name: 'whole', type: 'integer' },
  { name: '2024', type: 'text' },
  { name: 'day', type: 'date' },
  { name: 'seen', type: 'datetime' },
  { name: 'ok', type: 'boolean' },
]

function bookOf(rows: readonly (readonly CellValue[])[], columns: readonly { name: string; type: string }[] = COLUMNS): Workbook {
  const book = new Workbook()
  const cells = rows.map((row) => Object.fromEntries(row.map((value, place) => [columns[place]?.name as string, value])))
  book.applyJson([
    { op: 'add-table', table: 't', columns: [...columns] },
    { op: 'insert-rows', table: 't', rows: cells },
  ])
  return book
}

async function written(book: Workbook, format: Typed): Promise<{ bytes: Uint8Array; losses: readonly Loss[] }> {
  const parts: Buffer[] = []
  const losses = await writeTable(book.query({ table: 't' }), format, (bytes) => void parts.push(Buffer.from(bytes)))
  return { bytes: Buffer.concat(parts), losses }
}

/** Rows of a file as they come back, cells as operations have them. */
async function readBack(
  bytes: Uint8Array,
  format: ReadableFormat,
  options: ReadingOptions = {},
): Promise<{ types: unknown[]; rows: unknown[][] }> {
  // In pieces of odd sizes, as a file or a socket gives them.
  const pieces: Uint8Array[] = []
  for (let at = 0; at < bytes.length; at += 1013) pieces.push(bytes.subarray(at, at + 1013))
  const read = await readTable(pieces, format, options)
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 't',
      columns: read.columns.map(({ name, column }) => ({ name, ...(column !== null && { type: column.type }) })),
    },
    {
      op: 'insert-rows',
      table: 't',
      block: Object.fromEntries(read.columns.flatMap(({ name, column }) => (column === null ? [] : [[name, column]]))),
      count: read.rowCount,
    },
  ])
  return { types: read.columns.map(({ name, column }) => [name, column?.type ?? null]), rows: book.query({ table: 't' }).rows() }
}

const declared: ReadingOptions = { types: new Map(COLUMNS.map(({ name, type }) => [name, { type: type as 'text' }])) }

const TELLING: readonly (readonly CellValue[])[] = [
  [1e-300, 2 ** 53, '007', '2028-02-29', '2026-03-14T09:30:00', true],
  [-1.7976931348623157e308, -(2 ** 53), 'line\nbreak', '1900-03-01', '1999-12-31T23:59:59.999', false],
  [0.1, 0, '🐝 Église 中文', '9999-12-31', '9999-12-31T23:59:59.999', null],
  [5e-324, 1, '', '2026-11-23', '1900-03-01', true],
  [null, null, null, null, null, null],
  [1e21, 7, '=1+1', '1970-01-01', '1970-01-01T00:00:00.001', false],
  [3, 8, ' spaces ', '2000-02-29', '2000-02-29T12:00:00', true],
  [4, 9, 'a\r\nb\tc\u0001\u007f _x000D_ &lt;b&gt; <&>"\'', '2026-01-01', '2026-01-01', false],
]

describe('what is written reads back the same', () => {
  test.each(FORMATS)('%s: telling cells', async (format) => {
    const book = bookOf(TELLING)
    const { bytes, losses } = await written(book, format)
    expect(losses).toEqual([])
    const back = await readBack(bytes, format, format === 'xlsx' ? declared : {})
    expect(back.rows).toEqual(book.query({ table: 't' }).rows())
    expect(back.types).toEqual(COLUMNS.map(({ name, type }) => [name, type]))
  })

  test('xlsx finds types by itself: dates by their format, numbers, texts that stay texts', async () => {
    const { bytes } = await written(bookOf(TELLING), 'xlsx')
    const back = await readBack(bytes, 'xlsx')
    expect(back.types).toEqual(COLUMNS.map(({ name, type }) => [name, type === 'integer' ? 'number' : type]))
  })

  test.each(FORMATS)('%s: days before March 1900 and texts of 40 000 signs', async (format) => {
    const long = '🐝'.repeat(20_000)
    const book = bookOf([
      [1, 1, long, '0001-01-01', '1899-12-31T12:00:00', true],
      [2, 2, 'short', '1900-02-28', '1900-02-28T23:59:59.999', true],
    ])
    const { bytes, losses } = await written(book, format)
    const expected = book.query({ table: 't' }).rows()
    if (format === 'xlsx') {
      expect(losses.map(({ column, kind, cells }) => [column, kind, cells])).toEqual([
        ['2024', 'long-text', 1],
        ['day', 'early-date', 2],
        ['seen', 'early-date', 2],
      ])
      // A sign of two units that the end would cut in half is left whole or left out.
      ;(expected[0] as unknown[])[2] = '🐝'.repeat(16_383)
    } else expect(losses).toEqual([])
    expect((await readBack(bytes, format)).rows).toEqual(expected)
  })

  test.each(FORMATS)('%s: misfits and errors are counted where it cannot hold them', async (format) => {
    const book = bookOf([
      [{ misfit: 'n/a' }, 1, 'x', { misfit: 'soon' }, null, true],
      [2, { misfit: '1.5' }, 'y', '2026-01-01', null, true],
    ])
    book.apply({ op: 'add-column', table: 't', column: { name: 'rate', formula: '1 / (whole - whole)' } })
    const { bytes, losses } = await written(book, format)
    const told = losses.map(({ column, kind, cells, sample }) => [column, kind, cells, sample]).sort()
    const { rows } = await readBack(bytes, format, format === 'xlsx' ? declared : {})
    if (format === 'xlsx') {
      expect(told).toEqual([['rate', 'error', 2, 'division-by-zero']])
      expect(rows.map((row) => String(row[0]))).toEqual(['!misfit', '2'])
    } else {
      expect(told).toEqual([
        ['__proto__', 'misfit', 1, 'n/a'],
        ['day', 'misfit', 1, 'soon'],
        ['rate', 'error', 2, 'division-by-zero'],
        ['whole', 'misfit', 1, '1.5'],
      ])
      expect(rows.map((row) => row[0])).toEqual([null, 2])
    }
  })

  test.each(FORMATS)('%s: no rows, and a column without a type', async (format) => {
    const none = await readBack((await written(bookOf([]), format)).bytes, format)
    expect([none.rows, none.types.length]).toEqual([[], COLUMNS.length])
    const book = new Workbook()
    book.apply([
      { op: 'add-table', table: 't', columns: [{ name: 'empty' }, { name: 'n', type: 'number' }] },
      { op: 'insert-rows', table: 't', rows: [{ n: 1 }, {}] },
    ])
    expect((await readBack((await written(book, format)).bytes, format)).rows.slice(0, 1)).toEqual([[null, 1]])
  })

  const row = fc.tuple(
    fc.option(fc.double({ noNaN: true, noDefaultInfinity: true }).map((value) => value + 0)),
    fc.option(fc.maxSafeInteger()),
    fc.option(fc.string({ unit: 'grapheme', maxLength: 12 })),
    fc.option(fc.integer({ min: -25_508, max: 2_932_896 }).map((day) => new Date(day * 86_400_000).toISOString().slice(0, 10))),
    fc.option(fc.integer({ min: -2_203_891_200_000, max: 4e12 }).map((time) => new Date(time).toISOString().slice(0, 23))),
    fc.option(fc.boolean()),
  )
  test.each(FORMATS)('%s: any rows', async (format) => {
    await fc.assert(
      fc.asyncProperty(fc.array(row, { minLength: 1, maxLength: 30 }), async (rows) => {
        const book = bookOf([...rows, [1, 1, 'last', '2026-01-01', '2026-01-01', true]])
        const { bytes } = await written(book, format)
        expect((await readBack(bytes, format, declared)).rows).toEqual(book.query({ table: 't' }).rows())
      }),
      { numRuns: 25 },
    )
  })
})

test('a workbook of sheets has one a table, with names that sheets may have', async () => {
  const parts: Buffer[] = []
  const result = bookOf(TELLING).query({ table: 't' })
  const other = bookOf([[2, 2, 'other', null, null, null]]).query({ table: 't' })
  await writeSheets(
    [
      { name: 'hives/2026', result },
      { name: 'hives:2026', result: other },
    ],
    (bytes) => void parts.push(Buffer.from(bytes)),
  )
  const bytes = Buffer.concat(parts)
  expect((await readBack(bytes, 'xlsx', { sheet: 'hives_2026 2' })).rows[0]?.[2]).toBe('other')
  expect((await readBack(bytes, 'xlsx')).rows[0]?.[2]).toBe('007')
  await expect(readBack(bytes, 'xlsx', { sheet: 'hives' })).rejects.toThrow(
    'there is no sheet called hives; there are hives_2026, hives_2026 2.',
  )
})

/** A spreadsheet from the parts given; the others are as plain as can be. */
function sheetFile(parts: Readonly<Record<string, string | Uint8Array>>): Uint8Array {
  const plain = {
    'xl/workbook.xml': '<workbook xmlns:r="r"><sheets><sheet name="s" sheetId="1" r:id="a"/></sheets></workbook>',
    'xl/_rels/workbook.xml.rels': '<Relationships><Relationship Id="a" Target="worksheets/sheet1.xml"/></Relationships>',
  }
  const all = Object.entries({ ...plain, ...parts }).map(([name, text]) => [
    name,
    typeof text === 'string' ? strToU8(text) : text,
  ])
  return zipSync(Object.fromEntries(all), { level: 1 })
}
const rowsXml = (rows: string): string => `<worksheet><sheetData>${rows}</sheetData></worksheet>`
const HEADER = '<row r="1"><c r="A1" t="inlineStr"><is><t>x</t></is></c></row>'

describe('sheets as other programs write them', () => {
  const sheet = (rows: string, parts: Record<string, string> = {}): Uint8Array =>
    sheetFile({ 'xl/worksheets/sheet1.xml': rowsXml(rows), ...parts })
  test.each<[string, Uint8Array, unknown[]]>([
    ['formulas as they were saved', sheet(`${HEADER}<row r="2"><c r="A2"><f>1+1</f><v>2</v></c></row>`), [2]],
    ['rows and cells without references', sheet('<row><c t="str"><v>x</v></c></row><row><c><v>5</v></c></row>'), [5]],
    ['rows left out are blank', sheet(`${HEADER}<row r="4"><c r="A4"><v>3</v></c></row>`), [null, null, 3]],
    [
      'texts in runs, reading aids left out',
      sheet(`${HEADER}<row r="2"><c r="A2" t="s"><v>0</v></c></row>`, {
        'xl/sharedStrings.xml': '<sst><si><r><t>Thistle </t></r><r><t>&amp; Comb</t></r><rPh><t>aid</t></rPh></si></sst>',
      }),
      ['Thistle & Comb'],
    ],
    [
      'days by their format, and the day that never was',
      sheet(`${HEADER}<row r="2"><c r="A2" s="1"><v>1</v></c></row><row r="3"><c r="A3" s="1"><v>61</v></c></row>`, {
        'xl/styles.xml': '<styleSheet><cellXfs><xf numFmtId="0"/><xf numFmtId="14"/></cellXfs></styleSheet>',
      }),
      ['1900-01-01', '1900-03-01'],
    ],
    [
      'days counted from 1904',
      sheet(`${HEADER}<row r="2"><c r="A2" s="0"><v>0</v></c></row>`, {
        'xl/workbook.xml':
          '<workbook xmlns:r="r"><workbookPr date1904="1"/><sheets><sheet name="s" sheetId="1" r:id="a"/></sheets></workbook>',
        'xl/styles.xml':
          '<styleSheet><numFmts><numFmt numFmtId="170" formatCode="dd/mm/yyyy"/></numFmts><cellXfs><xf numFmtId="170"/></cellXfs></styleSheet>',
      }),
      ['1904-01-01'],
    ],
    [
      'colours and texts of a format are no dates',
      sheet(`${HEADER}<row r="2"><c r="A2" s="0"><v>7</v></c></row>`, {
        'xl/styles.xml':
          '<styleSheet><numFmts><numFmt numFmtId="170" formatCode="[Red]0.0&quot; days&quot;"/></numFmts><cellXfs><xf numFmtId="170"/></cellXfs></styleSheet>',
      }),
      [7],
    ],
  ])('%s', async (_, bytes, values) => expect((await readBack(bytes, 'xlsx')).rows.map(([cell]) => cell)).toEqual(values))
})

describe('hostile files are refused', () => {
  const endless = (root: string): Uint8Array => Buffer.concat([Buffer.from(`<${root}>`), Buffer.alloc(2 ** 27, ' ')])
  const whole = async (format: Typed): Promise<Uint8Array> => (await written(bookOf(TELLING), format)).bytes
  const cases: [string, ReadableFormat, () => Promise<Uint8Array> | Uint8Array, RegExp][] = [
    [
      'a zip that unfolds without end',
      'xlsx',
      () => sheetFile({ 'xl/worksheets/sheet1.xml': endless('worksheet') }),
      /unfold to more than/,
    ],
    [
      'texts that unfold without end',
      'xlsx',
      () => sheetFile({ 'xl/sharedStrings.xml': endless('sst'), 'xl/worksheets/sheet1.xml': rowsXml(HEADER) }),
      /unfold to more than/,
    ],
    [
      'an external entity',
      'xlsx',
      () =>
        sheetFile({ 'xl/worksheets/sheet1.xml': `<!DOCTYPE w [<!ENTITY e SYSTEM "file:///etc/hostname">]>${rowsXml(HEADER)}` }),
      /declares a document type/,
    ],
    [
      'entities of entities',
      'xlsx',
      () => sheetFile({ 'xl/sharedStrings.xml': '<!DOCTYPE s [<!ENTITY a "b"><!ENTITY c "&a;&a;">]><sst/>' }),
      /declares a document type/,
    ],
    ['an unknown entity', 'xlsx', () => sheetFile({ 'xl/worksheets/sheet1.xml': '<worksheet>&bomb;</worksheet>' }), /broken XML/],
    [
      'one cell at the end of an endless sheet',
      'xlsx',
      () =>
        sheetFile({
          'xl/worksheets/sheet1.xml': rowsXml(
            `<row r="1">${Array.from({ length: 700 }, (_, at) => `<c t="str"><v>c${at}</v></c>`).join('')}</row><row r="1048576"><c r="A1048576"><v>1</v></c></row>`,
          ),
        }),
      /reaches to row 1048576/,
    ],
    [
      'a row beyond a sheet',
      'xlsx',
      () => sheetFile({ 'xl/worksheets/sheet1.xml': rowsXml(`${HEADER}<row r="9999999999"><c><v>1</v></c></row>`) }),
      /no row of a sheet/,
    ],
    [
      'a row twice',
      'xlsx',
      () =>
        sheetFile({
          'xl/worksheets/sheet1.xml': rowsXml(`${HEADER}<row r="2"><c><v>1</v></c></row><row r="2"><c><v>1</v></c></row>`),
        }),
      /row 2 is there twice/,
    ],
    [
      'a text that is not there',
      'xlsx',
      () => sheetFile({ 'xl/worksheets/sheet1.xml': rowsXml('<row><c t="s"><v>9</v></c></row>') }),
      /names the shared text 9/,
    ],
    ['a sheet without its part', 'xlsx', () => sheetFile({}), /part of its sheet s is missing/],
    ['no sheets', 'xlsx', () => zipSync({ 'a.txt': strToU8('a') }), /has no sheets/],
    ['text called a sheet', 'xlsx', () => strToU8('x,y\n1,2\n'), /no zip file/],
    ['text called Arrow', 'arrow', () => strToU8('x,y\n1,2\n'), /not a whole Arrow IPC file/],
    ['text called Parquet', 'parquet', () => strToU8('x,y\n1,2\n'), /not a whole Parquet file/],
    ['nothing', 'parquet', () => new Uint8Array(0), /empty/],
  ]
  test.each(cases)('%s', async (_, format, bytes, message) => {
    const fault = await readTable([await bytes()], format).catch((error: unknown) => error)
    expect(fault).toBeInstanceOf(ReadFault)
    expect((fault as Error).message).toMatch(message)
  })

  test.each(FORMATS)('%s cut anywhere', async (format) => {
    const bytes = await whole(format)
    for (let part = 1; part < 12; part++) {
      const cut = bytes.subarray(0, Math.floor((bytes.length * part) / 12))
      await expect(readTable([cut], format)).rejects.toThrow(ReadFault)
    }
  })

  test.each(['parquet', 'xlsx'] as const)('%s with altered bytes is read or refused, never worse', async (format) => {
    const bytes = await whole(format)
    const edits = fc.array(fc.tuple(fc.nat(bytes.length - 1), fc.nat(255)), { minLength: 1, maxLength: 8 })
    await fc.assert(
      fc.asyncProperty(edits, async (altered) => (await outcomeOf(bytes, format, altered)) === 'fine'),
      { numRuns: Number(process.env.RUNS ?? 16) },
    )
  })

  test('a Parquet file whose lengths have the package count without end is refused', async () => {
    const rows = Array.from({ length: 12 }, (_, at) => [at, `text ${at}`, at % 2 === 0])
    const columns = [
      { name: 'n', type: 'integer' },
      { name: 'text', type: 'text' },
      { name: 'ok', type: 'boolean' },
    ]
    const { bytes } = await written(bookOf(rows, columns), 'parquet')
    const altered = Uint8Array.from(bytes)
    altered[14] = 225
    await expect(readTable([altered], 'parquet')).rejects.toThrow('its lengths make no sense')
  }, 60_000)

  // Lengths that make no sense are found out by the clock.
  test('arrow with altered bytes is read or refused, never worse', async () => {
    const bytes = await whole('arrow')
    for (const at of [8, 15, 31, 39, 400, bytes.length - 20]) expect(await outcomeOf(bytes, 'arrow', [[at, 92]])).toBe('fine')
  }, 60_000)

  /** What becomes of a file some of whose bytes are altered. */
  async function outcomeOf(bytes: Uint8Array, format: Typed, edits: readonly (readonly [number, number])[]): Promise<string> {
    const altered = Uint8Array.from(bytes)
    for (const [at, byte] of edits) altered[at] = byte
    const fault: unknown = await readTable([altered], format).then(
      () => null,
      (error: unknown) => error,
    )
    return fault === null || fault instanceof ReadFault ? 'fine' : String(fault)
  }

  test('16 000 columns in CSV are read, 17 000 are refused, both in little memory', async () => {
    const csv = (count: number): Uint8Array =>
      strToU8(`${Array.from({ length: count }, (_, at) => `c${at}`).join(',')}\n${'1,'.repeat(count - 1)}1\n`)
    const before = process.memoryUsage().arrayBuffers
    const read = await readTable([csv(16_000)], 'csv')
    expect([read.columns.length, read.rowCount]).toEqual([16_000, 1])
    expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(200e6)
    await expect(readTable([csv(17_000)], 'csv')).rejects.toThrow('line 1: the file has more than 16384 columns')
  })
})
