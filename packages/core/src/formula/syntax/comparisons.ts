import type { Fix } from '../../findings/index.js'
import { readList } from './lists.js'
import type { FormulaReader } from './reader.js'
import type { Token } from './tokens.js'
import type { Syntax } from './tree.js'

const signs: ReadonlySet<string> = new Set(['=', '<>', '<', '<=', '>', '>='])

type Side = (reader: FormulaReader) => Syntax

/** One comparison or test; a second one behind it is a finding, since they do not chain. */
export function readComparison(reader: FormulaReader, side: Side): Syntax {
  const left = side(reader)
  const first = readAfter(reader, left, side)
  if (first === null) return left
  const token = reader.here
  const second = readAfter(reader, first, side)
  if (second !== null) reportChained(reader, first, second, token)
  return first
}

/** Reads a comparison operator and its right side, or null when none stands here. */
function readAfter(reader: FormulaReader, left: Syntax, side: Side): Syntax | null {
  const token = reader.here
  if (token.kind === 'sign' && signs.has(token.sign)) {
    reader.advance()
    const right = side(reader)
    return { kind: 'compare', operator: token.sign, left, right, from: left.from, to: right.to }
  }
  if (reader.takeWord('is')) return readIs(reader, left)
  const next = reader.peek(1)
  const negated = reader.isWord('not') && (reader.isWord('between', next) || reader.isWord('in', next))
  if (negated) reader.advanceKeyword()
  if (reader.takeWord('between')) {
    const low = side(reader)
    reader.expectWord('and', 'after the lower bound of between')
    const high = side(reader)
    return { kind: 'between', negated, value: left, low, high, from: left.from, to: high.to }
  }
  if ((negated || !reader.inEndsBound) && reader.takeWord('in')) return readIn(reader, left, negated)
  return null
}

function readIs(reader: FormulaReader, value: Syntax): Syntax {
  const negated = reader.takeWord('not')
  const what = reader.isWord('error') ? 'error' : 'blank'
  if (!reader.takeWord(what)) reader.expected('"blank" or "error"', 'after "is"')
  return { kind: 'is', negated, what, value, from: value.from, to: reader.end }
}

function readIn(reader: FormulaReader, value: Syntax, negated: boolean): Syntax {
  const open = reader.here
  const members = reader.takeSign('(') ? readList(reader, open) : []
  if (!reader.isSign('(', open)) reader.expected('"("', 'after "in"')
  return { kind: 'in', negated, value, members, from: value.from, to: reader.end }
}

function reportChained(reader: FormulaReader, first: Syntax, second: Syntax, operator: Token): void {
  const fixes: Fix[] = []
  if (first.kind === 'compare' && second.kind === 'compare') {
    const part = (node: Syntax): string => reader.text.slice(node.from, node.to)
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
  const sign = `"${reader.text.slice(operator.from, operator.to)}"`
  reader.report('chained-comparison', { operator: sign, hint }, operator, fixes)
}
