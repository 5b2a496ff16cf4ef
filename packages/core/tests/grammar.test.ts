import { readFileSync } from 'node:fs'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { formatFormula, parseFormula, tokenize } from '../src/formula/index.js'
import { FUNCTIONS, guideOf } from '../src/index.js'
import { RESERVED_WORDS } from '../src/values/names.js'
import { makeSentence, readGrammar, recognises } from './helpers/ebnf.js'
import { randomFormulas } from './helpers/random-formulas.js'

/** The parser and docs/language/grammar.md say the same. */

const numRuns = Number(process.env.RUNS ?? 500)
const rules = readGrammar(readFileSync(new URL('../../../docs/language/grammar.md', import.meta.url), 'utf8'))
const leaves: Readonly<Record<string, readonly string[]>> = {
  NAME: ['a', 'b2', 'honey_kg', '`Unit price`', 'été', '`if`', 'this', 'out'],
  // Functions that take clauses: in others a clause cannot come first.
  FUNCTION: ['sum', 'lag', 'COUNT', 'rank'],
  NUMBER: ['1', '2.5', '1e-3', '20%'],
  TEXT: ["'it''s'", '"x"'],
  DATE: ['@2026-03-14', '@2026-03-14T09:30:00'],
  TAG: ['#tests'],
}
const reserved = new Set(RESERVED_WORDS)

/** A sentence made from the grammar; the generator is a linear congruential one (Knuth, MMIX constants cut to 32 bits). */
function sentence(seed: number): string {
  let state = seed
  const random = (): number => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0
    return state / 2 ** 32
  }
  const leaf = (name: string): string => {
    const all = leaves[name] ?? [name]
    return all[Math.floor(random() * all.length)] as string
  }
  return makeSentence(rules, 'formula', random, leaf, 26).join(' ').replaceAll(/ \. /g, '.')
}

const sentences = fc
  .integer({ min: 0, max: 2 ** 32 - 1 })
  .map(sentence)
  .filter((text) => text.length < 1200)

function isSentence(text: string): boolean {
  const tokens = tokenize(text).tokens.filter((token) => token.kind !== 'end')
  return recognises(rules, 'formula', tokens.length, (at, kind, isWord) => {
    const token = tokens[at]
    if (token === undefined) return false
    if (isWord) return token.kind === 'sign' ? token.sign === kind : token.kind === 'name' && !token.quoted && token.word === kind
    if (kind === 'FUNCTION') return token.kind === 'name' && (token.quoted || !reserved.has(token.word) || token.word === 'if')
    if (kind === 'NAME') return token.kind === 'name' && (token.quoted || !reserved.has(token.word))
    if (kind === 'DATE') return token.kind === 'date' || token.kind === 'datetime'
    return token.kind === kind.toLowerCase()
  })
}

/** A tree without its places; the case of words and of function names does not count. */
function bare(text: string): string {
  const places = new Set(['from', 'to', 'elseFrom'])
  return JSON.stringify(parseFormula(text).tree, (key, value) => (places.has(key) ? undefined : value)).toLowerCase()
}

test('the page has rules, and every rule it names', () => {
  expect(rules.size).toBeGreaterThan(20)
  expect(rules.get('formula')).toEqual({ kind: 'rule', name: 'or' })
})

test('sentences of the grammar are read without a finding', () => {
  fc.assert(
    fc.property(sentences, (text) => {
      expect(parseFormula(text).findings, text).toEqual([])
    }),
    { numRuns },
  )
})

test('what the parser reads without a finding, the grammar allows; and without let, the other way round', () => {
  const pieces = fc.constantFrom(
    ...[
      'a',
      'b',
      '1',
      "'x'",
      '#t',
      '(',
      ')',
      ',',
      '.',
      '+',
      '-',
      '*',
      '^',
      '&',
      '??',
      '=',
      '<',
      'and',
      'or',
      'not',
      'per',
      'is',
      'blank',
    ],
    ...['in', 'between', 'case', 'when', 'then', 'else', 'end', 'sum(', 'if(', 'let a =', 'true', 'a in (', 'error', 'a.b'],
  )
  fc.assert(
    fc.property(fc.array(pieces, { maxLength: 9 }), (parts) => {
      const text = parts.join(' ')
      const isRead = parseFormula(text).findings.length === 0
      if (isRead) expect(isSentence(text), text).toBe(true)
      else if (!text.includes('let')) expect(isSentence(text), text).toBe(false)
    }),
    { numRuns: numRuns * 10 },
  )
})

test.each(FUNCTIONS.flatMap((record) => guideOf(record).examples.map((example) => example.formula)))(
  'the grammar allows %s',
  (formula) => {
    expect(isSentence(formula)).toBe(true)
  },
)

describe('the formatter', () => {
  const withTrivia = fc
    .tuple(
      fc.oneof(sentences, randomFormulas().number, randomFormulas().text),
      fc.array(fc.nat(30), { minLength: 5, maxLength: 20 }),
    )
    .map(([text, gaps]) => {
      let made = ''
      let at = 0
      for (const [index, token] of tokenize(text).tokens.entries()) {
        const gap = gaps[index % gaps.length] as number
        const between = text.slice(at, token.from)
        made += gap === 0 ? `${between} // note ${index}\n` : gap < 4 ? `${between}\n  ` : between
        made += text.slice(token.from, token.to)
        at = token.to
      }
      return made
    })

  test('changes no meaning, keeps every comment and line break, and formats its own result no further', () => {
    fc.assert(
      fc.property(withTrivia, (text) => {
        const formatted = formatFormula(text)
        expect(bare(formatted)).toBe(bare(text))
        expect(tokenize(formatted).comments.map((one) => one.text)).toEqual(tokenize(text).comments.map((one) => one.text))
        expect(formatFormula(formatted)).toBe(formatted)
        expect(formatted).not.toMatch(/[ \t]$/m)
      }),
      { numRuns: numRuns / 2 },
    )
  })

  test.each([
    ['100*mites   per  bees_sampled', '100 * mites per bees_sampled'],
    ['-a^-2 + - 3', '-a^-2 + -3'],
    ['IF( A>1 ,NOT B, Round(x ,2))', 'if(A > 1, not B, round(x, 2))'],
    ['a!=b', 'a <> b'],
    ['sum( every T.x WHERE y BETWEEN 1 AND 2 BY z )', 'sum(every T.x where y between 1 and 2 by z)'],
    ['a in(1,2)', 'a in (1, 2)'],
    ['( a )', '(a)'],
    ["`x y`&'a  b'", "`x y` & 'a  b'"],
    ['#t', '#t'],
    ['weighted(a at 40%,b AT 60% , Blanks As Zero)', 'weighted(a at 40%, b at 60%, blanks as zero)'],
    ['a // first\n+b', 'a // first\n  + b'],
    ['// above\na', '// above\na'],
    ['let n=a in\nn', 'let n = a in\nn'],
    ['case when a then 1\nwhen b then 2\nelse\n3 end', 'case when a then 1\n  when b then 2\n  else\n    3 end'],
    ['a + ', 'a + '],
  ])('%s', (text, expected) => expect(formatFormula(text)).toBe(expected))

  test('a wide formula is broken at its outermost construct', () => {
    const text = 'case when mites is blank then "sample again" when 100 * mites per bees_sampled > 3 then "treat" else "wait" end'
    expect(formatFormula(text).split('\n')).toEqual([
      'case',
      '  when mites is blank then "sample again"',
      '  when 100 * mites per bees_sampled > 3 then "treat"',
      '  else "wait"',
      'end',
    ])
  })
})
