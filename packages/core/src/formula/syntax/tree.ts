import { functionNamed, isOverRows } from '../../functions/index.js'
import type { Scalar, ValueType } from '../../values/index.js'

interface Span {
  readonly from: number
  readonly to: number
}

/** One name of a path, as written; a quoted one stood in backticks and is never a keyword. */
export interface NamePart extends Span {
  readonly name: string
  readonly quoted: boolean
}

/** A link of a chain: its operator and what stands right of it. */
export interface ChainLink extends Span {
  readonly operator: string
  readonly operand: Syntax
}

/** A branch of a case, from its `when` on. */
export interface CaseBranch extends Span {
  readonly condition: Syntax
  readonly value: Syntax
}

/** A key of `order by`. */
export interface OrderKeySyntax {
  readonly key: Syntax
  readonly descending: boolean
}

/** A clause of a call. Spans reach from its first word to its last part. */
export type Clause = Span &
  (
    | { readonly kind: 'where'; readonly condition: Syntax }
    | { readonly kind: 'by'; readonly keys: readonly Syntax[] }
    | { readonly kind: 'order by'; readonly keys: readonly OrderKeySyntax[] }
    | { readonly kind: 'via' | 'below'; readonly path: readonly [NamePart, ...NamePart[]] }
    /** `desc` behind the value of a rank. */
    | { readonly kind: 'desc' }
    | { readonly kind: 'blanks as zero' }
  )

/** A kind of clause, named as it is written. */
export type ClauseKind = Clause['kind']

/**
 * The tree of a formula, spans in UTF-16 units of its text. Operators of one level that follow each other are one `chain`,
 * not a tower of pairs: a sum of ten thousand terms is one level deep, so no walk over a tree can run out of stack.
 */
export type Syntax = Span &
  (
    | { readonly kind: 'literal'; readonly type: Exclude<ValueType, 'integer'> | 'blank'; readonly value: Scalar | null }
    /** `every` says that all rows of the table named first are read. */
    | { readonly kind: 'name'; readonly every: boolean; readonly parts: readonly [NamePart, ...NamePart[]] }
    | { readonly kind: 'tag'; readonly name: string }
    | { readonly kind: 'group'; readonly inner: Syntax }
    | { readonly kind: 'unary'; readonly operator: '-' | '+' | 'not'; readonly operand: Syntax }
    | { readonly kind: 'chain'; readonly level: ChainLevel; readonly first: Syntax; readonly rest: readonly ChainLink[] }
    | { readonly kind: 'power'; readonly base: Syntax; readonly exponent: Syntax }
    | { readonly kind: 'compare'; readonly operator: string; readonly left: Syntax; readonly right: Syntax }
    | { readonly kind: 'between'; readonly negated: boolean; readonly value: Syntax; readonly low: Syntax; readonly high: Syntax }
    | { readonly kind: 'in'; readonly negated: boolean; readonly value: Syntax; readonly members: readonly Syntax[] }
    | { readonly kind: 'is'; readonly negated: boolean; readonly what: 'blank' | 'error'; readonly value: Syntax }
    | {
        readonly kind: 'call'
        readonly name: NamePart
        readonly args: readonly Syntax[]
        readonly clauses: readonly Clause[]
      }
    /** An argument with its weight (`at`) or its possible points (`out of`). */
    | { readonly kind: 'rated'; readonly word: 'at' | 'out of'; readonly value: Syntax; readonly amount: Syntax }
    | {
        readonly kind: 'case'
        readonly subject: Syntax | null
        readonly branches: readonly CaseBranch[]
        readonly otherwise: Syntax | null
        /** Where `else` stands, if it does. */
        readonly elseFrom: number | null
      }
    | { readonly kind: 'let'; readonly name: NamePart; readonly bound: Syntax; readonly body: Syntax }
    /** Stands where something was expected and nothing usable was found; a finding says so. */
    | { readonly kind: 'missing' }
  )

/** Levels whose operators chain, loosest first. */
export const CHAIN_LEVELS = ['or', 'and', 'default', 'join', 'sum', 'product'] as const

