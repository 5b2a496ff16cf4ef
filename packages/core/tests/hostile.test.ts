import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { checkFormula, completeFormula, explainFormula, formatFormula, parseFormula, tokenKinds } from '../src/formula/index.js'
import { Workbook } from '../src/index.js'
import { combScopes } from './helpers/book-of-tables.js'
import { previewOf, resultOf } from './helpers/one-row.js'

/** A long run: RUNS=1000000 npx vitest run --project core hostile --testTimeout 3000000 */
const numRuns = Number(process.env.RUNS ?? 2000)
const comb = combScopes('inspections')

describe('formulas from anyone', () => {
  const bits = [
    '(',
    ')',
    'a',
    'b',
    '`',
    "'",
    '"',
    '+',
    '-',
    '^',
    '??',
    '&',
    '.',
    ',',
    ' if(',
    'case when ',
    ' then ',
    ' else ',
    ' end ',
    'let x = ',
    ' in ',
    ' in (',
    'between ',
    ' and ',
    'not ',
    ' is ',
    ' blank ',
    'round(',
    'sum(',
    'count(every weather ',
    'weighted(',
    ' where ',
    ' by ',
    ' order by ',
    ' via ',
    ' desc',
    ' at ',
    ' out of ',
    'blanks as zero',
    'this.',
    'hive.',
    'harvests.',
    'mites',
    '#score',
    '1',
    '1e',
    '@2026-',
    '#',
    '%',
    '=',
    '<',
    '\n',
    '//',
    '🐝',
    '\u0000',
    '\ud800',
  ]
  test('no text makes the parser or the checker throw, and spans lie inside the text', () => {
    const text = fc.oneof(
      fc.string({ unit: 'binary', maxLength: 60 }),
      fc.array(fc.constantFrom(...bits), { maxLength: 60 }).map((parts) => parts.join('')),
    )
    fc.assert(
      fc.property(text, (formula) => {
        const { findings } = checkFormula(parseFormula(formula), comb)
        formatFormula(formula)
        explainFormula(formula, comb)
        tokenKinds(formula, comb)
        completeFormula(formula, formula.length >> 1, comb)
        for (const { from = 0, to = 0 } of findings) {
          expect(from).toBeGreaterThanOrEqual(0)
          expect(to).toBeGreaterThanOrEqual(from)
          expect(to).toBeLessThanOrEqual(formula.length)
        }
      }),
      { numRuns },
    )
  })

  test.each([
    ['parentheses', `${'('.repeat(9000)}1${')'.repeat(9000)}`, 'too-deep'],
    ['minus signs', `${'- '.repeat(9000)}1`, 'too-deep'],
    ['nots', `${'not '.repeat(4000)}true`, 'too-deep'],
    ['powers', `1${'^1'.repeat(9000)}`, 'too-deep'],
    ['cases', `${'case when true then '.repeat(800)}1${' end'.repeat(500)}`, 'too-deep'],
    ['steps', `${'let x = 1 in '.repeat(1500)}x`, 'too-deep'],
    ['length', 'a'.repeat(20_001), 'formula-too-long'],
    ['opening parentheses alone', '('.repeat(20_000), 'too-deep'],
    ['stray signs', '*'.repeat(20_000), 'too-deep'],
  ])('too many %s', (_, formula, code) => expect(parseFormula(formula).findings.map((one) => one.code)).toContain(code))

  test('200 levels are accepted', () => {
    expect(resultOf(`${'('.repeat(199)}1${')'.repeat(199)}`)).toBe(1)
    expect(resultOf(`${'if(ok, '.repeat(198)}1${', 2)'.repeat(198)}`)).toBe(1)
  })

  test.each([
    ['sum', `1${'+1'.repeat(9999)}`, 10_000],
    ['sum of columns', `a${'+a'.repeat(9999)}`, 70_000],
    ['conjunction', `ok${' and ok'.repeat(2500)}`, true],
    ['join', `t${'&t'.repeat(9999)}`, 'comb'.repeat(10_000)],
    ['defaults', `none${'??none'.repeat(3000)}`, null],
    ['members', `a in (${Array.from({ length: 3500 }, (_, index) => index + 100).join(',')})`, false],
    ['dates', `d${'+1'.repeat(3000)}`, '2034-05-31'],
  ])('a %s of thousands of terms is one level deep', (_, formula, gives) => expect(resultOf(formula)).toEqual(gives))

  test.each([
    ['replace', `replace('${'a'.repeat(2000)}', 'a', '${'b'.repeat(900)}')`],
    ['join', `${"'".padEnd(10_000, 'x')}' & pad_start('', 999999, 'y')`],
    ['pad_start', "pad_start('x', 2000000, 'y')"],
  ])('%s makes no text over a million characters', (_, formula) => expect(resultOf(formula)).toBe('!too-long'))

  test('a pattern cannot take exponential time', () => expect(resultOf(`matches('${'a'.repeat(5000)}!', '^(a+)+$')`)).toBe(false))

  test('of thousands of unknown names the first are told, each with a suggestion, and the rest counted', () => {
    const { findings } = previewOf(Array.from({ length: 1500 }, () => 'maybee').join(' and '))
    expect(findings).toHaveLength(21)
    expect(findings.at(-1)).toMatchObject({ code: 'more-errors', parameters: { count: 1480 } })
    expect(findings.filter((one) => one.fixes.length > 0)).toHaveLength(20)
  })
})

