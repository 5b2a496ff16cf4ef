import {
  Decimal,
  Field,
  Int64,
  List,
  makeBuilder,
  Table,
  TimestampMicrosecond,
  tableToIPC,
  Utf8View,
  type Vector,
  vectorFromArray,
} from 'apache-arrow'
import ExcelJS from 'exceljs'
import { CellFault, Workbook } from 'mellow-abacus'
import { describe, expect, test } from 'vitest'
import { type FileTable, type ReadableFormat, ReadFault, readTable, writeTable } from '../src/index.js'

/** Values that a reader could easily make others of: each comes as it is, or what is lost of it is told. */

const cells = ({ columns }: FileTable): unknown[] =>
  columns.map(({ column }) =>
    Array.from({ length: column === null ? 0 : column.valueCount + column.blankCount + column.faultCount() }, (_, row) => {
      const cell = column?.read(row)
      return cell instanceof CellFault ? `!${cell.text}` : cell
    }),
  )
const codes = ({ findings }: FileTable): string[] => findings.map(({ code }) => code)
const text = (content: string, format: ReadableFormat, options = {}): Promise<FileTable> =>
  readTable([Buffer.from(content)], format, options)

describe('Arrow', () => {
  const read = (columns: Record<string, Vector>): Promise<FileTable> => readTable([tableToIPC(new Table(columns))], 'arrow')
  const decimals = (scale: number, values: readonly (bigint | null)[]): Vector => {
    const builder = makeBuilder({ type: new Decimal(scale, 38, 128), nullValues: [null] })
    for (const value of values) {
      const words =
        value === null ? null : Uint32Array.from({ length: 4 }, (_, at) => Number((value >> BigInt(32 * at)) & 0xffff_ffffn))
      builder.append(words as never)
    }
    return builder.finish().toVector()
  }

  test.each<[number, (bigint | null)[], unknown[], string[]]>([
    [2, [12345n, -12345n, 5n, 0n, null], [123.45, -123.45, 0.05, 0, null], []],
    [0, [7n, 2n ** 53n + 1n], [7, '!9007199254740993'], []],
    [3, [1234567890123456789n], [1234567890123456.8], ['rounded-numbers']],
  ])('decimals of scale %i', async (scale, values, expected, told) => {
    const table = await read({ d: decimals(scale, values) })
    expect(cells(table)[0]).toEqual(expected)
    expect(codes(table)).toEqual(told)
  })

  test('times finer than a millisecond are cut, which is told', async () => {
    const builder = makeBuilder({ type: new TimestampMicrosecond(), nullValues: [null] })
    for (const time of [1000, 1234.567]) builder.append(time)
    const table = await read({ t: builder.finish().toVector() })
    expect(cells(table)[0]).toEqual([1000, 1234])
    expect(codes(table)).toEqual(['cut-times'])
  })

  test('whole numbers in lists stay numbers, with all their digits', async () => {
    const list = vectorFromArray([[1n, 2n], [9007199254740993n]], new List(new Field('i', new Int64())))
    expect(cells(await read({ l: list }))[0]).toEqual(['[1,2]', '[9007199254740993]'])
  })

  test('texts in views are texts', async () => {
    const vector = vectorFromArray(['a "quoted" one', 'another one that is longer than twelve bytes', null], new Utf8View())
    expect(cells(await read({ v: vector }))[0]).toEqual(['a "quoted" one', 'another one that is longer than twelve bytes', null])
  })
})

describe('JSON', () => {
  test.each<[string, ReadableFormat, unknown[]]>([
    ['[{"a":9007199254740993},{"a":9007199254740992}]', 'json', ['9007199254740993', '9007199254740992']],
    ['{"a":12345678901234567890}\n{"a":1e300}\n', 'ndjson', ['12345678901234567890', '1e+300']],
    ['[{"a":[9007199254740993,1.10]}]', 'json', ['[9007199254740993,1.10]']],
  ])('%s keeps its digits', async (content, format, expected) => {
    expect(cells(await text(content, format))[0]).toEqual(expected)
  })

  test('half of a character is mended, which is told, in values and in keys', async () => {
    const table = await text('[{"a":"x\\ud800y"},{"a":"z","b\\udc00":1}]', 'json')
    expect(cells(table)[0]).toEqual(['x\ufffdy', 'z'])
    expect(table.columns.map(({ name }) => name)).toEqual(['a', 'b\ufffd'])
    expect(codes(table)).toEqual(['mended-text'])
  })

  test('an empty text is no blank', async () => {
    expect(cells(await text('[{"a":""},{"a":null},{"a":"x"}]', 'json'))[0]).toEqual(['', null, 'x'])
  })

  test('rows that share no keys are refused before memory is gone', async () => {
    const rows = Array.from({ length: 16_000 }, (_, row) => `{"k${row}":1}`).join('\n')
    await expect(text(rows, 'ndjson')).rejects.toThrow(ReadFault)
    await expect(text(rows, 'ndjson')).rejects.toThrow(/different keys/)
  })
})

describe('XLSX', () => {
  const sheet = async (rows: readonly (readonly unknown[])[]): Promise<FileTable> => {
    const book = new ExcelJS.Workbook()
    const made = book.addWorksheet('s')
    for (const row of rows) made.addRow([...row])
    return readTable([new Uint8Array(await book.xlsx.writeBuffer())], 'xlsx')
  }

  test('an error of the program that wrote it is no text that its column goes by', async () => {
    const table = await sheet([['kg'], [1.5], [{ error: '#DIV/0!' }], [2.5]])
    expect(table.columns[0]?.column?.type).toBe('number')
    expect(cells(table)[0]).toEqual([1.5, '!#DIV/0!', 2.5])
    expect((await sheet([['kg'], [{ error: '#N/A' }]])).columns[0]?.column?.type).toBe('text')
  })

  test('formulas without a saved value are blank, which is told', async () => {
    const table = await sheet([
      ['kg', 'jars'],
      [1.5, { formula: 'A2*2' }],
      [2.5, { formula: 'A3*2', result: 5 }],
    ])
    expect(cells(table)).toEqual([
      [1.5, 2.5],
      [null, 5],
    ])
    expect(table.findings.map(({ message }) => message)).toEqual([
      '1 cell of jars without a value: a formula whose result was not saved is blank here.',
    ])
  })
})

test('what programs may take for formulas is neutralised: behind white space, in full width, in headings', async () => {
  const texts = ['=1', '+1', '-1', '@x', '\n=1', ' \t=1', '\uff1d1', '\uff0b1', 'plain', 'a=1']
  const book = new Workbook()
  book.apply([
    { op: 'add-table', table: 't', columns: [{ name: '=head', type: 'text' }] },
    { op: 'insert-rows', table: 't', block: { '=head': texts } },
  ])
  const parts: string[] = []
  await writeTable(book.query({ table: 't' }), 'csv', (bytes) => void parts.push(Buffer.from(bytes).toString()), {
    neutralize: true,
  })
  const read = await text(parts.join(''), 'csv')
  expect([read.columns[0]?.name, ...(cells(read)[0] as string[])]).toEqual([
    "'=head",
    ...texts.map((one) => (['plain', 'a=1'].includes(one) ? one : `'${one}`)),
  ])
})
