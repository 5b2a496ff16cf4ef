import { readComparison } from './comparisons.js'
import { readPrimary } from './primaries.js'
import type { FormulaReader } from './reader.js'
import { CHAIN_LEVELS, type ChainLink, type Syntax } from './tree.js'

const chainSigns: Record<string, readonly string[]> = { default: ['??'], join: ['&'], sum: ['+', '-'], product: ['*', '/'] }
const chainWords: Record<string, string> = { or: 'or', and: 'and', product: 'per' }
/** Index in CHAIN_LEVELS of the level that stands right below comparisons. */
const BELOW_COMPARISON = CHAIN_LEVELS.indexOf('default')

/** Operators of one level, loosest first, and all that binds tighter. */
export function readChain(reader: FormulaReader, levelIndex: number): Syntax {
  const level = CHAIN_LEVELS[levelIndex]
  if (level === undefined) return readUnary(reader)
  const operand = (): Syntax => (level === 'and' ? readNegation(reader) : readChain(reader, levelIndex + 1))
  const first = operand()
  const rest: ChainLink[] = []
  for (;;) {
    const token = reader.here
    if (token.kind === 'sign' && chainSigns[level]?.includes(token.sign)) {
      reader.advance()
      rest.push({ operator: token.sign, operand: operand(), from: token.from, to: token.to })
    } else if (token.kind === 'name' && !token.quoted && chainWords[level] === token.word) {
      reader.advanceKeyword()
      rest.push({ operator: token.word, operand: operand(), from: token.from, to: token.to })
    } else break
  }
  const last = rest.at(-1)
  return last === undefined ? first : { kind: 'chain', level, first, rest, from: first.from, to: last.operand.to }
}

function readNegation(reader: FormulaReader): Syntax {
  const { from } = reader.here
  if (!reader.takeWord('not')) return readComparison(reader, (one) => readChain(one, BELOW_COMPARISON))
  const operand = reader.nested(readNegation)
  return { kind: 'unary', operator: 'not', operand, from, to: operand.to }
}

/** A sign, a power, or what stands between operators. */
export function readUnary(reader: FormulaReader): Syntax {
  const token = reader.here
  if (reader.isSign('-') || reader.isSign('+')) {
    reader.advance()
    const operand = reader.unary()
    return { kind: 'unary', operator: reader.isSign('-', token) ? '-' : '+', operand, from: token.from, to: operand.to }
  }
  const base = readPrimary(reader)
  if (!reader.takeSign('^')) return base
  const exponent = reader.unary()
  return { kind: 'power', base, exponent, from: base.from, to: exponent.to }
}
