import { CellFault, type ColumnPreview, type Operation, type ShownValue, Workbook } from '../../src/index.js'

/** A row that examples and tables of cases may use: one value of each kind, a blank, a zero. */
export const SAMPLE_COLUMNS = [
  { name: 'a', type: 'number', value: 7 },
  { name: 'b', type: 'number', value: 2 },
  { name: 'zero', type: 'number', value: 0 },
  { name: 'none', type: 'number', value: null },
  { name: 't', type: 'text', value: 'comb' },
  { name: 'no_text', type: 'text', value: null },
  { name: 'd', type: 'date', value: '2026-03-14' },
  { name: 'm', type: 'datetime', value: '2026-03-14T09:30:00' },
  { name: 'ok', type: 'boolean', value: true },
  { name: 'maybe', type: 'boolean', value: null },
  { name: 'wrong', type: 'number', value: { misfit: 'about 12' } },
] as const

/** A workbook with that one row. */
export function oneRowBook(): Workbook {
  const book = new Workbook({ now: Date.parse('2026-11-23T09:00:00Z') })
  const operations: Operation[] = [
    { op: 'add-table', table: 'sample', columns: SAMPLE_COLUMNS.map(({ name, type }) => ({ name, type })) },
    { op: 'insert-rows', table: 'sample', rows: [Object.fromEntries(SAMPLE_COLUMNS.map(({ name, value }) => [name, value]))] },
  ]
  book.apply(operations)
  return book
}

/** What a formula gives on that row: a value, null for blank, `!code` for an error, or the codes of its error findings. */
export function resultOf(formula: string, book: Workbook = oneRowBook()): ShownValue {
  const preview = previewOf(formula, book)
  const errors = preview.findings.filter((one) => one.severity === 'error')
  if (errors.length > 0) return `refused: ${errors.map((one) => one.code).join(' ')}`
  book.apply({ op: 'add-column', table: 'sample', column: { name: 'result', formula } })
  const value = book.table('sample').column('result').value(1) ?? null
  return value instanceof CellFault ? `!${value.code}` : value
}

/** The preview of a formula on that row. */
export function previewOf(formula: string, book: Workbook = oneRowBook()): ColumnPreview {
  return book.previewColumn('sample', { name: 'result', formula })
}
