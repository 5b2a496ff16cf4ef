import type { SetFunction } from '../../src/book/schemas/index.js'
import { childrenOf, parseFormula, type Syntax } from '../../src/formula/syntax/index.js'
import { printName } from '../../src/values/index.js'

/** A formula told as a call of functions that are made up for it: what it means is what it meant. */
export interface Abstracted {
  readonly call: string
  readonly functions: readonly SetFunction[]
}

/** Most parameters that a function may have. */
const MOST_PARAMETERS = 20
/** What can be given to a function as it stands. */
const GIVEN: ReadonlySet<Syntax['kind']> = new Set([
  'unary',
  'chain',
  'power',
  'compare',
  'between',
  'in',
  'is',
  'call',
  'case',
  'group',
])

/** Chance that is the same for the same seed. */
function chance(seed: number): () => number {
  let state = seed
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0
    return state / 2 ** 32
  }
}

/**
 * Makes functions of a formula: its names, and some of its parts by chance, become parameters; then the same is done with the
 * formula of the function, so that functions call functions.
 *
 * @param values - names that are named values, which functions may read themselves
 * @returns null where it has too many names, or a part that no function can have and that cannot be given as a whole
 */
export function abstracted(formula: string, name: string, seed: number, values: readonly string[] = []): Abstracted | null {
  const random = chance(seed)
  const first = abstractOnce(formula, name, random, values)
  if (first === null || random() < 0.5) return first
  const [outer] = first.functions as [SetFunction]
  const second = abstractOnce(outer.formula, `${name}_inner`, random, values)
  if (second === null) return first
  return { call: first.call, functions: [{ ...outer, formula: second.call }, ...second.functions] }
}

function abstractOnce(formula: string, name: string, random: () => number, values: readonly string[]): Abstracted | null {
  const { tree } = parseFormula(formula)
  const given: string[] = []
  const parameterOf = (text: string): string => {
    const at = given.indexOf(text)
    if (at < 0) given.push(text)
    return `p${at < 0 ? given.length - 1 : at}`
  }
  let isPossible = true
  const write = (node: Syntax, steps: ReadonlySet<string>): string => {
    const text = formula.slice(node.from, node.to)
    const canBeGiven = GIVEN.has(node.kind) && !readsStep(node, steps)
    if (node.kind === 'name') return writeName(node, text, steps)
    if (needsTable(node)) {
      if (canBeGiven) return parameterOf(text)
      isPossible &&= !hasPath(node) && node.kind !== 'tag'
    }
    if (canBeGiven && random() < 0.15) return parameterOf(text)
    const inside = node.kind === 'let' ? new Set([...steps, node.name.name]) : steps
    let written = ''
    let at = node.from
    for (const child of [...childrenOf(node)].sort((a, b) => a.from - b.from)) {
      written += formula.slice(at, child.from) + write(child, inside)
      at = child.to
    }
    return written + formula.slice(at, node.to)
  }
  const writeName = (node: Syntax & { kind: 'name' }, text: string, steps: ReadonlySet<string>): string => {
    const [head, ...rest] = node.parts
    const isStep = (part: string): boolean => steps.has(part)
    if (head.name === 'this')
      return isStep(rest[0]?.name ?? '') ? text : `this.${parameterOf(rest.map((part) => printName(part.name)).join('.'))}`
    const isOwn = head.name === 'book' || (rest.length === 0 && values.includes(head.name))
    return isStep(head.name) || (isOwn && random() < 0.7) ? text : parameterOf(text)
  }
  const body = write(tree, new Set())
  if (!isPossible || given.length > MOST_PARAMETERS) return null
  const parameters = given.map((_, at) => `p${at}`)
  return { call: `${name}(${given.join(', ')})`, functions: [{ op: 'set-function', name, parameters, formula: body }] }
}

/** True for what names a link or a tag, which belong to a table. */
function hasPath(node: Syntax): boolean {
  return node.kind === 'call' && node.clauses.some(({ kind }) => kind === 'via' || kind === 'below')
}

function needsTable(node: Syntax): boolean {
  return node.kind === 'tag' || hasPath(node) || (node.kind === 'call' && node.args.some((arg) => arg.kind === 'tag'))
}

function readsStep(node: Syntax, steps: ReadonlySet<string>): boolean {
  if (node.kind === 'name') return node.parts.some((part) => steps.has(part.name))
  return childrenOf(node).some((child) => readsStep(child, steps))
}
