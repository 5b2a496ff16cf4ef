import type { Syntax } from '../syntax/index.js'
import type { Checked, CheckedLink, Operator } from './checked.js'
import { checkChoices } from './choice-lists.js'
import type { CheckContext } from './context.js'
import { apply, both, constant, toTime } from './nodes.js'
import { comparedType } from './operators.js'
import { typeWords } from './types.js'

/** A chain of `and` or `or`. */
export function checkLogic(context: CheckContext, operator: 'and' | 'or', node: Syntax & { kind: 'chain' }): Checked {
  const first = context.check(node.first)
  let fits = context.expect(first, 'boolean', `"${operator}"`)
  let before: Checked = first
  const rest: CheckedLink[] = []
  for (const link of node.rest) {
    const operand = context.check(link.operand)
    fits = context.expect(operand, 'boolean', `"${operator}"`) && fits
    before = { ...before, mayBeBlank: before.mayBeBlank || operand.mayBeBlank, mayFail: before.mayFail || operand.mayFail }
    rest.push({
      operator,
      operand,
      type: 'boolean',
      mayBeBlank: before.mayBeBlank,
      mayFail: before.mayFail,
      from: node.from,
      to: operand.to,
    })
  }
  if (!fits) return context.unknown(node)
  return {
    kind: 'chain',
    first,
    rest,
    type: 'boolean',
    mayBeBlank: before.mayBeBlank,
    mayFail: before.mayFail,
    from: node.from,
    to: node.to,
  }
}

/** A comparison of two checked sides. */
export function compare(
  context: CheckContext,
  operator: Operator,
  left: Checked,
  right: Checked,
  node: { from: number; to: number },
): Checked {
  const type = comparedType(operator, left.type, right.type)
  if (type === null) {
    const sign = `"${signOf(operator)}"`
    if (left.type === right.type)
      context.report('type-mismatch', { place: sign, expected: 'values with an order', received: typeWords(left.type) }, node)
    else {
      const toConvert = left.type === 'text' && right.type === 'number' ? left : right
      const other = toConvert === left ? right : left
      context.mismatch(`${sign} beside ${typeWords(other.type)}`, typeWords(other.type), toConvert, other.type)
    }
    return { ...context.unknown({ kind: 'missing', ...node }) }
  }
  checkChoices(context, left, right)
  const blankSide = [left, right].find((side) => side.kind === 'constant' && side.type === 'blank')
  if (blankSide !== undefined && operator !== 'member') {
    const other = blankSide === left ? right : left
    const fixes =
      // The subject of a case stands elsewhere; there is nothing to rewrite in its `when`.
      (operator === 'equal' || operator === 'unequal') && other.from >= node.from && other.to <= node.to
        ? [
            {
              title: 'Ask "is blank"',
              edits: [
                {
                  from: node.from,
                  to: node.to,
                  insert: `${context.source(other)} is ${operator === 'unequal' ? 'not ' : ''}blank`,
                },
              ],
            },
          ]
        : []
    context.report('compared-with-blank', {}, node, fixes)
  }
  const sides = type === 'datetime' ? [toTime(left), toTime(right)] : [left, right]
  return apply(operator, sides, 'boolean', node, operator === 'member' ? { mayBeBlank: left.mayBeBlank } : {})
}

/** `between`, told as two comparisons with a value that is computed once. */
export function checkBetween(context: CheckContext, node: Syntax & { kind: 'between' }): Checked {
  const value = context.check(node.value)
  const [low, high] = [context.check(node.low), context.check(node.high)]
  const test = context.withStep('', value, node, (read) => {
    const atLeast = compare(context, 'greater-equal', read, low, node)
    const atMost = compare(context, 'less-equal', read, high, node)
    if (atLeast.type === 'unknown' || atMost.type === 'unknown') return context.unknown(node)
    return both('and', [atLeast, atMost], node)
  })
  return node.negated && test.type !== 'unknown' ? apply('not', [test], 'boolean', node) : test
}

/** `in`, told as comparisons joined by `or`. */
export function checkIn(context: CheckContext, node: Syntax & { kind: 'in' }): Checked {
  const value = context.check(node.value)
  const members = node.members.map((member) => context.check(member))
  const test = context.withStep('', value, node, (read) => {
    const tests = members.map((member) => compare(context, 'member', read, member, member))
    if (tests.length === 0) return compare(context, 'member', read, constant(null, 'blank', node), node)
    if (tests.some((one) => one.type === 'unknown')) return context.unknown(node)
    return both('or', tests as [Checked, ...Checked[]], node)
  })
  return node.negated && test.type !== 'unknown' ? apply('not', [test], 'boolean', node) : test
}

function signOf(operator: Operator): string {
  const signs: Partial<Record<Operator, string>> = {
    equal: '=',
    unequal: '<>',
    less: '<',
    'less-equal': '<=',
    greater: '>',
    'greater-equal': '>=',
    member: 'in',
  }
  return signs[operator] ?? operator
}
