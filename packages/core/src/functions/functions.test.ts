import { describe, expect, test } from 'vitest'
import { resultOf } from '../../tests/helpers/one-row.js'
import { CellFault, Workbook } from '../index.js'
import { FUNCTION_FAMILIES } from './define.js'
import type { FunctionExample } from './guide.js'
import { guideOf } from './guides.js'
import { FUNCTIONS, functionNamed } from './list.js'
import { searchFunctions } from './search.js'

/** A workbook with the table that an example of several rows runs over. */
function tableOf(example: FunctionExample): Workbook {
  const columns = Object.entries(example.over ?? {})
  const rows = (columns[0]?.[1] ?? []).map((_, row) => Object.fromEntries(columns.map(([name, values]) => [name, values[row]])))
  const book = new Workbook()
  book.apply({ op: 'add-table', table: 't', columns: columns.map(([name]) => ({ name })) })
  book.apply({ op: 'insert-rows', table: 't', rows })
  return book
}

describe.each(FUNCTIONS.map((record) => [record.name, record] as const))('%s', (_, record) => {
  const { doc, examples } = guideOf(record)
  const ofOneRow = examples.filter(({ over }) => over === undefined)
  test.each(ofOneRow.map((example) => [example.formula, example] as const))('%s', (formula, example) => {
    expect(resultOf(formula)).toEqual(example.fails === undefined ? example.gives : `!${example.fails}`)
  })

  const ofRows = examples.filter(({ over }) => over !== undefined)
  test.each(ofRows.map((example) => [example.formula, example] as const))('%s over rows', (formula, example) => {
    const book = tableOf(example)
    book.apply({ op: 'add-column', table: 't', column: { name: 'result', formula } })
    const column = book.table('t').column('result')
    const shown = column.values().map((value) => (value instanceof CellFault ? `!${value.code}` : value))
    if (example.givesRows !== undefined) expect(shown).toEqual(example.givesRows)
    else if (example.fails !== undefined) expect(shown).toContain(`!${example.fails}`)
    else expect(shown).toEqual(shown.map(() => example.gives))
  })

  test('is documented whole: every error has an example, the doc is a sentence', () => {
    const failing = new Set(examples.flatMap(({ fails }) => fails ?? []))
    // A text over a million characters is no example; tests/hostile.test.ts makes one.
    const shown = record.errors.filter((code) => code !== 'too-long' && !(record.name === 'quotient' && code === 'out-of-range'))
    for (const code of shown) expect(failing).toContain(code)
    expect(doc).toMatch(/^[A-Z0-9].*\.$/)
    expect(FUNCTION_FAMILIES).toContain(record.family)
  })
})

test('names are different and found in any case', () => {
  expect(new Set(FUNCTIONS.map(({ name }) => name)).size).toBe(FUNCTIONS.length)
  expect(functionNamed('ROUND')?.name).toBe('round')
})

test.each([
  ['split a name', 'split_part'],
  ['leading zeros', 'pad_start'],
  ['day of the week', 'weekday'],
  ['regular expression', 'matches'],
  ['default value', 'coalesce'],
])('the search for "%s" finds %s', (words, name) => {
  expect(searchFunctions(words).map((record) => record.name)).toContain(name)
})

test('the search finds nothing for words that mean nothing here', () => {
  expect(searchFunctions('photosynthesis')).toEqual([])
  expect(searchFunctions('')).toEqual([])
})
