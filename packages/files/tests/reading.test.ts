import { CellFault, Workbook } from 'mellow-abacus'
import { describe, expect, test } from 'vitest'
import { type FileTable, formatOfName, type ReadableFormat, ReadFault, type ReadingOptions, readTable } from '../src/index.js'

async function read(text: string | Uint8Array, format: ReadableFormat = 'csv', options: ReadingOptions = {}): Promise<FileTable> {
  return readTable([typeof text === 'string' ? new TextEncoder().encode(text) : text], format, options)
}

/** Columns as name, type and values. */
function picture(table: FileTable): [string, string | null, unknown[]][] {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 't',
      columns: table.columns.map(({ name, column }) => ({ name, ...(column !== null && { type: column.type }) })),
    },
    {
      op: 'insert-rows',
      table: 't',
      block: Object.fromEntries(table.columns.flatMap(({ name, column }) => (column === null ? [] : [[name, column]]))),
      count: table.rowCount,
    },
  ])
  return book.table('t').columns.map((column) => [column.name, column.type, column.values()])
}

const many = (good: string, bad: string, share: number): string =>
  `x\n${Array.from({ length: 100 }, (_, index) => (index < share ? bad : good)).join('\n')}\n`

describe('types are found from the cells', () => {
  test.each<[string, string, string | null]>([
    ['numbers', 'x\n1\n-2.5\n1e3\n', 'number'],
    ['zeros and ones', 'x\n0\n1\n', 'number'],
    ['leading zeros', 'x\n007\n12\n', 'text'],
    ['a zero and a half', 'x\n0\n0.5\n', 'number'],
    ['numbers beyond 2^53', 'x\n9007199254740993\n', 'text'],
    ['five misfits in a hundred', many('1', 'n/a', 5), 'number'],
    ['six misfits in a hundred', many('1', 'n/a', 6), 'text'],
    ['dates', 'x\n2026-03-14\n2028-02-29\n', 'date'],
    ['dates with a misfit too many', many('2026-03-14', '2026-02-30', 6), 'text'],
    ['date-times', 'x\n2026-03-14T09:30:00\n2026-03-14\n', 'datetime'],
    ['true and false', 'x\ntrue\nFALSE\n', 'boolean'],
    ['yes and no', 'x\nyes\nno\n', 'text'],
    ['nothing at all', 'x\n\n\n', null],
    ['a mixture', 'x\n1\ntrue\n2026-03-14\n', 'text'],
  ])('%s', async (_, text, type) => expect((await read(text)).columns[0]?.column?.type ?? null).toBe(type))

  test('a misfit keeps its text, a text column keeps numbers as written', async () => {
    expect(picture(await read(many('1', '1;5', 1)))[0]?.[2].slice(0, 2)).toEqual([new CellFault('misfit', '1;5'), 1])
    expect(picture(await read('x\n1.50\n+2\n-0\n1e2\n.5\n5.\nword\n'))).toEqual([
      ['x', 'text', ['1.50', '+2', '-0', '1e2', '.5', '5.', 'word']],
    ])
  })

  test.each<[string, ReadingOptions, string, unknown[]]>([
    ['a decimal comma', { decimal: ',', delimiter: ';' }, 'x;y\n1,5;2\n-0,25;3\n', [1.5, -0.25]],
    ['a declared text', { types: new Map([['x', { type: 'text' }]]) }, 'x\n1\n2.0\n', ['1', '2.0']],
    ['a declared integer', { types: new Map([['x', { type: 'integer' }]]) }, 'x\n1\n2.5\n', [1, new CellFault('misfit', '2.5')]],
    [
      'a declared date pattern',
      { types: new Map([['x', { type: 'date', pattern: 'd/M/yyyy' }]]) },
      'x\n14/3/2026\n2026-03-14\n',
      ['2026-03-14', new CellFault('misfit', '2026-03-14')],
    ],
    ['texts that mean blank', { blanks: ['n/a', '-'] }, 'x\nn/a\n-\n5\n', [null, null, 5]],
    ['a header further down', { headerRow: 3 }, 'Report\n\nx\n1\n', [1]],
    ['an offset in a zone', { zone: 'Europe/Oslo' }, 'x\n2026-07-01T10:00:00Z\n', ['2026-07-01T12:00:00']],
  ])('%s', async (_, options, text, values) => expect(picture(await read(text, 'csv', options))[0]?.[2]).toEqual(values))
})

