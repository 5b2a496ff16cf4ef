import { hasErrors } from '../../findings/index.js'
import { functionNamed, guideOf } from '../../functions/index.js'
import { foldName, printName } from '../../values/index.js'
import { type CheckedFormula, checkFormula, type ExpressionType, type Scope } from '../check/index.js'
import { childrenOf, parseFormula, type Syntax, visitCalls } from '../syntax/index.js'
import type { PhraseContext } from './phrase-context.js'
import { hasWords, phrase } from './phrases.js'

/** One line of an explanation; `depth` is how far it is set in. */
export interface ExplanationLine {
  readonly depth: number
  readonly text: string
}

/** A formula in plain English. */
export interface Explanation {
  /** What it computes: steps by name, conditions as a list, the rest as a phrase. */
  readonly lines: readonly ExplanationLine[]
  /** Where the result is blank or an error, and what the functions used do. */
  readonly notes: readonly string[]
  /** Type of the result; `unknown` where the formula has mistakes. */
  readonly type: ExpressionType
}

/** Explains a formula in the names of a table. A formula with mistakes is explained as far as it can be read. */
export function explainFormula(text: string, scope: Scope): Explanation {
  const parsed = parseFormula(text)
  const checked = checkFormula(parsed, scope)
  const lines: ExplanationLine[] = []
  const context = { text, scope }
  const add = (depth: number, line: string): void => {
    lines.push({ depth, text: line })
  }
  const whole = (node: Syntax, depth: number, lead: string): void => {
    if (node.kind === 'group') return whole(node.inner, depth, lead)
    if (node.kind === 'let') {
      whole(node.bound, depth, `Step ${phrase({ ...node, kind: 'name', every: false, parts: [node.name] }, context)}: `)
      return whole(node.body, depth, depth === 0 ? 'Result: ' : 'Then: ')
    }
    const choice = flatChoice(node)
    if (choice === null) return add(depth, `${capital(lead + phrase(node, context))}.`)
    add(depth, `${lead}The first of these whose condition is true:`)
    for (const [index, branch] of choice.branches.entries()) {
      const condition =
        choice.subject === null
          ? phrase(branch.condition, context)
          : `${phrase(choice.subject, context)} equals ${phrase(branch.condition, context)}`
      if (isBlock(branch.value)) {
        add(depth + 1, `${index + 1}. where ${condition}:`)
        whole(branch.value, depth + 2, '')
      } else add(depth + 1, `${index + 1}. where ${condition}: ${phrase(branch.value, context)}`)
    }
    if (choice.otherwise === null) add(depth + 1, 'otherwise: blank')
    else if (isBlock(choice.otherwise)) {
      add(depth + 1, 'otherwise:')
      whole(choice.otherwise, depth + 2, '')
    } else add(depth + 1, `otherwise: ${phrase(choice.otherwise, context)}`)
  }
  whole(parsed.tree, 0, '')
  return { lines, notes: notesOf(parsed.tree, checked, context), type: checked.expression.type }
}

/** The explanation as text, set in by two spaces a level, the notes below it. */
export function explanationText({ lines, notes }: Pick<Explanation, 'lines' | 'notes'>): string {
  return [...lines.map(({ depth, text }) => '  '.repeat(depth) + text), ...(notes.length > 0 ? [''] : []), ...notes].join('\n')
}

function capital(text: string): string {
  // A name or a literal keeps its letters; a phrase begins like a sentence.
  return /^(the|minus|not|whether|all|rows|today|now|this|its)\b/.test(text) ? text.charAt(0).toUpperCase() + text.slice(1) : text
}

interface Choice {
  readonly subject: Syntax | null
  readonly branches: readonly { readonly condition: Syntax; readonly value: Syntax }[]
  readonly otherwise: Syntax | null
}

function branchesOf(node: Syntax): Choice | null {
  if (node.kind === 'case') return node
  if (node.kind !== 'call' || node.name.name.toLowerCase() !== 'if' || node.args.length !== 3) return null
  const [condition, value, otherwise] = node.args as [Syntax, Syntax, Syntax]
  return { subject: null, branches: [{ condition, value }], otherwise }
}

/** A choice with the choices that stand as its last branch: one list, since they are tried one after the other. */
function flatChoice(node: Syntax): Choice | null {
  const choice = branchesOf(node)
  if (choice === null || choice.subject !== null || choice.otherwise === null) return choice
  const last = flatChoice(ungrouped(choice.otherwise))
  if (last === null || last.subject !== null) return choice
  return { subject: null, branches: [...choice.branches, ...last.branches], otherwise: last.otherwise }
}

