import { functionNamed, isOverRows } from '../../functions/index.js'
import { CheckContext, rowsReadBy, type Scope } from '../check/index.js'
import { type Clause, childrenOf, type NamePart, type Parsed, type Syntax, type Token, tokenize } from '../syntax/index.js'

/** The names that hold in a part of a formula. */
export interface NameLevel {
  readonly scope: Scope
  readonly steps: readonly NamePart[]
  /** Those of the row that a function of several rows is computed for, which `this.` reaches; null at the formula's row. */
  readonly outer: NameLevel | null
}

/** A place in a formula, as editors ask about it: the token it touches, the names that hold there, the steps in sight. */
export interface Place {
  /** The token that the place lies in or at the end of; undefined between tokens. */
  readonly token: Token | undefined
  /** The token before that one, or before the place. */
  readonly before: Token | undefined
  readonly level: NameLevel
}

/** Looks a place up. */
export function placeAt(parsed: Parsed, home: Scope, offset: number): Place {
  const { tokens } = tokenize(parsed.text)
  const at = tokens.findIndex(
    (token) => token.kind !== 'end' && token.from <= offset && offset <= token.to && touches(token, offset),
  )
  const later = tokens.findIndex((token) => token.from >= offset)
  const index = at >= 0 ? at : later
  const level = levelAt(parsed, parsed.tree, offset, { scope: home, steps: [], outer: null })
  return { token: at >= 0 ? tokens[at] : undefined, before: tokens[index - 1], level }
}

/** A sign ends where it ends; a word goes on being typed at its end. */
function touches(token: Token, offset: number): boolean {
  return token.kind === 'sign' ? offset < token.to : true
}

function levelAt(parsed: Parsed, node: Syntax, offset: number, level: NameLevel): NameLevel {
  if (!reaches(parsed.text, node, offset)) return level
  if (node.kind === 'let') {
    const isBody = offset >= node.body.from
    const inside = isBody ? { ...level, steps: [...level.steps, node.name] } : level
    return levelAt(parsed, isBody ? node.body : node.bound, offset, inside)
  }
  const inside = node.kind === 'call' && offset > node.name.to ? levelInside(parsed, node, level) : level
  const child = childrenOf(node).find((one) => reaches(parsed.text, one, offset))
  return child === undefined ? inside : levelAt(parsed, child, offset, inside)
}

/** True when a place lies in a node; what is not finished yet goes on: an open parenthesis to the end, a name over spaces. */
function reaches(text: string, node: Syntax, offset: number): boolean {
  if (offset < node.from) return false
  if (node.kind === 'call' || node.kind === 'group') return text[node.to - 1] !== ')' || offset < node.to
  return offset <= node.to || text.slice(node.to, offset).trim() === ''
}

/** The names inside a call: those of the rows it reads, where it reads several. */
export function levelInside(parsed: Parsed, node: Syntax & { kind: 'call' }, level: NameLevel): NameLevel {
  const record = functionNamed(node.name.name)
  if (record === undefined || !isOverRows(record)) return level
  const way = node.clauses.find((one): one is Clause & { kind: 'via' | 'below' } => one.kind === 'via' || one.kind === 'below')
  const silent = new CheckContext(parsed, level.scope, (context, part) => context.unknown(part))
  const args = record.form === 'ordered' ? [] : node.args
  return { scope: rowsReadBy(silent, args, way, node)?.scope ?? level.scope, steps: [], outer: level }
}