describe('the text of a file', () => {
  test.each<[string, string | Uint8Array, unknown]>([
    [
      'a byte-order mark',
      '\ufeffa,b\n1,2\n',
      [
        ['a', 'number', [1]],
        ['b', 'number', [2]],
      ],
    ],
    [
      'Windows line ends',
      'a,b\r\n1,x\r\n2,"y\r\nz"\r\n',
      [
        ['a', 'number', [1, 2]],
        ['b', 'text', ['x', 'y\r\nz']],
      ],
    ],
    [
      'old line ends',
      'a,b\r1,2\r',
      [
        ['a', 'number', [1]],
        ['b', 'number', [2]],
      ],
    ],
    [
      'no line end at the end',
      'a,b\n1,2',
      [
        ['a', 'number', [1]],
        ['b', 'number', [2]],
      ],
    ],
    ['quotes', 'a\n"x, ""y"""\n"line\nbreak"\n', [['a', 'text', ['x, "y"', 'line\nbreak']]]],
    [
      'empty fields, quoted or not',
      'a,b\n"",\n',
      [
        ['a', null, [null]],
        ['b', null, [null]],
      ],
    ],
    ['one column with an empty cell', 'a\n1\n\n2\n', [['a', 'number', [1, null, 2]]]],
    [
      'empty lines between rows',
      'a,b\n\n1,2\n\n',
      [
        ['a', 'number', [1]],
        ['b', 'number', [2]],
      ],
    ],
    [
      'a header alone',
      'a,b\n',
      [
        ['a', null, []],
        ['b', null, []],
      ],
    ],
    ['spaces are kept', 'a\n x \n', [['a', 'text', [' x ']]]],
    ['UTF-16 with its mark', new Uint8Array(Buffer.from('\ufeffa\né\n', 'utf16le')), [['a', 'text', ['é']]]],
    [
      'odd names',
      '__proto__,2024,constructor\n1,2,3\n',
      [
        ['__proto__', 'number', [1]],
        ['2024', 'number', [2]],
        ['constructor', 'number', [3]],
      ],
    ],
  ])('%s', async (_, text, expected) => expect(picture(await read(text))).toEqual(expected))

  test('a delimiter is found in the header', async () => {
    const table = await read('a;b\n1;2\n')
    expect(picture(table)).toEqual([
      ['a', 'number', [1]],
      ['b', 'number', [2]],
    ])
    expect(table.findings).toMatchObject([{ code: 'guessed-delimiter', severity: 'hint' }])
  })

  test('short rows and unnamed columns are told', async () => {
    const table = await read('a,,c\n1\n1,2,3\n1,2\n')
    expect(picture(table)).toEqual([
      ['a', 'number', [1, 1, 1]],
      ['column_2', 'number', [null, 2, 2]],
      ['c', 'number', [null, 3, null]],
    ])
    expect(table.findings).toMatchObject([
      { code: 'unnamed-column' },
      { code: 'short-rows', severity: 'warning', rows: 2, parameters: { line: 2 } },
    ])
  })

  test.each<[string, string | Uint8Array, ReadingOptions, string]>([
    ['no bytes', '', {}, 'the file is empty'],
    ['only a line end', '\n', {}, 'line 1: expected a header'],
    ['a long row', 'a,b\n1,2\n"x\ny",2,3\n', {}, 'line 3: expected 2 cells'],
    ['a long row after line breaks in cells', 'a,b\n"x\ny\nz",2\n1,2,3\n', {}, 'line 5: expected 2 cells'],
    ['a quote never closed', 'a,b\n1,2\n"x,3\n4,5\n', {}, 'line 3: a quote is opened'],
    ['text after a quote', 'a,b\n"x"y,3\n', {}, 'line 2: there is text after a closing quote'],
    ['equal headers', 'a,b,a\n', {}, 'line 1: two columns are called a'],
    ['headers equal but for case', 'É,e\u0301\n', {}, 'differ only in case'],
    ['bytes of another encoding', new Uint8Array([97, 10, 98, 10, 0xe9, 10]), {}, 'line 3: these bytes are not utf-8'],
    ['an unknown encoding', 'a\n', { encoding: 'klingon' }, 'no encoding called klingon'],
    ['a type for no column', 'a\n1\n', { types: new Map([['b', { type: 'text' }]]) }, 'no such column'],
    ['a pattern that is none', 'a\n1\n', { types: new Map([['a', { type: 'date', pattern: 'Q' }]]) }, 'date pattern'],
    ['a header beyond the end', 'a\n1\n', { headerRow: 9 }, 'ends before line 9'],
  ])('%s is a fault with its place', async (_, text, options, message) => {
    await expect(read(text, 'csv', options)).rejects.toThrow(message)
    await expect(read(text, 'csv', options)).rejects.toBeInstanceOf(ReadFault)
  })

  test('cut anywhere, the bytes read the same', async () => {
    const text = 'a,b\n"é🐝\r\n""x""",1.50\r\n,2\r\nplain,3\r\n'
    const bytes = new TextEncoder().encode(text)
    const whole = picture(await read(bytes))
    for (let size = 1; size < bytes.length; size++) {
      const chunks = Array.from({ length: Math.ceil(bytes.length / size) }, (_, index) =>
        bytes.slice(index * size, (index + 1) * size),
      )
      expect(picture(await readTable(chunks, 'csv'))).toEqual(whole)
    }
  })

  test('a cell of twenty megabytes, read in pieces', async () => {
    const cell = new TextEncoder().encode('x'.repeat(1 << 16))
    const chunks = [
      new TextEncoder().encode('a,b\n1,"'),
      ...Array.from({ length: 320 }, () => cell),
      new TextEncoder().encode('"\n2,y\n'),
    ]
    const [, [, type, values]] = picture(await readTable(chunks, 'csv')) as [unknown, [string, string, string[]]]
    expect([type, values.map((value) => value.length)]).toEqual(['text', [320 * 65_536, 1]])
  })
})

