import { type Finding, type Fix, finding } from '../../findings/index.js'
import type { Token } from './tokens.js'
import type { Syntax } from './tree.js'

/** Deepest nesting accepted. */
const DEEPEST = 200

/** Grammar rules that other rules call without importing each other. */
export interface GrammarRules {
  /** A whole formula. */
  readonly formula: (reader: FormulaReader) => Syntax
  /** An operand with its sign and power. */
  readonly unary: (reader: FormulaReader) => Syntax
}

/** A place in the tokens of a formula, with what was found on the way; all rules of the grammar read through one. */
export class FormulaReader {
  readonly text: string
  readonly findings: Finding[] = []
  /** Where the words stand that were read as keywords. */
  readonly keywords: Set<number> = new Set()
  /** True while `in` ends the formula bound by a `let` instead of testing membership. */
  inEndsBound = false
  /** True inside a call that takes clauses, where the words of clauses are never names. */
  inClauses = false
  readonly #tokens: readonly Token[]
  readonly #rules: GrammarRules
  #at = 0
  #depth = 0
  /** True after a finding that makes whatever follows unreliable, so that one mistake is reported once. */
  #gaveUp = false

  constructor(text: string, tokens: readonly Token[], rules: GrammarRules) {
    this.text = text
    this.#tokens = tokens
    this.#rules = rules
  }

  /** The token to be read next. */
  get here(): Token {
    return this.#tokens[this.#at] as Token
  }

  /** The token read last. */
  get before(): Token | undefined {
    return this.#tokens[this.#at - 1]
  }

  /** True at the first token. */
  get isAtStart(): boolean {
    return this.#at === 0
  }

  /** True when everything is read. */
  get isAtEnd(): boolean {
    return this.here.kind === 'end'
  }

  /** How deep the part being read is nested. */
  get depth(): number {
    return this.#depth
  }

  /** Where the last token read ends. */
  get end(): number {
    return (this.#tokens[Math.max(0, this.#at - 1)] as Token).to
  }

  /** A later token. */
  peek(ahead: number): Token {
    return this.#tokens[Math.min(this.#at + ahead, this.#tokens.length - 1)] as Token
  }

  /** Steps over the token here. */
  advance(): void {
    this.#at++
  }

  /** Steps over the token here, which is a keyword. */
  advanceKeyword(): void {
    this.keywords.add(this.here.from)
    this.#at++
  }

  /** Says what is wrong at a place. */
  report(
    code: Parameters<typeof finding>[0],
    parameters: Parameters<typeof finding>[1],
    place: { from: number; to: number },
    fixes: readonly Fix[] = [],
  ): void {
    if (this.#gaveUp) return
    this.findings.push(finding(code, parameters, { from: place.from, to: place.to, fixes }))
    if (code === 'too-deep' || code === 'expected-word' || code === 'unexpected-text') this.#gaveUp = true
  }

  /** What stands where something was expected. */
  missing(): Syntax {
    return { kind: 'missing', from: this.here.from, to: this.here.from }
  }

  /** The token here, as a message says it. */
  found(): string {
    const token = this.here
    return token.kind === 'end' ? 'the end of the formula' : `"${shorten(this.text.slice(token.from, token.to))}"`
  }

  /** True when a token is this word, not in backticks. */
  isWord(word: string, token: Token = this.here): boolean {
    return token.kind === 'name' && !token.quoted && token.word === word
  }

  /** True when a token is this sign. */
  isSign(sign: string, token: Token = this.here): boolean {
    return token.kind === 'sign' && token.sign === sign
  }

  /** Reads a keyword if it stands here. */
  takeWord(word: string): boolean {
    if (!this.isWord(word)) return false
    this.advanceKeyword()
    return true
  }

  /** Reads a sign if it stands here. */
  takeSign(sign: string): boolean {
    if (!this.isSign(sign)) return false
    this.#at++
    return true
  }

  /** Reads a keyword, or says that it was expected. */
  expectWord(word: string, place: string): void {
    if (!this.takeWord(word)) this.expected(`"${word}"`, place)
  }

  /** Says that something else was expected here. */
  expected(expected: string, place: string): void {
    this.report('expected-word', { expected, place, found: this.found() }, this.here)
  }

  /** A whole formula at a new level of nesting. */
  formula(inEndsBound = false): Syntax {
    const outer = this.inEndsBound
    this.inEndsBound = inEndsBound
    const tree = this.nested(this.#rules.formula)
    this.inEndsBound = outer
    return tree
  }

  /** An operand at a new level of nesting. */
  unary(): Syntax {
    return this.nested(this.#rules.unary)
  }

  /** One level deeper, as long as there is one. */
  nested(parse: (reader: FormulaReader) => Syntax): Syntax {
    if (this.#depth >= DEEPEST) {
      this.report('too-deep', { limit: DEEPEST }, this.here)
      this.#at = this.#tokens.length - 1
      return this.missing()
    }
    this.#depth++
    const tree = parse(this)
    this.#depth--
    return tree
  }
}

/** A text cut to what a message can quote. */
export function shorten(text: string): string {
  return text.length <= 40 ? text : `${text.slice(0, 39)}…`
}
