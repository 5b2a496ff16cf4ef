import type { Syntax } from '../syntax/index.js'
import type { Checked, CheckedLink, Operator } from './checked.js'
import type { CheckContext } from './context.js'
import { hintShareOfItself } from './hints.js'
import { apply, factsOf, toTime } from './nodes.js'
import { arithmeticTyping } from './operators.js'
import { type ExpressionType, isOpen, typeWords } from './types.js'

/** A sign or `not`. */
export function checkUnary(context: CheckContext, node: Syntax & { kind: 'unary' }): Checked {
  const operand = context.check(node.operand)
  const wanted = node.operator === 'not' ? 'boolean' : 'number'
  if (!context.expect(operand, wanted, `"${node.operator}"`)) return context.unknown(node)
  if (node.operator === '+') return operand
  return apply(node.operator === 'not' ? 'not' : 'negate', [operand], wanted, node)
}

/** A power. */
export function checkPower(context: CheckContext, node: Syntax & { kind: 'power' }): Checked {
  const base = context.check(node.base)
  const exponent = context.check(node.exponent)
  const fits = [context.expect(base, 'number', '"^"'), context.expect(exponent, 'number', '"^"')]
  return fits.includes(false) ? context.unknown(node) : apply('power', [base, exponent], 'number', node, { mayFail: true })
}

/** A chain of `+ -` or `* / per`: each link is typed with all that stands left of it. */
export function checkArithmetic(context: CheckContext, node: Syntax & { kind: 'chain' }): Checked {
  let first = context.check(node.first)
  let rest: CheckedLink[] = []
  let fits = first.type !== 'unknown'
  for (const [index, link] of node.rest.entries()) {
    const before = node.rest[index - 1]?.operand ?? node.first
    if (link.operator === '/' || link.operator === 'per') hintShareOfItself(context, before, link.operand, link)
    const operand = context.check(link.operand)
    const value = rest.at(-1) ?? first
    const typing = arithmeticTyping(link.operator, fits ? value.type : 'unknown', operand.type)
    if (typing === null) arithmeticMismatch(context, link.operator, value, operand)
    if (typing === null || typing.type === 'unknown') {
      fits = false
      continue
    }
    if (typing.toTime === true && value.type === 'date') {
      first = toTime(
        rest.length === 0 ? first : { ...factsOf(value), kind: 'chain', first, rest, from: value.from, to: value.to },
      )
      rest = []
    }
    rest.push(
      arithmeticLink(
        context,
        typing.operator,
        typing.type,
        value,
        typing.toTime === true ? toTime(operand) : operand,
        link,
        node,
      ),
    )
  }
  const last = rest.at(-1)
  if (!fits) return context.unknown(node)
  return last === undefined ? first : { ...factsOf(last), kind: 'chain', first, rest, from: node.from, to: last.to }
}

function arithmeticLink(
  context: CheckContext,
  operator: Operator,
  type: ExpressionType,
  left: Checked | CheckedLink,
  operand: Checked,
  link: { from: number; to: number },
  node: Syntax,
): CheckedLink {
  const divisor = operand.kind === 'constant' ? operand.value : undefined
  const facts = {
    type,
    mayBeBlank: left.mayBeBlank || operand.mayBeBlank || (operator === 'per' && (divisor === undefined || divisor === 0)),
    mayFail: true,
    from: node.from,
    to: operand.to,
  }
  if (isInterval(operator, left, operand)) return { ...facts, operator, operand, ...watchNegative(context, left, operand) }
  if (operator !== 'divide' || divisor !== undefined) return { ...facts, operator, operand }
  const subject = context.source(operand)
  const fixes = [
    {
      title: 'Divide with per, which gives blank there',
      edits: [{ from: link.from, to: link.to, insert: spaced(context, 'per', link) }],
    },
  ]
  return {
    ...facts,
    operator,
    operand,
    ...context.watch({ code: 'division-by-zero', subject, from: operand.from, to: operand.to, fixes }),
  }
}

/** True for the days between two columns. */
function isInterval(operator: Operator, left: Checked | CheckedLink, right: Checked): boolean {
  const isDates = operator === 'time-difference' || (operator === 'subtract' && left.type === 'date')
  return isDates && isColumn(left) && isColumn(right)
}

function isColumn(value: Checked | CheckedLink): boolean {
  if (!('kind' in value)) return false
  return (
    value.kind === 'column' || (value.kind === 'apply' && value.operator === 'day-to-time' && value.args[0]?.kind === 'column')
  )
}

function watchNegative(context: CheckContext, left: { from: number; to: number }, right: Checked): { watch?: number } {
  const subject = `${context.source(left)} is before ${context.source(right)}`
  return context.watch({ code: 'negative-interval', subject, from: left.from, to: right.to, fixes: [] })
}

/** A word that replaces a sign, with spaces where its neighbours would run into it. */
function spaced(context: CheckContext, word: string, at: { from: number; to: number }): string {
  const before = /\s/.test(context.text[at.from - 1] ?? ' ') ? '' : ' '
  const after = /\s/.test(context.text[at.to] ?? ' ') ? '' : ' '
  return before + word + after
}

function arithmeticMismatch(context: CheckContext, operator: string, left: Checked | CheckedLink, right: Checked): void {
  const place = `"${operator}"`
  const leftFits = left.type === 'number' || isOpen(left.type) || (left.type !== 'text' && left.type !== 'boolean')
  if (!leftFits) context.mismatch(place, operator === '+' || operator === '-' ? 'number or date' : 'number', left, 'number')
  if (right.type === 'text' || right.type === 'boolean') context.mismatch(place, 'number', right, 'number')
  else if (leftFits)
    context.report(
      'type-mismatch',
      { place, expected: 'types that go together', received: `${typeWords(left.type)} and ${typeWords(right.type)}` },
      { from: left.from, to: right.to },
    )
}
