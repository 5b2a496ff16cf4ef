import { Term, type TermMarks } from './term.js'

/** What can stand between the parts of a term: another term, or text taken over as it is. */
export type Piece = Term | string | number

/**
 * Writes a term: `` sql`(${a} + ${b})` ``. The template stands in parentheses of its own wherever what is around it could
 * take it apart.
 */
export function sql(texts: TemplateStringsArray, ...pieces: readonly Piece[]): Term {
  return compose(texts, pieces, 'made')
}

/** The same of what may end the statement, and so stands inside a condition only. */
export function risky(texts: TemplateStringsArray, ...pieces: readonly Piece[]): Term {
  return compose(texts, pieces, 'made', { isRisky: true })
}

/** Writes a call of a function that costs more than an operator, unless it is hardly ever called. */
export function calling(name: string, args: readonly Term[], isRare = false): Term {
  const weight = isRare ? 0 : CALL_WEIGHT
  return compose([`${name}(`, ...args.slice(1).map(() => ', '), ')'], args, 'made', { weight })
}

/** Writes what costs more than an operator. */
export function costly(texts: TemplateStringsArray, ...pieces: readonly Piece[]): Term {
  return compose(texts, pieces, 'made', { weight: CALL_WEIGHT })
}

/** What a call of a function that goes step by step costs, in operators. */
const CALL_WEIGHT = 10

/** Writes a window function. */
export function over(texts: TemplateStringsArray, ...pieces: readonly Piece[]): Term {
  return compose(texts, pieces, 'window')
}

function compose(
  texts: readonly string[],
  pieces: readonly Piece[],
  kind: 'made' | 'window' | 'fragment',
  marks: TermMarks = {},
): Term {
  const parts: string[] = [texts[0] as string]
  const inputs: Term[] = []
  const append = (text: string): void => {
    parts[parts.length - 1] += text
  }
  for (const [index, piece] of pieces.entries()) {
    if (!(piece instanceof Term)) append(String(piece))
    else if (piece.rows === null) append(piece.text)
    else {
      inputs.push(piece)
      parts.push('')
    }
    append(texts[index + 1] as string)
  }
  const rows = inputs[0]?.rows ?? null
  if (rows === null) return new Term(0, null, parts, [], { kind: 'made' }, marks)
  if (inputs.some((input) => input.rows !== rows)) throw new TypeError(`one term of two rows: ${parts.join('…')}`)
  return rows.intern(parts, inputs, { kind }, marks)
}

/** A text that is the same for all rows. */
export function literal(text: string): Term {
  return new Term(0, null, [text], [], { kind: 'made' })
}

/** Writes a part of an expression that is none by itself. */
export function fragment(texts: TemplateStringsArray, ...pieces: readonly Piece[]): Term {
  return compose(texts, pieces, 'fragment')
}

/** Puts terms one after another, with a text between them. */
export function joined(terms: readonly Piece[], between: string): Term {
  const texts = ['', ...terms.slice(1).map(() => between), '']
  return compose(texts, terms, 'fragment')
}

/** Puts terms between texts of which there is one more. */
export function interleaved(texts: readonly string[], terms: readonly Piece[]): Term {
  return compose(texts, terms, 'made')
}
