import { describe, expect, test } from 'vitest'
import { resultOf } from '../../tests/helpers/one-row.js'
import { FUNCTION_FAMILIES, FUNCTIONS, functionNamed, searchFunctions } from './index.js'

describe.each(FUNCTIONS.map((record) => [record.name, record] as const))('%s', (_, record) => {
  test.each(record.examples.map((example) => [example.formula, example] as const))('%s', (formula, example) => {
    expect(resultOf(formula)).toEqual(example.fails === undefined ? example.gives : `!${example.fails}`)
  })

  test('is documented whole: every error has an example, the doc is a sentence', () => {
    const failing = new Set(record.examples.flatMap(({ fails }) => fails ?? []))
    // A text over a million characters is no example; tests/hostile.test.ts makes one.
    const shown = record.errors.filter((code) => code !== 'too-long' && !(record.name === 'quotient' && code === 'out-of-range'))
    for (const code of shown) expect(failing).toContain(code)
    expect(record.doc).toMatch(/^[A-Z0-9].*\.$/)
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
