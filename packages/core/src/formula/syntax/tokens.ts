import { type Finding, type Fix, finding } from '../../findings/index.js'
import { MS_PER_DAY, parseDateText, parseDateTimeText } from '../../values/index.js'

interface Span {
  /** UTF-16 unit where it starts. */
  readonly from: number
  /** UTF-16 unit behind its last. */
  readonly to: number
}

/** A token of a formula; `word` is the lower-case text of a plain name, which may be a keyword where it stands. */
export type Token = Span &
  (
    | { readonly kind: 'number'; readonly value: number }
    | { readonly kind: 'text'; readonly value: string }
    | { readonly kind: 'date' | 'datetime'; readonly value: number }
    | { readonly kind: 'name'; readonly name: string; readonly quoted: boolean; readonly word: string }
    | { readonly kind: 'tag'; readonly name: string }
    | { readonly kind: 'sign'; readonly sign: string }
    | { readonly kind: 'end' }
  )

/** A comment, from its `//` to the end of its line. */
interface Comment extends Span {
  readonly text: string
}

/** A formula cut into pieces. */
export interface Tokenized {
  readonly tokens: Token[]
  readonly comments: Comment[]
  readonly findings: Finding[]
}

const space = /[\s\u200b\ufeff]*/uy
const nameText = /[\p{L}_][\p{L}\p{M}\p{Nd}_]*/uy
const digitsText = /(?:\d+(?:\.\d+)?)(?:[eE][+-]?\d+)?/y
const dateText = /@[\d:.\-T]*/y
const signs: ReadonlySet<string> = new Set([
  ...['<>', '!=', '<=', '>=', '??'],
  ...['<', '>', '=', '+', '-', '*', '/', '^', '&', '(', ')', ',', '.'],
])

/** Signs that other notations have, with what to write instead. */
const foreignSigns: ReadonlyMap<string, string> = new Map([
  ['==', '='],
  ['&&', ' and '],
  ['||', ' & '],
  ['**', '^'],
  ['≤', '<='],
  ['≥', '>='],
  ['≠', '<>'],
  ['×', '*'],
  ['·', '*'],
  ['÷', '/'],
  ['−', '-'],
  [';', ','],
  ['!', ' not '],
  ['“', '"'],
  ['”', '"'],
  ['’', "'"],
  ['[', '`'],
  [']', '`'],
])

/** Cuts a formula into tokens. Never throws: what is no token is a finding, and cutting goes on behind it. */
export function tokenize(text: string): Tokenized {
  return new Tokenizer(text).run()
}

/** False for the plain signs and digits, which need not be held against the letters of all scripts. */
function beginsName(character: string): boolean {
  return character > '\u007f' || (character >= 'A' && character <= 'Z') || (character >= '_' && character <= 'z')
}

class Tokenizer {
  readonly #text: string
  readonly #tokens: Token[] = []
  readonly #comments: Comment[] = []
  readonly #findings: Finding[] = []
  #at = 0

  constructor(text: string) {
    this.#text = text
  }

