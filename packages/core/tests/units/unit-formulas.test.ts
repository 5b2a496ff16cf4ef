import { expect, test } from 'vitest'
import { Workbook } from '../../src/index.js'
import { COLUMNS, UNIT_FORMULAS } from './unit-formulas.js'

function sampleBook(): Workbook {
  const columns = COLUMNS.split(/[|\n]/).map((text) => {
    const [named = '', unit] = text.split(' ')
    const [name = '', type = 'number'] = named.split(':')
    return { name, type, ...(unit !== undefined && { unit }) }
  })
  const book = new Workbook({ now: 0 })
  book.applyJson([
    { op: 'add-table', table: 'yard', columns },
    { op: 'insert-rows', table: 'yard', rows: [{ kg: 2, g: 3, day: '2026-03-01', until: '2026-03-15' }] },
  ])
  return book
}

const OF_UNITS: ReadonlySet<string> = new Set(['unlike-units', 'unit-differs', 'no-conversion', 'constant-expected'])

test('the list is as long as it is said to be', () => {
  expect(UNIT_FORMULAS.length).toBeGreaterThanOrEqual(200)
  expect(new Set(UNIT_FORMULAS.map(({ formula }) => formula)).size).toBe(UNIT_FORMULAS.length)
})

const book = sampleBook()

test.each(UNIT_FORMULAS)('$formula gives $gives', ({ formula, gives }) => {
  const { unit, findings } = book.previewColumn('yard', { name: 'result', formula })
  const said = findings.filter(({ code }) => OF_UNITS.has(code)).map(({ code }) => code)
  expect(said.length > 0 ? `? ${said.join(', ')}` : (unit ?? '-')).toBe(gives)
})
