import { describe, expect, test } from 'vitest'
import { parseFormula, type Syntax } from '../src/formula/index.js'
import { oneRowBook, previewOf, resultOf } from './helpers/one-row.js'

/** Columns of the one row: a 7, b 2, zero 0, none blank, t 'comb', no_text blank, d 2026-03-14, m 09:30, ok true, maybe blank, wrong a misfit. */
type Case = readonly [formula: string, gives: unknown]

function table(title: string, cases: readonly Case[]): void {
  describe(title, () => {
    const book = (): ReturnType<typeof oneRowBook> => oneRowBook()
    test.each(cases)('%s', (formula, gives) => expect(resultOf(formula, book())).toEqual(gives))
  })
}

table('§1 literals', [
  ['12', 12],
  ['3.5', 3.5],
  ['1e-3', 0.001],
  ['20%', 0.2],
  ['0.07%', 0.0007],
  ['1e2%', 1],
  ["'it''s'", "it's"],
  ['"say ""so"""', 'say "so"'],
  ["'a\\b'", 'a\\b'],
  ['@2026-03-14', '2026-03-14'],
  ['@2026-03-14T09:30:00', '2026-03-14T09:30:00'],
  ['@2026-03-14T09:30', '2026-03-14T09:30:00'],
  ['true', true],
  ['FALSE', false],
  ['blank', null],
  ['1 // a comment\n + 1', 2],
  ['\n1\n+\n1\n', 2],
  ["'two\nlines'", 'two\nlines'],
])

table('§1 what is no literal says so', [
  ['.5', 'refused: bad-number'],
  ['5.', 'refused: bad-number'],
  ['2x', 'refused: bad-number'],
  ['1e999', 'refused: bad-number'],
  ['a%', 'refused: unknown-character'],
  ['@2026-02-30', 'refused: bad-date'],
  ['@2026', 'refused: bad-date'],
  ["'abc", 'refused: unclosed-quote'],
  ['`a', 'refused: unclosed-name'],
  ['', 'refused: empty-formula'],
  ['// only a comment', 'refused: empty-formula'],
  ['#tests', 'refused: not-here'],
])

table('§1 names', [
  ['A', 7],
  ['`a`', 7],
  ['`A` + 1', 8],
  ['Not OK', false],
  ['if', 'refused: reserved-word'],
  ['`if`', 'refused: unknown-name'],
  ['nope', 'refused: unknown-name'],
  ['sample.a', 'refused: unexpected-qualifier'],
  ['nope(1)', 'refused: unknown-function'],
  ['LENGTH(t)', 4],
])

table('§2 order of operators', [
  ['1 + 2 * 3', 7],
  ['(1 + 2) * 3', 9],
  ['8 - 3 - 2', 3],
  ['8 / 4 / 2', 1],
  ['2 ^ 3 ^ 2', 512],
  ['-2 ^ 2', -4],
  ['(-2) ^ 2', 4],
  ['2 ^ -1', 0.5],
  ['- - 3', 3],
  ['+3', 3],
  ['-a + b', -5],
  ['1 + 2 & 3', '33'],
  ['none ?? 1 = 1', true],
  ['1 < 2 and 2 < 3 or false', true],
  ['not false and false', false],
  ['not a = b', true],
  ['false or true and false', false],
  ['a between 1 and 9 and true', true],
  ['100 * a per b ?? 0', 350],
  ['1 = 1 = true', 'refused: chained-comparison'],
  ['1 < a < 9', 'refused: chained-comparison'],
])

table('§2 powers', [
  ['0 ^ 0', 1],
  ['0 ^ -1', '!division-by-zero'],
  ['0 ^ -0.5', '!division-by-zero'],
  ['(-8) ^ 0.5', '!out-of-range'],
  ['10 ^ -5', 0.00001],
  ['10 ^ 400', '!out-of-range'],
  ['10 ^ -400', 0],
  ['none ^ 2', null],
  ['3 ^ 33', 5559060566555523],
])

table('§2 division', [
  ['a / b', 3.5],
  ['a / zero', '!division-by-zero'],
  ['zero / zero', '!division-by-zero'],
  ['none / 0', null],
  ['a per zero', null],
  ['a per none', null],
  ['a per b', 3.5],
  ['0 / -5', 0],
  ['none per 0', null],
])

table('§2 and, or, not are three-valued and decided', [
  ['ok and maybe', null],
  ['false and maybe', false],
  ['maybe and false', false],
  ['true or maybe', true],
  ['maybe or true', true],
  ['maybe or false', null],
  ['not maybe', null],
  ['false and 1 / 0 = 1', false],
  ['1 / 0 = 1 and false', false],
  ['true or 1 / 0 = 1', true],
  ['maybe and 1 / 0 = 1', '!division-by-zero'],
  ['sqrt(-1) = 1 or 1 / 0 = 1', '!out-of-range'],
])

