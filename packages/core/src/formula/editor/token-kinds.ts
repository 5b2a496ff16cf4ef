import { functionNamed } from '../../functions/index.js'
import { foldName } from '../../values/index.js'
import { isKeywordPart, type Scope, type ScopeColumn } from '../check/index.js'
import { childrenOf, type NamePart, parseFormula, type Syntax, tokenize } from '../syntax/index.js'
import { levelInside, type NameLevel } from './place.js'

/** What a piece of a formula is, for colours and for hovering. */
export type TokenKind =
  | 'number'
  | 'text'
  | 'date'
  | 'keyword'
  | 'function'
  | 'column'
  | 'step'
  | 'link'
  | 'table'
  | 'value'
  | 'tag'
  | 'sign'
  | 'comment'
  | 'unknown'

/** A piece of a formula with what it is; `column` where it reads one. */
export interface TokenOfKind {
  readonly from: number
  readonly to: number
  readonly kind: TokenKind
  readonly column?: ScopeColumn
}

/** Every piece of a formula in order, with what it is in the names of a table. */
export function tokenKinds(text: string, scope: Scope): TokenOfKind[] {
  const parsed = parseFormula(text)
  const { tokens, comments } = tokenize(text)
  const names = new Map<number, { kind: TokenKind; column?: ScopeColumn }>()
  const isKnown = (name: string): boolean => functionNamed(name) !== undefined || scope.functionNamed(name) !== undefined
  const walk = (node: Syntax, level: NameLevel): void => {
    if (node.kind === 'name') return partKinds(node, level, names)
    if (node.kind === 'let') {
      names.set(node.name.from, { kind: 'step' })
      walk(node.bound, level)
      return walk(node.body, { ...level, steps: [...level.steps, node.name] })
    }
    let inside = level
    if (node.kind === 'call') {
      names.set(node.name.from, { kind: isKnown(node.name.name) ? 'function' : 'unknown' })
      inside = levelInside(parsed, node, level)
      for (const clause of node.clauses)
        if (clause.kind === 'via' || clause.kind === 'below')
          for (const part of clause.path) names.set(part.from, { kind: 'link' })
    }
    for (const child of childrenOf(node)) walk(child, inside)
  }
  walk(parsed.tree, { scope, steps: [], outer: null })
  return [
    ...tokens.flatMap((token): TokenOfKind[] => {
      const at = { from: token.from, to: token.to }
      if (token.kind === 'end') return []
      if (token.kind === 'name')
        return [
          {
            ...at,
            ...(parsed.keywords.has(token.from)
              ? { kind: 'keyword' as const }
              : (names.get(token.from) ?? { kind: 'unknown' as const })),
          },
        ]
      return [{ ...at, kind: token.kind === 'datetime' ? 'date' : token.kind }]
    }),
    ...comments.map(({ from, to }): TokenOfKind => ({ from, to, kind: 'comment' })),
  ].sort((a, b) => a.from - b.from)
}

function partKinds(
  node: Syntax & { kind: 'name' },
  level: NameLevel,
  names: Map<number, { kind: TokenKind; column?: ScopeColumn }>,
): void {
  const last = node.parts.at(-1) as NamePart
  const [head] = node.parts
  const isPath = node.parts.length > 1
  const isThis = isPath && isKeywordPart(head, 'this')
  const here = isThis ? (level.outer ?? level) : level
  let scope: Scope | undefined = here.scope
  for (const part of node.parts.slice(0, -1)) {
    const isWord = part === head && (isThis || isKeywordPart(head, 'book'))
    const link: Scope | undefined = scope?.link(part.name)?.target
    const table: Scope | undefined = here.scope.tableNamed(part.name)
    names.set(part.from, { kind: isWord ? 'keyword' : link !== undefined ? 'link' : table !== undefined ? 'table' : 'unknown' })
    if (!isWord) scope = link ?? table
  }
  const isStep = (!isPath || isThis) && here.steps.some((step) => foldName(step.name) === foldName(last.name))
  const column = scope?.column(last.name)
  const isSingle = scope?.tally(last.name) !== undefined || here.scope.value(last.name) !== undefined
  const isTable = !isPath && here.scope.tableNamed(last.name) !== undefined
  if (isStep) names.set(last.from, { kind: 'step' })
  else if (column !== undefined) names.set(last.from, { kind: 'column', column })
  else names.set(last.from, { kind: isSingle ? 'value' : isTable ? 'table' : 'unknown' })
}
