import { type Finding, finding, hasErrors } from '../../findings/index.js'
import { type FunctionRecord, functionNamed } from '../../functions/index.js'
import type { Unit } from '../../units/index.js'
import type { Parsed, Syntax } from '../syntax/index.js'
import { checkArithmetic, checkPower, checkUnary } from './arithmetic.js'
import { checkCall } from './calls.js'
import type { Checked, CheckedFormula } from './checked.js'
import { checkResults } from './choice-lists.js'
import { checkCase, checkDefault } from './choices.js'
import { columnUses } from './column-uses.js'
import { checkBetween, checkIn, checkLogic, compare } from './comparisons.js'
import { CheckContext } from './context.js'
import { hintMissingSeparator, hintSameOnEveryRow } from './hints.js'
import { checkLet, checkName } from './names.js'
import { apply, call, constant } from './nodes.js'
import { comparisonOperator } from './operators.js'
import { checkPath } from './paths.js'
import type { Scope } from './scope.js'
import { certainUnit, checkDeclaredUnit, unitOf } from './units/index.js'

/** The column that a formula is for, as far as its result is checked against it. */
export interface FormulaTarget {
  readonly name?: string
  readonly choices?: readonly string[]
  /** The unit that is declared for it. */
  readonly unit?: Unit
}

/** Most findings of one formula that are told in full. */
const MOST_FINDINGS = 20

/**
 * Resolves names, infers types and chooses operators (docs/language, "Operators" and "Values"). Never throws; what is wrong
 * is a finding and has the type `unknown`, so that one mistake is reported once.
 */
export function checkFormula(parsed: Parsed, scope: Scope, target: FormulaTarget = {}): CheckedFormula {
  const context = new CheckContext(parsed, scope, checkNode)
  const expression = context.check(parsed.tree)
  if (!hasErrors(context.findings) && scope.ownRows === undefined) hintSameOnEveryRow(context, expression)
  if (target.choices !== undefined) checkResults(context, expression, target.name ?? '', target.choices)
  context.isWithinCalls = true
  const unit = hasErrors(context.findings) ? null : unitOfResult(context, expression, target)
  const findings = firstOf(context.findings.sort((a, b) => (a.from ?? 0) - (b.from ?? 0)))
  return {
    expression,
    unit,
    findings,
    watches: context.watches,
    references: context.references,
    uses: columnUses(expression),
    text: context.text,
    calls: context.written.calls,
    functions: context.functions,
    tables: [...new Map(context.tables.map((one) => [one.from, one])).values()],
  }
}

/** The unit that a formula gives, having said where quantities do not go together and where another one is declared. */
function unitOfResult(context: CheckContext, expression: Checked, { name, unit: declared }: FormulaTarget): Unit | null {
  const reading = unitOf(context, expression)
  if (reading === null || typeof reading === 'number') return null
  if (declared !== undefined && name !== undefined) checkDeclaredUnit(context, expression, name, declared, reading)
  const unit = certainUnit(reading)
  return unit === null || !context.units.isPrivate ? unit : { ...unit, isPrivate: true }
}

/** The first findings by place; the rest are counted. */
function firstOf(findings: readonly Finding[]): readonly Finding[] {
  const rest = findings.slice(MOST_FINDINGS)
  if (rest.length === 0) return findings
  const [first, last] = [rest[0] as Finding, rest.at(-1) as Finding]
  const code = hasErrors(rest) ? 'more-errors' : 'more-remarks'
  const place = { from: first.from ?? 0, to: Math.max(first.to ?? 0, last.to ?? 0) }
  return [...findings.slice(0, MOST_FINDINGS), finding(code, { count: rest.length }, place)]
}

function checkNode(context: CheckContext, node: Syntax): Checked {
  switch (node.kind) {
    case 'literal':
      return constant(node.value, node.type, node)
    case 'name':
      return node.parts.length > 1 || node.every ? checkPath(context, node) : checkName(context, node)
    case 'tag':
      context.report(
        'not-here',
        {
          found: `#${node.name}`,
          reason: 'a tag stands for columns; it belongs into a function across them, such as sum_of(#tag).',
        },
        node,
      )
      return context.unknown(node)
    case 'group':
      return context.check(node.inner)
    case 'unary':
      return checkUnary(context, node)
    case 'chain':
      return checkChain(context, node)
    case 'power':
      return checkPower(context, node)
    case 'compare':
      return checkCompared(context, node)
    case 'between':
      return checkBetween(context, node)
    case 'in':
      return checkIn(context, node)
    case 'is': {
      const value = node.what === 'error' ? context.whileCaught(() => context.check(node.value)) : context.check(node.value)
      const test = apply(node.what === 'blank' ? 'is-blank' : 'is-error', [value], 'boolean', node, { mayBeBlank: false })
      // `is blank` asks about blanks only: an error passes through. `is error` never fails.
      const asked = { ...test, mayFail: node.what === 'blank' && value.mayFail }
      return node.negated ? apply('not', [asked], 'boolean', node) : asked
    }
    case 'call':
      return checkCall(context, node)
    case 'rated':
      // Only a call has rated arguments, and checks them itself.
      return context.check(node.value)
    case 'case':
      return checkCase(context, node)
    case 'let':
      return checkLet(context, node)
    case 'missing':
      return context.unknown(node)
  }
}

function checkChain(context: CheckContext, node: Syntax & { kind: 'chain' }): Checked {
  switch (node.level) {
    case 'or':
    case 'and':
      return checkLogic(context, node.level, node)
    case 'default':
      return checkDefault(context, node)
    case 'join': {
      const operands = [node.first, ...node.rest.map((link) => link.operand)]
      hintMissingSeparator(context, operands)
      const checked = operands.map((one) => context.check(one))
      return call(functionNamed('concat') as FunctionRecord, checked, 'text', node)
    }
    case 'sum':
    case 'product':
      return checkArithmetic(context, node)
  }
}

/** A comparison; a word beside a text that is no name may be a text without its quotes. */
function checkCompared(context: CheckContext, node: Syntax & { kind: 'compare' }): Checked {
  const left = context.check(node.left)
  const right = left.type === 'text' ? context.besideText(() => context.check(node.right)) : context.check(node.right)
  return compare(context, comparisonOperator(node.operator), left, right, node)
}