  run(): Tokenized {
    for (;;) {
      this.#skipSpaceAndComments()
      if (this.#at >= this.#text.length) break
      this.#next()
    }
    this.#tokens.push({ kind: 'end', from: this.#text.length, to: this.#text.length })
    return { tokens: this.#tokens, comments: this.#comments, findings: this.#findings }
  }

  #skipSpaceAndComments(): void {
    for (;;) {
      this.#match(space)
      if (!this.#text.startsWith('//', this.#at)) return
      const from = this.#at
      const newline = this.#text.indexOf('\n', from)
      this.#at = newline < 0 ? this.#text.length : newline
      this.#comments.push({ text: this.#text.slice(from, this.#at).trimEnd(), from, to: this.#at })
    }
  }

  #match(pattern: RegExp): string {
    pattern.lastIndex = this.#at
    const found = pattern.exec(this.#text)?.[0] ?? ''
    this.#at += found.length
    return found
  }

  #next(): void {
    const from = this.#at
    const character = this.#text[from] as string
    if (character >= '0' && character <= '9') return this.#number(from)
    if (character === "'" || character === '"') return this.#quoted(from, character)
    if (character === '`') return this.#quotedName(from)
    if (character === '@') return this.#date(from)
    if (character === '.' && /\d/.test(this.#text[from + 1] ?? '')) return this.#pointFirst(from)
    const name = beginsName(character) ? this.#match(nameText) : ''
    if (name !== '') {
      this.#tokens.push({ kind: 'name', name, quoted: false, word: name.toLowerCase(), from, to: this.#at })
      return
    }
    if (character === '#') {
      this.#at++
      const tag = this.#match(nameText)
      if (tag !== '') {
        this.#tokens.push({ kind: 'tag', name: tag, from, to: this.#at })
        return
      }
      this.#at = from
    }
    this.#sign(from, character)
  }

  #sign(from: number, character: string): void {
    const two = this.#text.slice(from, from + 2)
    const sign = signs.has(two) ? two : signs.has(character) ? character : undefined
    const foreign = signs.has(two) ? undefined : foreignSigns.has(two) ? two : foreignSigns.has(character) ? character : undefined
    if (foreign !== undefined) return this.#unknown(from, foreign)
    if (sign === undefined) return this.#unknown(from, String.fromCodePoint(this.#text.codePointAt(from) as number))
    this.#at += sign.length
    this.#tokens.push({ kind: 'sign', sign: sign === '!=' ? '<>' : sign, from, to: this.#at })
  }

  #unknown(from: number, found: string): void {
    this.#at = from + found.length
    const to = this.#at
    let hint = ''
    const fixes: Fix[] = []
    if (found === '%') {
      hint = ' A percentage is a number directly before it, like 20%; of anything else take / 100.'
      fixes.push({ title: 'Divide by 100', edits: [{ from, to, insert: ' / 100' }] })
    } else {
      const insert = foreignSigns.get(found)
      if (insert !== undefined) {
        hint = ` Write ${insert.trim()} instead.`
        fixes.push({ title: `Write ${insert.trim()}`, edits: [{ from, to, insert }] })
        // Read on with what was meant, so that the rest of the formula is checked as well.
        if (signs.has(insert)) this.#tokens.push({ kind: 'sign', sign: insert, from, to })
      }
    }
    this.#findings.push(finding('unknown-character', { found, hint }, { from, to, fixes }))
  }

  #number(from: number): void {
    let digits = this.#match(digitsText)
    let value = Number(digits)
    const badNumber = (near: string, insert?: string): void => {
      const found = this.#text.slice(from, this.#at)
      const fixes = insert === undefined ? [] : [{ title: `Write ${insert}`, edits: [{ from, to: this.#at, insert }] }]
      this.#findings.push(finding('bad-number', { found, near }, { from, to: this.#at, fixes }))
    }
    if (this.#text[this.#at] === '%') {
      this.#at++
      const [coefficient, exponent = '0'] = digits.toLowerCase().split('e')
      value = Number(`${coefficient}e${Number(exponent) - 2}`)
    } else if (this.#text[this.#at] === '.' && !/[\d\p{L}_`]/u.test(this.#text[this.#at + 1] ?? '')) {
      this.#at++
      badNumber(digits, digits)
    } else {
      const unit = this.#match(nameText)
      if (unit !== '') {
        digits = digits.replace(/\.$/, '')
        badNumber(`${digits} * ${unit}`, `${digits} * ${unit}`)
      }
    }
    if (!Number.isFinite(value)) {
      badNumber('a number up to 1.7976931348623157e308')
      value = 0
    }
    this.#tokens.push({ kind: 'number', value, from, to: this.#at })
  }

  #pointFirst(from: number): void {
    this.#at++
    const found = `.${this.#match(digitsText)}`
    const insert = `0${found}`
    const fixes = [{ title: `Write ${insert}`, edits: [{ from, to: this.#at, insert }] }]
    this.#findings.push(finding('bad-number', { found, near: insert }, { from, to: this.#at, fixes }))
    this.#tokens.push({ kind: 'number', value: Number(found), from, to: this.#at })
  }

  /** Reads up to the closing quote, a doubled one standing for itself; null when there is none. */
  #untilQuote(from: number, quote: string): string | null {
    let value = ''
    let at = from + 1
    for (;;) {
      const close = this.#text.indexOf(quote, at)
      if (close < 0) {
        this.#at = this.#text.length
        return null
      }
      value += this.#text.slice(at, close)
      if (this.#text[close + 1] !== quote) {
        this.#at = close + 1
        return value
      }
      value += quote
      at = close + 2
    }
  }

  #quoted(from: number, quote: string): void {
    const value = this.#untilQuote(from, quote)
    if (value === null) {
      const fixes = [{ title: 'Close it at the end', edits: [{ from: this.#text.length, to: this.#text.length, insert: quote }] }]
      this.#findings.push(finding('unclosed-quote', { quote }, { from, to: from + 1, fixes }))
    }
    this.#tokens.push({ kind: 'text', value: value ?? this.#text.slice(from + 1), from, to: this.#at })
  }

  #quotedName(from: number): void {
    const name = this.#untilQuote(from, '`')
    if (name === null || name === '') {
      const fixes =
        name === null ? [{ title: 'Close it at the end', edits: [{ from: this.#at, to: this.#at, insert: '`' }] }] : []
      this.#findings.push(finding('unclosed-name', {}, { from, to: from + 1, fixes }))
    }
    this.#tokens.push({ kind: 'name', name: name ?? this.#text.slice(from + 1), quoted: true, word: '', from, to: this.#at })
  }

  #date(from: number): void {
    const found = this.#match(dateText)
    const text = found.slice(1).replace(/[.:T-]+$/, '')
    this.#at = from + 1 + text.length
    const hasTime = text.includes('T')
    let value = hasTime ? parseDateTimeText(text) : parseDateText(text)
    if (Number.isNaN(value)) {
      this.#findings.push(finding('bad-date', { found: `@${text}` }, { from, to: this.#at }))
      value = hasTime ? 20_000 * MS_PER_DAY : 20_000
    }
    this.#tokens.push({ kind: hasTime ? 'datetime' : 'date', value, from, to: this.#at })
  }
}