/** A level of operators. */
type ChainLevel = (typeof CHAIN_LEVELS)[number]

/** What a formula refers to: a name, or a tag that stands for columns. */
export type Mention = Syntax & { readonly kind: 'name' | 'tag' }

/**
 * Calls `visit` for every name and tag of the formula's own row: not for its named steps, nor for what functions of several
 * rows read.
 *
 * @param isOfRow - false for an argument of an own function that is read only at other rows
 */
export function visitNames(
  tree: Syntax,
  visit: (mention: Mention) => void,
  fold: (name: string) => string,
  isOfRow: (call: string, argument: number) => boolean = () => true,
): void {
  const walk = (node: Syntax, steps: ReadonlySet<string>): void => {
    switch (node.kind) {
      case 'name':
        if (node.parts.length > 1 || node.every || !steps.has(fold(node.parts[0].name))) visit(node)
        return
      case 'tag':
        return visit(node)
      case 'call': {
        const record = functionNamed(node.name.name)
        if (record !== undefined && isOverRows(record)) return
        const { name, args } = node
        const away = new Set(record === undefined ? args.filter((_, index) => !isOfRow(name.name, index)) : [])
        for (const child of childrenOf(node)) if (!away.has(child)) walk(child, steps)
        return
      }
      case 'let':
        walk(node.bound, steps)
        return walk(node.body, new Set([...steps, fold(node.name.name)]))
      default:
        for (const child of childrenOf(node)) walk(child, steps)
    }
  }
  walk(tree, new Set())
}

/** All parts of names anywhere in a formula, folded. */
export function namesIn(tree: Syntax, fold: (name: string) => string): Set<string> {
  const names = new Set<string>()
  const open: Syntax[] = [tree]
  for (let node = open.pop(); node !== undefined; node = open.pop()) {
    if (node.kind === 'name') for (const { name } of node.parts) names.add(fold(name))
    for (const child of childrenOf(node)) open.push(child)
  }
  return names
}

/** Calls of functions that are none of the language, by their folded names. */
export function visitCalls(tree: Syntax, fold: (name: string) => string): { name: string; from: number; to: number }[] {
  const calls: { name: string; from: number; to: number }[] = []
  const open: Syntax[] = [tree]
  for (let node = open.pop(); node !== undefined; node = open.pop()) {
    if (node.kind === 'call' && functionNamed(node.name.name) === undefined) {
      const { name, from, to } = node.name
      calls.push({ name: fold(name), from, to })
    }
    for (const child of childrenOf(node)) open.push(child)
  }
  return calls
}

/** The parts of a node, left to right; those of clauses come after the arguments. */
export function childrenOf(node: Syntax): readonly Syntax[] {
  switch (node.kind) {
    case 'literal':
    case 'name':
    case 'tag':
    case 'missing':
      return []
    case 'group':
      return [node.inner]
    case 'unary':
      return [node.operand]
    case 'chain':
      return [node.first, ...node.rest.map((link) => link.operand)]
    case 'power':
      return [node.base, node.exponent]
    case 'compare':
      return [node.left, node.right]
    case 'between':
      return [node.value, node.low, node.high]
    case 'in':
      return [node.value, ...node.members]
    case 'is':
      return [node.value]
    case 'call':
      return [...node.args, ...node.clauses.flatMap(partsOfClause)]
    case 'rated':
      return [node.value, node.amount]
    case 'case':
      return [
        ...(node.subject === null ? [] : [node.subject]),
        ...node.branches.flatMap(({ condition, value }) => [condition, value]),
        ...(node.otherwise === null ? [] : [node.otherwise]),
      ]
    case 'let':
      return [node.bound, node.body]
  }
}

/** The formulas inside a clause. */
function partsOfClause(clause: Clause): readonly Syntax[] {
  switch (clause.kind) {
    case 'where':
      return [clause.condition]
    case 'by':
      return clause.keys
    case 'order by':
      return clause.keys.map(({ key }) => key)
    default:
      return []
  }
}