table('§2 comparisons', [
  ['a = 7', true],
  ['a <> 7', false],
  ['a != 7', false],
  ['none = 1', null],
  ['none <> 1', null],
  ["t < 'comc'", true],
  ["'Z' < 'a'", true],
  ["'\u{1f41d}' > '\uff21'", true],
  ['ok = true', true],
  ['ok < false', 'refused: type-mismatch'],
  ['d = @2026-03-14', true],
  ['d < m', true],
  ['m >= d', true],
  ['a = t', 'refused: type-mismatch'],
  ["'5' * 2", 'refused: type-mismatch'],
  ['ok + 1', 'refused: type-mismatch'],
])

table('§2 between and in', [
  ['a between 7 and 9', true],
  ['a not between 7 and 9', false],
  ['none between 1 and 2', null],
  ['a between none and 5', false],
  ['a between none and 9', null],
  ['a between 1 and 3 or true', true],
  ['a in (1, 7)', true],
  ['a not in (1, 7)', false],
  ['a in (1, none, 7)', true],
  ['a in (1, none)', false],
  ['a in (none)', false],
  ['a in ()', false],
  ['none in (1)', null],
  ['none in ()', null],
  ['a in (7, 1 / 0)', true],
  ['a in (1, 1 / 0)', '!division-by-zero'],
  ["t in ('comb', 'frame')", true],
  ["a in (1, 'x')", 'refused: type-mismatch'],
  ['wrong in (1)', '!misfit'],
])

table('§2 is', [
  ['none is blank', true],
  ['a is not blank', true],
  ['a is blank', false],
  ['wrong is error', true],
  ['none is error', false],
  ['wrong is not error', false],
  ['wrong is blank', '!misfit'],
  ["'' is blank", false],
])

table('§2 ?? and &', [
  ['none ?? 5', 5],
  ['a ?? 5', 7],
  ['none ?? none ?? 3', 3],
  ['wrong ?? 5', '!misfit'],
  ['a ?? 1 / 0', 7],
  ['none ?? (1 + 2)', 3],
  ["none ?? 'x'", 'refused: type-mismatch'],
  ["a ?? 'x'", 'refused: type-mismatch'],
  ["t & '-' & a", 'comb-7'],
  ['no_text & none', null],
  ["no_text & 'x'", 'x'],
  ['0.1 + 0.2 & ""', '0.3'],
  ["d & ' ' & ok", '2026-03-14 true'],
  ['m & ""', '2026-03-14T09:30:00'],
  ['t & wrong', '!misfit'],
])

table('§2 choices', [
  ["if(a > b, 'more', 'less')", 'more'],
  ["if(maybe, 'yes', 'no')", 'no'],
  ["if(1 / 0 = 1, 'yes', 'no')", '!division-by-zero'],
  ['if(ok, 1, 1 / 0)', 1],
  ["if(ok, 1, 'x')", 'refused: branch-types'],
  ['if(ok, blank, 1)', null],
  ["case when a < 5 then 'low' when a < 10 then 'mid' else 'high' end", 'mid'],
  ['case when a < 5 then 1 end', null],
  ["case a when 7 then 'seven' when 8 then 'eight' end", 'seven'],
  ["case none when blank then 'b' else 'other' end", 'other'],
  ['case when wrong > 1 then 1 else 2 end', '!misfit'],
  ['case when ok then 1 when wrong > 1 then 2 end', 1],
  ['case when 1 then 2 end', 'refused: type-mismatch'],
  ['if(ok, d, m)', '2026-03-14T00:00:00'],
  ['case when ok then 1', 'refused: expected-word'],
  ["if(a > 100, 'x', if(a > 6, 'y', 'z'))", 'y'],
])

table('§2 named steps', [
  ['let net = a - b in net * net', 25],
  ['let x = 1 in let y = x + 1 in x + y', 3],
  ['let A = 1 in a', 1],
  ['let x = (a in (7)) in x', true],
  ['let s = case when a in (7) then 1 else 0 end in s + 1', 2],
  ['let x = a in x in (7, 8)', true],
  ['let x = none in x is blank', true],
  ['(let x = 1 in x) + a', 8],
  ['let x = 1 in let x = 2 in x', 2],
  ['let x = a in if(ok, x, x + 1) + x', 14],
  ['let = 1 in 2', 'refused: expected-word'],
])

table('§3 blanks and errors pass', [
  ['none + 1', null],
  ['1 - none', null],
  ['none * 1 / 0', null],
  ['wrong + none', '!misfit'],
  ['none + wrong', '!misfit'],
  ['sqrt(-1) + 1 / 0', '!out-of-range'],
  ['1 / 0 + sqrt(-1)', '!division-by-zero'],
  ['upper(no_text)', null],
  ['if_error(wrong, 5)', 5],
  ['if_error(none, 5)', null],
  ['coalesce(none, wrong)', '!misfit'],
  ['1e308 * 10', '!out-of-range'],
  ['-1e308 - 1e308', '!out-of-range'],
  ['5e-324 / 2', 0],
  ['0 * -1', 0],
  ['round(-0.4)', 0],
  ['-zero', 0],
  ['wrong = wrong', '!misfit'],
])

