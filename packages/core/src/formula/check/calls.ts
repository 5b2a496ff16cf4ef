import { FUNCTIONS, type FunctionRecord, functionNamed } from '../../functions/index.js'
import type { Syntax } from '../syntax/index.js'
import type { Checked } from './checked.js'
import { checkCondition, choose, coalesce } from './choices.js'
import type { CheckContext } from './context.js'
import { call, toTime } from './nodes.js'
import { commonType, type ExpressionType, isOpen, typeWords } from './types.js'

/** A call of a function: counted, typed, and made a choice where its form is one. */
export function checkCall(context: CheckContext, node: Syntax & { kind: 'call' }): Checked {
  const record = functionNamed(node.name.name)
  if (record === undefined) {
    const near = context.nearest(
      node.name.name,
      FUNCTIONS.map((one) => one.name),
    )
    const hint = near === undefined ? '' : ` Nearest name: ${near}.`
    const fixes =
      near === undefined ? [] : [{ title: `Use ${near}`, edits: [{ from: node.name.from, to: node.name.to, insert: near }] }]
    context.report('unknown-function', { name: node.name.name, hint }, node.name, fixes)
    for (const arg of node.args) context.check(arg)
    return context.unknown(node)
  }
  if (!countsMatch(context, record, node)) {
    for (const arg of node.args) context.check(arg)
    return context.unknown(node)
  }
  if (record.form === 'if') {
    const [condition, then, otherwise] = node.args as [Syntax, Syntax, Syntax]
    return choose(
      context,
      [{ syntax: condition, checked: checkCondition(context, condition) }],
      [context.check(then)],
      context.check(otherwise),
      node,
    )
  }
  const args = node.args.map((arg) => context.check(arg))
  if (record.form === 'coalesce') return coalesce(context, args, node, record.name)
  const typed = typeArguments(context, record, args)
  if (typed === null) return context.unknown(node)
  if (record.form === 'if_error') {
    const [value, otherwise] = typed.args as [Checked, Checked]
    const facts = { type: typed.type, mayBeBlank: value.mayBeBlank || otherwise.mayBeBlank, mayFail: otherwise.mayFail }
    return { kind: 'if-error', value, otherwise, ...facts, from: node.from, to: node.to }
  }
  return call(record, typed.args, typed.type, node)
}

function countsMatch(context: CheckContext, record: FunctionRecord, node: Syntax & { kind: 'call' }): boolean {
  const { parameters } = record
  const least = parameters.filter((one) => !one.optional).length
  const most = parameters.some((one) => one.repeats) ? Number.POSITIVE_INFINITY : parameters.length
  const received = node.args.length
  if (received >= least && received <= most) return true
  const counted = (count: number): string => `${count} ${count === 1 ? 'argument' : 'arguments'}`
  const expected =
    most === least
      ? counted(least)
      : most === Number.POSITIVE_INFINITY
        ? `at least ${counted(least)}`
        : `${least} to ${counted(most)}`
  context.report(
    'argument-count',
    { name: record.name, expected, received: received === 0 ? 'none' : received, form: record.name + record.signature },
    node,
  )
  return false
}

function typeArguments(
  context: CheckContext,
  record: FunctionRecord,
  args: readonly Checked[],
): { args: Checked[]; type: ExpressionType } | null {
  let shared: ExpressionType = 'blank'
  let fits = true
  args.forEach((arg, index) => {
    const parameter = record.parameters[Math.min(index, record.parameters.length - 1)] as FunctionRecord['parameters'][number]
    const place = `${record.name}, argument ${index + 1} (${parameter.name}),`
    if (parameter.types.includes('T')) {
      const common = commonType(shared, arg.type)
      if (common === null) context.mismatch(place, typeWords(shared), arg, shared)
      fits = fits && common !== null
      shared = common ?? shared
    } else if (!isOpen(arg.type) && !parameter.types.includes('any') && !parameter.types.includes(arg.type)) {
      const wanted = parameter.types[0] as ExpressionType
      context.mismatch(place, parameter.types.map((type) => typeWords(type as ExpressionType)).join(' or '), arg, wanted)
      fits = false
    }
  })
  if (!fits) return null
  const brought = args.map((arg, index) =>
    shared === 'datetime' && record.parameters[index]?.types.includes('T') ? toTime(arg) : arg,
  )
  const first = brought[0]
  if (record.result === 'T') return { args: brought, type: shared }
  if (record.result === 'same') return { args: brought, type: first === undefined || isOpen(first.type) ? 'date' : first.type }
  return { args: brought, type: record.result as ExpressionType }
}