describe('names from anyone', () => {
  const names = ['__proto__', 'constructor', 'hasOwnProperty', '2024', 'if', 'a`b', '🐝', ' ', 'toString', 'then']
  test('anything can be a name of tables, columns and formulas', () => {
    for (const name of names) {
      const book = new Workbook()
      book.apply({ op: 'add-table', table: name, columns: [{ name, type: 'number' }] })
      book.apply({ op: 'insert-rows', table: name, block: Object.fromEntries([[name, [1, 2]]]) })
      book.apply({
        op: 'add-column',
        table: name,
        column: { name: `${name}!`, formula: `\`${name.replaceAll('`', '``')}\` * 10` },
      })
      expect(book.table(name).column(`${name}!`).values()).toEqual([10, 20])
    }
    expect(Object.prototype).not.toHaveProperty('1')
  })
})

test('a chain of 5 000 columns is defined in any order and follows one edit', () => {
  const book = new Workbook()
  const chain = Array.from({ length: 5000 }, (_, index) => ({
    op: 'add-column' as const,
    table: 't',
    column: { name: `c${index + 1}`, formula: `c${index} + 1` },
  }))
  book.apply([
    { op: 'add-table', table: 't', columns: [{ name: 'c0', type: 'number' }] },
    { op: 'insert-rows', table: 't', rows: [{ c0: 0 }] },
    ...chain.reverse(),
  ])
  const change = book.apply({ op: 'set-cells', table: 't', cells: [{ row: 1, column: 'c0', value: 5 }] })
  expect(book.table('t').column('c5000').value(1)).toBe(5005)
  expect(change.recalculated).toHaveLength(5000)
})

test('a star of 2 000 dependants follows one edit', () => {
  const book = new Workbook()
  const star = Array.from({ length: 2000 }, (_, index) => ({
    op: 'add-column' as const,
    table: 't',
    column: { name: `s${index}`, formula: `c0 * ${index}` },
  }))
  book.apply([
    { op: 'add-table', table: 't', columns: [{ name: 'c0', type: 'number' }] },
    { op: 'insert-rows', table: 't', rows: [{ c0: 1 }] },
    ...star,
  ])
  book.apply({ op: 'set-cells', table: 't', cells: [{ row: 1, column: 'c0', value: 2 }] })
  expect(book.table('t').column('s1999').value(1)).toBe(3998)
})
