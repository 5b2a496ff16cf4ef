import { describe, expect, test } from 'vitest'
import { checkFormula, parseFormula } from '../src/formula/index.js'
import { combScopes } from './helpers/book-of-tables.js'

/** The parser always gives a tree and goes on behind a mistake, so that one look finds what is wrong. */

const told = (formula: string): string[] =>
  checkFormula(parseFormula(formula), combScopes('inspections')).findings.map(
    ({ code, from = 0, to = 0 }) => `${code} ${formula.slice(from, to)}`,
  )

describe('several mistakes in one formula', () => {
  test.each<[string, string[]]>([
    ['mitse + tempr', ['unknown-name mitse', 'unknown-name tempr']],
    ['.5 + mites % 2', ['bad-number .5', 'unknown-character %', 'unexpected-text 2']],
    ['upper(mites) & lower(nope)', ['type-mismatch mites', 'unknown-name nope']],
    ['sum(every wether.x) + sum(every rates.prise)', ['unknown-table wether', 'unknown-name prise']],
    ['weighted(brood at mites, temper, nope at 10%)', ['constant-expected mites', 'amount-expected temper', 'unknown-name nope']],
    ["start_of(seen, 'moth') = parse_date(notes, hive)", ["unusable-text 'moth'", 'constant-expected hive']],
    ['round(mites where ok) + lag(mites via hive)', ['misplaced-clause where ok', 'misplaced-clause via hive']],
    ['case when mites then nope else 5. end', ['type-mismatch mites', 'unknown-name nope', 'bad-number 5.']],
    ['hive.aparies.x + nowhere.y', ['unexpected-qualifier hive.aparies.x', 'unexpected-qualifier nowhere.y']],
    ["mites in ('a', 2) or hive < 3", ["type-mismatch 'a'", 'type-mismatch hive']],
  ])('%s', (formula, expected) => expect(told(formula)).toEqual(expected))
})

test('after twenty the rest are counted, and still block when there is an error among them', () => {
  const many = told(Array.from({ length: 50 }, (_, index) => `nope${index}`).join(' + '))
  expect(many).toHaveLength(21)
  expect(many.at(-1)).toMatch(/^more-errors nope20 \+ .* nope49$/)
  const remarks = told(Array.from({ length: 30 }, () => 'hive & notes').join(" & '-' & "))
  expect(remarks.at(-1)).toMatch(/^more-remarks /)
})

describe('one mistake is told once', () => {
  test.each<[string, string[]]>([
    ['round(nope, nope2) + 1', ['unknown-name nope', 'unknown-name nope2']],
    ['if(mites > 1, 2', ['unclosed-parenthesis (']],
    ['sum(every nowhere.x where y > 1 by z)', ['unknown-table nowhere']],
    ['nosuch(mites, nope where ok)', ['unknown-function nosuch']],
    ['(nope + 1) * 2 > 3 and not nope', ['unknown-name nope', 'unknown-name nope']],
    ['let x = nope in x + x * x', ['unknown-name nope']],
    ['mean_of(#none) + 1', ['unknown-tag #none']],
    ["capture(notes, '(') & 'x'", ["unusable-text '('"]],
  ])('%s', (formula, expected) => expect(told(formula)).toEqual(expected))
})

describe('a clause of the wrong call, left unfinished, or twice', () => {
  test.each([
    ['sum(mites where)', 'expected-value'],
    ['sum(mites by)', 'expected-value'],
    ['sum(mites order mites)', 'expected-word'],
    ['sum(mites via)', 'expected-word'],
    ['lag(mites order by seen order by hive)', 'misplaced-clause'],
    ['count(where ok where ok)', 'misplaced-clause'],
    ['mean_of(mites, blanks as nothing)', 'expected-word'],
    ['weighted(mites at)', 'expected-value'],
    ['points_of(mites out 5)', 'expected-word'],
    ['count(every)', 'expected-value'],
    ['every', 'unknown-name'],
    ['hive.', 'expected-value'],
  ])('%s: %s', (formula, code) => expect(told(formula).join()).toContain(code))
})
