import { type Finding, type Fix, finding } from '../../findings/index.js'
import { isReservedWord } from '../../values/index.js'
import { type Token, tokenize } from './tokens.js'
import { type CaseBranch, CHAIN_LEVELS, type ChainLink, type NamePart, type Syntax } from './tree.js'

/** Deepest nesting accepted. */
export const DEEPEST = 200
/** Most characters of a formula accepted. */
export const LONGEST_FORMULA = 20_000

/** What parsing gives: always a tree, and everything found on the way. */
export interface Parsed {
  readonly text: string
  readonly tree: Syntax
  readonly findings: readonly Finding[]
}

/** Parses a formula (docs/language, "Operators"). Never throws; mistakes are findings and the tree has `missing` nodes. */
export function parseFormula(text: string): Parsed {
  if (text.length > LONGEST_FORMULA) {
    const found = finding(
      'formula-too-long',
      { length: text.length, limit: LONGEST_FORMULA },
      { from: LONGEST_FORMULA, to: text.length },
    )
    return { text, tree: { kind: 'missing', from: 0, to: text.length }, findings: [found] }
  }
  const { tokens, findings } = tokenize(text)
  const parser = new Parser(text, tokens)
  const tree = parser.parseAll()
  const all = [...findings, ...parser.findings].sort((a, b) => (a.from ?? 0) - (b.from ?? 0))
  return { text, tree, findings: all }
}

const comparisons: ReadonlySet<string> = new Set(['=', '<>', '<', '<=', '>', '>='])
const chainSigns: Record<string, readonly string[]> = { default: ['??'], join: ['&'], sum: ['+', '-'], product: ['*', '/'] }
const chainWords: Record<string, string> = { or: 'or', and: 'and', product: 'per' }
/** Index in CHAIN_LEVELS of the level that stands right below comparisons. */
const BELOW_COMPARISON = CHAIN_LEVELS.indexOf('default')

class Parser {
  readonly findings: Finding[] = []
  readonly #text: string
  readonly #tokens: readonly Token[]
  #at = 0
  #depth = 0
  /** True while `in` ends the formula bound by a `let` instead of testing membership. */
  #inEndsBound = false
  /** True after a finding that makes whatever follows unreliable, so that one mistake is reported once. */
  #gaveUp = false

  constructor(text: string, tokens: readonly Token[]) {
    this.#text = text
    this.#tokens = tokens
  }

  parseAll(): Syntax {
    const start = this.#here
    if (start.kind === 'end') {
      this.#report('empty-formula', {}, 0, this.#text.length)
      return this.#missing()
    }
    const tree = this.#formula()
    const token = this.#here
    if (token.kind !== 'end') {
      const hint =
        token.kind === 'sign' && token.sign === ')'
          ? ' There is no opening parenthesis for it.'
          : ' An operator or a comma may be missing.'
      this.#report('unexpected-text', { found: this.#found(), hint }, token.from, token.to)
    }
    return tree
  }