table('§3 dates reckon', [
  ['d + 1', '2026-03-15'],
  ['1 + d', '2026-03-15'],
  ['d - 14', '2026-02-28'],
  ['d + 0.5', '!out-of-range'],
  ['m + 0.5', '2026-03-14T21:30:00'],
  ['0.5 + m', '2026-03-14T21:30:00'],
  ['m - 0.5', '2026-03-13T21:30:00'],
  ['@2026-03-16 - d', 2],
  ['m - d', 9.5 / 24],
  ['d - m', -9.5 / 24],
  ['d + d', 'refused: type-mismatch'],
  ['d * 2', 'refused: type-mismatch'],
  ['1 - d', 'refused: type-mismatch'],
  ['@9999-12-31 + 1', '!out-of-range'],
  ['d - none', null],
  ['d + 1 - d', 1],
  ['d + 2 - m + 1', 2 - 9.5 / 24 + 1],
  ['coalesce(blank, d, m)', '2026-03-14T00:00:00'],
])

table('§5 arguments are counted and typed', [
  ['round()', 'refused: argument-count'],
  ['round(1, 2, 3)', 'refused: argument-count'],
  ['pi(1)', 'refused: argument-count'],
  ["round('x')", 'refused: type-mismatch'],
  ['length(a)', 'refused: type-mismatch'],
  ['year(a)', 'refused: type-mismatch'],
  ['concat()', 'refused: argument-count'],
  ["blank_if(1, 'x')", 'refused: type-mismatch'],
  ['add_days(m, 1)', '2026-03-15T09:30:00'],
  ['year(m)', 2026],
  ['days_between(d, m + 1)', 1],
  ['today()', '2026-11-23'],
  ['now()', '2026-11-23T09:00:00'],
])

table('§1 words that are keywords only where their construct stands', [
  ['let where = 1 in where + 1', 2],
  ['let every = 1 in every', 1],
  ['let desc = 1 in round(desc)', 1],
  ['let at = 2 in weighted(at at 100%)', 2],
  ['let out = 5 in points_of(out out of 10)', 0.5],
  ['let blanks = 1 in sum_of(blanks, none, blanks as zero)', 1],
  ['let this = 1 in this', 1],
  ['this.a', 7],
  ['let sum = 1 in sum', 1],
  ['let `case` = 1 in `case`', 1],
  ['t.case', 'refused: unexpected-qualifier reserved-word'],
])

describe('warnings with their places', () => {
  test.each([
    ['a ?? b + 1', 'unclear-precedence', 5, 10],
    ['a = blank', 'compared-with-blank', 0, 9],
    ['1 + sqrt(-1)', 'always-fails', 4, 12],
    ['a / zero', 'division-by-zero', 4, 8],
    ["if(none > 1, 'x', 'y')", 'blank-falls-through', 3, 11],
    ["case when none > 1 then 'x' else 'y' end", 'blank-falls-through', 10, 18],
    ["case none when 1 then 'x' else 'y' end", 'blank-falls-through', 5, 9],
    ["if(a > 99, 'x', if(none > 1, 'y', 'z'))", 'blank-falls-through', 3, 9],
  ])('%s: %s', (formula, code, from, to) => {
    const found = previewOf(formula).findings.find((one) => one.code === code)
    expect([found?.severity, found?.from, found?.to]).toEqual(['warning', from, to])
  })

  test.each([
    "case when none is blank then 'b' when none > 1 then 'x' else 'y' end",
    "if(none > 1, 'x', blank)",
    "case when none > 1 then 'x' end",
    "if(a > 1, 'x', 'y')",
    "if(none > 1, 'x', if(none is blank, 'b', 'y'))",
    'a per zero',
    'a / b',
    '(a ?? b) + 1',
    'a + b ?? 1',
    'if_error(1 / 0, 5)',
    'sqrt(-1) is error',
  ])('nothing to say about %s', (formula) => expect(previewOf(formula).findings).toEqual([]))
})

describe('several mistakes are found at once', () => {
  test('in one formula', () => {
    const codes = previewOf('nope + .5 + round() + mite').findings.map((one) => one.code)
    expect(codes).toEqual(['unknown-name', 'bad-number', 'argument-count', 'unknown-name'])
  })
  test('a mistake is not reported again by what is built on it', () => {
    expect(previewOf("upper(nope) & (nope2 * 'x')").findings.map((one) => one.code)).toEqual(['unknown-name', 'unknown-name'])
  })
})

describe('a tree is always given', () => {
  const shape = (node: Syntax): string =>
    node.kind === 'chain'
      ? `(${[shape(node.first), ...node.rest.map((link) => link.operator + shape(link.operand))].join(' ')})`
      : node.kind
  test.each([
    ['a +', '(name +missing)'],
    ['a + * b', '(name +name)'],
    [')', 'missing'],
    ['case when then end', 'case'],
    ['a b', 'name'],
    ['let', 'let'],
    ['round(', 'call'],
    ['a.', 'name'],
    ['not', 'unary'],
    ['a in', 'in'],
    ['a between 1', 'between'],
    ['a is', 'is'],
  ])('%s', (text, expected) => {
    const { tree, findings } = parseFormula(text)
    expect(shape(tree)).toBe(expected)
    expect(findings.length).toBeGreaterThan(0)
  })
})