test('finished storage is plain JSON like any other cells', async () => {
  const table = await read('n,d,s\n1,2026-03-14,x\nn/a,,\n', 'csv', { types: new Map([['n', { type: 'number' }]]) })
  expect(JSON.parse(JSON.stringify(table.columns.map(({ column }) => column)))).toEqual([
    [1, { misfit: 'n/a' }],
    ['2026-03-14', null],
    ['x', null],
  ])
})

describe('JSON', () => {
  test.each<[string, ReadableFormat, string, unknown]>([
    [
      'an array of objects',
      'json',
      '[{"a":1,"b":"x"},{"b":"y","a":2.5}]',
      [
        ['a', 'number', [1, 2.5]],
        ['b', 'text', ['x', 'y']],
      ],
    ],
    ['an object a line', 'ndjson', '{"a":1}\n\n{"a":2}\r\n', [['a', 'number', [1, 2]]]],
    ['no line end at the end', 'ndjson', '{"a":1}\n{"a":2}', [['a', 'number', [1, 2]]]],
    [
      'keys keep their order',
      'json',
      '[{"x":1,"2024":2,"__proto__":3}]',
      [
        ['x', 'number', [1]],
        ['2024', 'number', [2]],
        ['__proto__', 'number', [3]],
      ],
    ],
    [
      'missing keys and null are blank',
      'json',
      '[{"a":1},{"b":true},{"a":null,"b":false}]',
      [
        ['a', 'number', [1, null, null]],
        ['b', 'boolean', [null, true, false]],
      ],
    ],
    [
      'texts stay texts',
      'json',
      '[{"a":"5","b":"","c":"true"}]',
      [
        ['a', 'text', ['5']],
        ['b', 'text', ['']],
        ['c', 'text', ['true']],
      ],
    ],
    ['dates are texts that fit', 'json', '[{"a":"2026-03-14"}]', [['a', 'date', ['2026-03-14']]]],
    [
      'nested values are kept as JSON',
      'json',
      '[{"a":{"x":[1,"y"]},"b":1}]',
      [
        ['a', 'text', ['{"x":[1,"y"]}']],
        ['b', 'number', [1]],
      ],
    ],
    ['no rows', 'json', '[]', []],
  ])('%s', async (_, format, text, expected) => expect(picture(await read(text, format))).toEqual(expected))

  test.each<[string, ReadableFormat, string, string]>([
    ['no bytes', 'json', '', 'the file is empty'],
    ['an object', 'json', '{"a":1}', 'expected an array of objects'],
    ['numbers', 'json', '[1]', 'found the value 1'],
    ['lists', 'json', '[[1]]', 'found a list'],
    ['broken text', 'json', '[{"a":}]', 'expected a value'],
    ['a cut file', 'json', '[{"a":1}', 'in the middle of its array'],
    ['a broken line', 'ndjson', '{"a":1}\n{"a":}\n', 'line 2: expected a value'],
    ['a missing colon', 'json', '[{"a" 1}]', 'expected ":"'],
    ['a missing comma', 'json', '[{"a":1} {"a":2}]', 'expected "," or "]"'],
    ['a comma too many', 'json', '[{"a":1,}]', 'expected a key'],
    ['broken nested values', 'json', '[{"a":[1,]}]', 'not JSON'],
    ['more behind the array', 'json', '[]{}', 'expected the end'],
    ['a cut line', 'ndjson', '{"a":1}\n{"a":2', 'in the middle of a row'],
    ['a key twice', 'json', '[{"a":1,"a":2}]', 'row 1 has the key "a" twice'],
    ['keys that differ in case', 'json', '[{"a":1},{"A":2}]', 'differ only in case'],
  ])('%s is a fault', async (_, format, text, message) => {
    await expect(read(text, format)).rejects.toThrow(message)
    await expect(read(text, format)).rejects.toBeInstanceOf(ReadFault)
  })
})

test.each([
  ['a.csv', 'csv'],
  ['b.TSV', 'tsv'],
  ['c.tab', 'tsv'],
  ['d.jsonl', 'ndjson'],
  ['e.ndjson', 'ndjson'],
  ['f.txt', undefined],
  ['g', undefined],
])('%s is %s by its name', (name, format) => expect(formatOfName(name)).toBe(format))