  get #here(): Token {
    return this.#tokens[this.#at] as Token
  }

  #peek(ahead: number): Token {
    return this.#tokens[Math.min(this.#at + ahead, this.#tokens.length - 1)] as Token
  }

  #report(
    code: Parameters<typeof finding>[0],
    parameters: Parameters<typeof finding>[1],
    from: number,
    to: number,
    fixes: Fix[] = [],
  ): void {
    if (this.#gaveUp) return
    this.findings.push(finding(code, parameters, { from, to, fixes }))
    if (code === 'too-deep' || code === 'expected-word' || code === 'unexpected-text') this.#gaveUp = true
  }

  #missing(): Syntax {
    return { kind: 'missing', from: this.#here.from, to: this.#here.from }
  }

  #found(): string {
    const token = this.#here
    return token.kind === 'end' ? 'the end of the formula' : `"${shorten(this.#text.slice(token.from, token.to))}"`
  }

  #isWord(word: string, token: Token = this.#here): boolean {
    return token.kind === 'name' && !token.quoted && token.word === word
  }

  #isSign(sign: string, token: Token = this.#here): boolean {
    return token.kind === 'sign' && token.sign === sign
  }

  #takeWord(word: string): boolean {
    if (!this.#isWord(word)) return false
    this.#at++
    return true
  }

  #takeSign(sign: string): boolean {
    if (!this.#isSign(sign)) return false
    this.#at++
    return true
  }

  #expectWord(word: string, place: string): void {
    if (this.#takeWord(word)) return
    this.#report('expected-word', { expected: `"${word}"`, place, found: this.#found() }, this.#here.from, this.#here.to)
  }

  /** The rest from `from` to the token before this one. */
  #spanTo(): number {
    return (this.#tokens[Math.max(0, this.#at - 1)] as Token).to
  }

  /** A whole formula at a new level of nesting. */
  #formula(inEndsBound = false): Syntax {
    const outer = this.#inEndsBound
    this.#inEndsBound = inEndsBound
    const tree = this.#nested(() => this.#chain(0))
    this.#inEndsBound = outer
    return tree
  }

  #nested(parse: () => Syntax): Syntax {
    if (this.#depth >= DEEPEST) {
      this.#report('too-deep', { limit: DEEPEST }, this.#here.from, this.#here.to)
      this.#at = this.#tokens.length - 1
      return this.#missing()
    }
    this.#depth++
    const tree = parse()
    this.#depth--
    return tree
  }

  #chain(levelIndex: number): Syntax {
    const level = CHAIN_LEVELS[levelIndex]
    if (level === undefined) return this.#unary()
    const operand = (): Syntax => {
      if (level === 'and') return this.#negation()
      return this.#chain(levelIndex + 1)
    }
    const first = operand()
    const rest: ChainLink[] = []
    for (;;) {
      const token = this.#here
      const operator = token.kind === 'sign' ? token.sign : token.kind === 'name' && !token.quoted ? token.word : ''
      if (!(chainSigns[level]?.includes(operator) || chainWords[level] === operator)) break
      this.#at++
      rest.push({ operator, operand: operand(), from: token.from, to: token.to })
    }
    if (rest.length === 0) return first
    return { kind: 'chain', level, first, rest, from: first.from, to: (rest.at(-1) as ChainLink).operand.to }
  }

  #negation(): Syntax {
    const from = this.#here.from
    if (!this.#takeWord('not')) return this.#comparison()
    const operand = this.#nested(() => this.#negation())
    return { kind: 'unary', operator: 'not', operand, from, to: operand.to }
  }

  #comparison(): Syntax {
    const left = this.#chain(BELOW_COMPARISON)
    const first = this.#comparisonAfter(left)
    if (first === null) return left
    const token = this.#here
    const second = this.#comparisonAfter(first)
    if (second !== null) this.#reportChained(first, second, token)
    return first
  }

  /** Reads a comparison operator and its right side, or null when none stands here. */
  #comparisonAfter(left: Syntax): Syntax | null {
    const token = this.#here
    if (token.kind === 'sign' && comparisons.has(token.sign)) {
      this.#at++
      const right = this.#chain(BELOW_COMPARISON)
      return { kind: 'compare', operator: token.sign, left, right, from: left.from, to: right.to }
    }
    if (this.#isWord('is')) return this.#isTest(left)
    const negated = this.#isWord('not') && (this.#isWord('between', this.#peek(1)) || this.#isWord('in', this.#peek(1)))
    if (negated) this.#at++
    if (this.#takeWord('between')) {
      const low = this.#chain(BELOW_COMPARISON)
      this.#expectWord('and', 'after the lower bound of between')
      const high = this.#chain(BELOW_COMPARISON)
      return { kind: 'between', negated, value: left, low, high, from: left.from, to: high.to }
    }
    if (this.#isWord('in') && (negated || !this.#inEndsBound)) return this.#inTest(left, negated)
    return null
  }

  #isTest(value: Syntax): Syntax {
    this.#at++
    const negated = this.#takeWord('not')
    const what = this.#isWord('error') ? 'error' : 'blank'
    if (this.#isWord('blank') || this.#isWord('error')) this.#at++
    else
      this.#report(
        'expected-word',
        { expected: '"blank" or "error"', place: 'after "is"', found: this.#found() },
        this.#here.from,
        this.#here.to,
      )
    return { kind: 'is', negated, what, value, from: value.from, to: this.#spanTo() }
  }

  #inTest(value: Syntax, negated: boolean): Syntax {
    this.#at++
    const open = this.#here
    if (!this.#takeSign('(')) {
      this.#report('expected-word', { expected: '"("', place: 'after "in"', found: this.#found() }, open.from, open.to)
      return { kind: 'in', negated, value, members: [], from: value.from, to: this.#spanTo() }
    }
    const members = this.#list(open)
    return { kind: 'in', negated, value, members, from: value.from, to: this.#spanTo() }
  }

  #reportChained(first: Syntax, second: Syntax, operator: Token): void {
    const fixes: Fix[] = []
    if (first.kind === 'compare' && second.kind === 'compare') {
      const part = (node: Syntax): string => this.#text.slice(node.from, node.to)
      const span = { from: first.from, to: second.to }
      const middle = part(first.right)
      const rising = first.operator.startsWith('<')
      const [low, high] = rising ? [part(first.left), part(second.right)] : [part(second.right), part(first.left)]
      if ('<>'.includes(first.operator[0] as string) && first.operator[0] === second.operator[0] && first.operator !== '<>') {
        fixes.push({
          title: 'Use between (both ends included)',
          edits: [{ ...span, insert: `${middle} between ${low} and ${high}` }],
        })
      }
      const both = `${part(first.left)} ${first.operator} ${middle} and ${middle} ${second.operator} ${part(second.right)}`
      fixes.push({ title: 'Join two comparisons with and', edits: [{ ...span, insert: both }] })
    }
    const hint = fixes.length > 0 ? ` Write ${fixes[0]?.edits?.[0]?.insert}.` : ' Put one of them in parentheses.'
    this.#report(
      'chained-comparison',
      { operator: `"${this.#text.slice(operator.from, operator.to)}"`, hint },
      operator.from,
      operator.to,
      fixes,
    )
  }

  #unary(): Syntax {
    const token = this.#here
    if (this.#isSign('-') || this.#isSign('+')) {
      this.#at++
      const operand = this.#nested(() => this.#unary())
      return { kind: 'unary', operator: this.#isSign('-', token) ? '-' : '+', operand, from: token.from, to: operand.to }
    }
    const base = this.#primary()
    if (!this.#takeSign('^')) return base
    const exponent = this.#nested(() => this.#unary())
    return { kind: 'power', base, exponent, from: base.from, to: exponent.to }
  }

  #primary(): Syntax {
    const token = this.#here
    const { from, to } = token
    switch (token.kind) {
      case 'number':
      case 'text':
      case 'date':
      case 'datetime':
        this.#at++
        return { kind: 'literal', type: token.kind, value: token.value, from, to }
      case 'tag':
        this.#at++
        return { kind: 'tag', name: token.name, from, to }
      case 'sign':
        if (token.sign === '(') return this.#group()
        return this.#noValue()
      case 'name':
        return token.quoted ? this.#name() : this.#wordOrName(token.word)
      case 'end':
        return this.#noValue()
    }
  }

  #noValue(): Syntax {
    const token = this.#here
    const before = this.#tokens[this.#at - 1]
    const place = before === undefined ? 'at the start' : `after "${shorten(this.#text.slice(before.from, before.to))}"`
    this.#report('expected-value', { place, found: this.#found() }, token.from, token.to)
    const missing = this.#missing()
    // A sign that begins nothing is stepped over; one that closes something is left to whoever opened it.
    if (token.kind === 'sign' && ![')', ','].includes(token.sign)) {
      this.#at++
      return this.#nested(() => this.#unary())
    }
    return missing
  }

  #group(): Syntax {
    const open = this.#here
    this.#at++
    const inner = this.#formula()
    if (!this.#takeSign(')')) this.#notClosed(open)
    return { kind: 'group', inner, from: open.from, to: this.#spanTo() }
  }

  #notClosed(open: Token): void {
    if (this.#here.kind === 'end') {
      const at = this.#text.trimEnd().length
      this.#report('unclosed-parenthesis', {}, open.from, open.to, [
        { title: 'Close it at the end', edits: [{ from: at, to: at, insert: ')' }] },
      ])
    } else this.#report('expected-word', { expected: '")"', place: 'here', found: this.#found() }, this.#here.from, this.#here.to)
  }

  /** Formulas between parentheses, separated by commas. */
  #list(open: Token): Syntax[] {
    const list: Syntax[] = []
    if (this.#takeSign(')')) return list
    do list.push(this.#formula())
    while (this.#takeSign(','))
    if (!this.#takeSign(')')) this.#notClosed(open)
    return list
  }

  #wordOrName(word: string): Syntax {
    const { from, to } = this.#here
    if (word === 'true' || word === 'false') {
      this.#at++
      return { kind: 'literal', type: 'boolean', value: word === 'true', from, to }
    }
    if (word === 'blank') {
      this.#at++
      return { kind: 'literal', type: 'blank', value: null, from, to }
    }
    if (word === 'case') return this.#case()
    if (word === 'let') return this.#let()
    if (this.#isSign('(', this.#peek(1)) && (!isReservedWord(word) || word === 'if')) return this.#call()
    if (isReservedWord(word)) return this.#strayWord(word)
    return this.#name()
  }

  #strayWord(word: string): Syntax {
    const token = this.#here
    const isFirst = this.#at === 0
    if (['if', 'in', 'is', 'per', 'or', 'and', 'between'].includes(word) && !isFirst) return this.#noValue()
    if (['then', 'else', 'end', 'when', 'in', 'and', 'or'].includes(word) && this.#depth > 1) return this.#noValue()
    const near = `\`${this.#text.slice(token.from, token.to)}\``
    const fixes = [{ title: `Write ${near}`, edits: [{ from: token.from, to: token.to, insert: near }] }]
    this.#report('reserved-word', { found: `"${word}"`, near }, token.from, token.to, fixes)
    this.#at++
    return { kind: 'missing', from: token.from, to: token.to }
  }

  #name(): Syntax {
    const parts = [this.#namePart()] as [NamePart, ...NamePart[]]
    while (this.#isSign('.')) {
      this.#at++
      if (this.#here.kind !== 'name') {
        this.#report('expected-value', { place: 'after "."', found: this.#found() }, this.#here.from, this.#here.to)
        break
      }
      parts.push(this.#namePart())
    }
    return { kind: 'name', parts, from: parts[0].from, to: this.#spanTo() }
  }

  #namePart(): NamePart {
    const token = this.#here
    this.#at++
    return { name: token.kind === 'name' ? token.name : '', from: token.from, to: token.to }
  }

  #call(): Syntax {
    const name = this.#namePart()
    const open = this.#here
    this.#at++
    const args = this.#list(open)
    return { kind: 'call', name, args, from: name.from, to: this.#spanTo() }
  }

  #case(): Syntax {
    const from = this.#here.from
    this.#at++
    const subject = this.#isWord('when') ? null : this.#formula()
    const branches: CaseBranch[] = []
    do {
      this.#expectWord('when', branches.length === 0 ? 'in "case"' : 'here')
      const condition = this.#formula()
      this.#expectWord('then', 'after the condition')
      branches.push({ condition, value: this.#formula() })
    } while (this.#isWord('when'))
    const otherwise = this.#takeWord('else') ? this.#formula() : null
    this.#expectWord('end', 'to close "case"')
    return { kind: 'case', subject, branches, otherwise, from, to: this.#spanTo() }
  }

  #let(): Syntax {
    const from = this.#here.from
    this.#at++
    const isName = this.#here.kind === 'name' && (this.#here.quoted || !isReservedWord(this.#here.word))
    if (!isName)
      this.#report(
        'expected-word',
        { expected: 'a name', place: 'after "let"', found: this.#found() },
        this.#here.from,
        this.#here.to,
      )
    const name = isName ? this.#namePart() : { name: '', from: this.#here.from, to: this.#here.from }
    if (!this.#takeSign('=')) {
      this.#report(
        'expected-word',
        { expected: '"="', place: 'after the name of the step', found: this.#found() },
        this.#here.from,
        this.#here.to,
      )
    }
    const bound = this.#formula(true)
    this.#expectWord('in', 'after the formula of the step')
    const body = this.#formula()
    return { kind: 'let', name, bound, body, from, to: this.#spanTo() }
  }
}

function shorten(text: string): string {
  return text.length <= 40 ? text : `${text.slice(0, 39)}…`
}