function ungrouped(node: Syntax): Syntax {
  return node.kind === 'group' ? ungrouped(node.inner) : node
}

function isBlock(node: Syntax): boolean {
  if (node.kind === 'group') return isBlock(node.inner)
  return node.kind === 'let' || branchesOf(node) !== null
}

function notesOf(tree: Syntax, checked: CheckedFormula, context: PhraseContext): string[] {
  const { text, scope } = context
  const notes: string[] = []
  const all = nodesOf(tree)
  const isStrict = all.every((node) => isStrictNode(node))
  const sources = [...new Set(all.flatMap((node) => (node.kind === 'name' ? [text.slice(node.from, node.to)] : [])))]
  const zeros = divisorsOf(all, 'per', text)
  const causes = [...sources.map((name) => `${name} is blank`), ...zeros.map((name) => `${name} is zero`)]
  if (isStrict && causes.length > 0) notes.push(`Blank where ${orList(causes)}.`)
  else {
    // Of a name that is not known no one can say whether it is blank.
    if (!hasErrors(checked.findings) && !checked.expression.mayBeBlank) notes.push('Never blank.')
    if (zeros.length > 0) notes.push(`Dividing gives blank where ${orList(zeros)} is zero or blank.`)
  }
  if (all.some((node) => branchesOf(node) !== null))
    notes.push('A blank condition is not true, so its branch is not taken; a condition that fails gives its error.')
  const names = divisorsOf(all, '/', text)
  if (names.length > 0) notes.push(`The error division-by-zero where ${orList(names)} is zero.`)
  const functions = new Set(all.flatMap((node) => (node.kind === 'call' ? [node.name.name.toLowerCase()] : [])))
  for (const name of functions) {
    const record = functionNamed(name)
    if (record === undefined) continue
    if (!hasWords(record)) notes.push(`${record.name}: ${guideOf(record).doc}`)
    if (record.errors.length > 0) notes.push(`The error ${orList([...record.errors])} where ${record.name}(…) has no result.`)
  }
  notes.push(...ownNotes(tree, scope))
  return notes
}

/** What the own functions do that a formula calls, each followed by those that it calls itself. */
function ownNotes(tree: Syntax, scope: Scope): string[] {
  const notes = new Map<string, string>()
  const tell = (within: Syntax): void => {
    for (const { name } of visitCalls(within, foldName)) {
      const own = scope.functionNamed(name)
      if (own === undefined || notes.has(name)) continue
      const form = `${own.name}(${own.parameters.map((one) => printName(one.name)).join(', ')})`
      const note = own.note === null ? '' : ` ${own.note.replace(/([^.!?])$/, '$1.')}`
      notes.set(name, `${form} is ${phrase(own.body.tree, { text: own.body.text, scope })}.${note}`)
      tell(own.body.tree)
    }
  }
  tell(tree)
  return [...notes.values()]
}

/** What is divided by with an operator, as written, without numbers written out. */
function divisorsOf(nodes: readonly Syntax[], operator: string, text: string): string[] {
  const divisors = nodes.flatMap((node) =>
    node.kind === 'chain' ? node.rest.flatMap((link) => (link.operator === operator ? [link.operand] : [])) : [],
  )
  return [...new Set(divisors.filter((one) => one.kind !== 'literal').map((one) => text.slice(one.from, one.to)))]
}

/** True for nodes that are blank exactly where a part is. */
function isStrictNode(node: Syntax): boolean {
  if (node.kind === 'chain') return node.level === 'sum' || node.level === 'product'
  if (node.kind === 'literal') return node.type !== 'blank'
  if (node.kind === 'call') {
    const record = functionNamed(node.name.name)
    return record?.kernel !== undefined && /^(a|any) blank( argument)? gives blank$/.test(guideOf(record).blanks)
  }
  return ['name', 'group', 'unary', 'power', 'compare', 'between'].includes(node.kind)
}

function nodesOf(tree: Syntax): Syntax[] {
  const nodes: Syntax[] = [tree]
  for (let at = 0; at < nodes.length; at++) nodes.push(...childrenOf(nodes[at] as Syntax))
  return nodes
}

function orList(names: readonly string[]): string {
  return names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} or ${names.at(-1)}`
}
