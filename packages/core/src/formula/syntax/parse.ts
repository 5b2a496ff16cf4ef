import { type Finding, finding } from '../../findings/index.js'
import { readChain, readUnary } from './operators.js'
import { FormulaReader } from './reader.js'
import { tokenize } from './tokens.js'
import type { Syntax } from './tree.js'

/** Most characters of a formula accepted. */
export const LONGEST_FORMULA = 20_000

/** What parsing gives: always a tree, and everything found on the way. */
export interface Parsed {
  readonly text: string
  readonly tree: Syntax
  readonly findings: readonly Finding[]
  /** Where the words start that are keywords where they stand. */
  readonly keywords: ReadonlySet<number>
}

/** Parses a formula (docs/language/grammar.md). Never throws; mistakes are findings and the tree has `missing` nodes. */
export function parseFormula(text: string): Parsed {
  if (text.length > LONGEST_FORMULA) {
    const place = { from: LONGEST_FORMULA, to: text.length }
    const found = finding('formula-too-long', { length: text.length, limit: LONGEST_FORMULA }, place)
    return { text, tree: { kind: 'missing', from: 0, to: text.length }, findings: [found], keywords: new Set() }
  }
  const { tokens, findings } = tokenize(text)
  const reader = new FormulaReader(text, tokens, { formula: (one) => readChain(one, 0), unary: readUnary })
  const tree = readAll(reader)
  const all = [...findings, ...reader.findings].sort((a, b) => (a.from ?? 0) - (b.from ?? 0))
  return { text, tree, findings: all, keywords: reader.keywords }
}

function readAll(reader: FormulaReader): Syntax {
  if (reader.isAtEnd) {
    reader.report('empty-formula', {}, { from: 0, to: reader.text.length })
    return reader.missing()
  }
  const tree = reader.formula()
  if (!reader.isAtEnd) {
    const hint = reader.isSign(')') ? ' There is no opening parenthesis for it.' : ' An operator or a comma may be missing.'
    reader.report('unexpected-text', { found: reader.found(), hint }, reader.here)
  }
  return tree
}
