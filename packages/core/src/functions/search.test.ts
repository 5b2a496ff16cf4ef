import { describe, expect, test } from 'vitest'
import { FUNCTIONS, functionNamed } from './list.js'
import { searchFunctions, wayOfPhrase } from './search.js'

/** What people ask for in their own words, and the function that answers: one of those named comes first. */
const PHRASINGS: readonly (readonly [phrase: string, answers: string])[] = [
  ['convert degrees', 'radians degrees'],
  ['degrees to radians', 'radians'],
  ['radians to degrees', 'degrees'],
  ['month name', 'text'],
  ['name of the month', 'text'],
  ['remove spaces', 'trim single_spaces replace'],
  ['double spaces', 'single_spaces'],
  ['keep only digits', 'replace_pattern'],
  ['digits', 'replace_pattern round'],
  ['rolling average', 'moving_mean'],
  ['moving averages', 'moving_mean'],
  ['moving total', 'moving_sum'],
  ['first letter', 'left'],
  ['last letters', 'right'],
  ['bins', 'round_to'],
  ['fit', 'polynomial'],
  ['fitted curve', 'polynomial'],
  ['running total', 'cumulative_sum'],
  ['running balance', 'cumulative_sum'],
  ['average by group', 'mean'],
  ['average', 'mean'],
  ['total', 'sum'],
  ['add up', 'sum'],
  ['count unique values', 'count_distinct'],
  ['most common value', 'mode'],
  ['middle value', 'median'],
  ['standard deviation', 'stdev'],
  ['percent of total', 'share'],
  ['previous row', 'lag'],
  ['next row', 'lead'],
  ['change from previous', 'difference'],
  ['ranking', 'rank'],
  ['row number', 'row_number'],
  ['growth per day', 'derivative'],
  ['area under a curve', 'integral'],
  ['days between two dates', 'days_between'],
  ['working days', 'workdays_between'],
  ['business days', 'workdays_between'],
  ['add months', 'add_months'],
  ['end of month', 'end_of'],
  ['age in years', 'years_between'],
  ['week number', 'week'],
  ['text to date', 'parse_date'],
  ['format a date', 'text'],
  ['text to number', 'number'],
  ['uppercase', 'upper'],
  ['capitalise words', 'title_case'],
  ['join texts', 'join'],
  ['concatenate', 'concat'],
  ['split by comma', 'split_part'],
  ['first word', 'word'],
  ['find a text in another', 'position contains'],
  ['regular expression', 'matches capture replace_pattern'],
  ['pad with zeros', 'pad_start'],
  ['number of characters', 'length'],
  ['round up', 'round_up'],
  ['nearest five', 'round_to'],
  ['remainder', 'mod'],
  ['absolute value', 'abs'],
  ['default value for blanks', 'coalesce'],
  ['first non-blank', 'coalesce'],
  ['ignore errors', 'if_error'],
  ['look up a value in another table', 'lookup'],
  ['limit a value', 'clamp'],
  ['square root', 'sqrt'],
  ['random number', 'random random_between'],
  ["today's date", 'today'],
  ['weighted average', 'weighted'],
  ['correlation', 'correlation'],
]

test.each(PHRASINGS)('%s', (phrase, answers) => {
  const found = searchFunctions(phrase).map(({ name }) => name)
  expect(answers.split(' '), found.slice(0, 5).join(', ')).toContain(found[0])
})

test.each([
  ['average by group', 'by'],
  ['total per hive', 'by'],
  ['for each group', 'by'],
  ['sorted by date', 'order by'],
  ['in the order of another column', 'order by'],
  ['safe divide', 'per'],
  ['divide without error', 'per'],
  ['count if', 'where'],
  ['sum with a condition', 'where'],
])('%s is answered by a word: %s', (phrase, word) => expect(wayOfPhrase(phrase)?.word).toBe(word))

describe('a search', () => {
  test('finds every function by its own name, first', () => {
    for (const { name } of FUNCTIONS) expect(searchFunctions(name)[0]?.name).toBe(name)
  })
  test.each(['', 'x', '…', 'qwertz'])('for %j finds nothing', (phrase) => expect(searchFunctions(phrase)).toEqual([]))
  test('of a former name finds the function', () => expect(functionNamed('normalize_spaces')?.name).toBe('single_spaces'))
})
