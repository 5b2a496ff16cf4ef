import { FUNCTIONS, type FunctionRecord, functionNamed, isOverRows } from '../../functions/index.js'
import type { Syntax } from '../syntax/index.js'
import { checkAcross } from './across.js'
import { watchAngle } from './angles.js'
import { countsMatch, typeArguments } from './arguments.js'
import type { Checked } from './checked.js'
import { checkCondition, choose, coalesce } from './choices.js'
import { clausesFit } from './clauses.js'
import type { CheckContext } from './context.js'
import { checkHolidays } from './holidays.js'
import { call } from './nodes.js'
import { checkOverRows } from './over-rows.js'
import { checkOwnCall } from './own/index.js'
import { partsOfCall } from './parts-of-call.js'
import { checkTextRule } from './text-rule.js'
import type { ExpressionType } from './types.js'
import { checkConvert } from './units/index.js'

type CallNode = Syntax & { kind: 'call' }

/** A call of a function: counted, typed, and made a choice where its form is one. */
export function checkCall(context: CheckContext, node: CallNode): Checked {
  const record = functionNamed(node.name.name)
  if (record === undefined) {
    const own = context.scope.functionNamed(node.name.name)
    if (own === undefined) return unknownFunction(context, node)
    return isFinished(context, node) ? checkOwnCall(context, own, node) : leftUnknown(context, node)
  }
  if (record.formerNames?.includes(node.name.name.toLowerCase()) === true) hintFormerName(context, record, node)
  if (!isFinished(context, node)) return leftUnknown(context, node)
  const clausesAreRight = clausesFit(context, record, node)
  if (isOverRows(record)) return clausesAreRight ? checkOverRows(context, record, node) : context.unknown(node)
  if (!clausesAreRight) return leftUnknown(context, node)
  if (record.family === 'across') return checkAcross(context, record, node)
  const withHolidays = checkHolidays(context, record, node)
  const written = withHolidays?.args ?? node.args
  if (!countsMatch(context, withHolidays?.record ?? record, node, written.length)) return leftUnknown(context, node)
  if (record.form === 'if') {
    const [condition, then, otherwise] = written as [Syntax, Syntax, Syntax]
    return choose(
      context,
      [{ syntax: condition, checked: checkCondition(context, condition) }],
      [context.check(then)],
      context.check(otherwise),
      node,
    )
  }
  const args = written.map((arg, index) =>
    record.form === 'if_error' && index === 0 ? context.whileCaught(() => context.check(arg)) : context.check(arg),
  )
  if (record.form === 'coalesce') return coalesce(context, args, node, record.name)
  const typed = typeArguments(context, withHolidays?.record ?? record, args)
  if (typed === null || !checkTextRule(context, withHolidays?.record ?? record, typed.args)) return context.unknown(node)
  if (record.form === 'if_error') {
    const [value, otherwise] = typed.args as [Checked, Checked]
    const facts = { type: typed.type, mayBeBlank: value.mayBeBlank || otherwise.mayBeBlank, mayFail: otherwise.mayFail }
    return { kind: 'if-error', value, otherwise, ...facts, from: node.from, to: node.to }
  }
  if (record.form === 'convert') return checkConvert(context, typed.args, node) ?? context.unknown(node)
  const watched = { ...watchAngle(context, record, node), ...watchInterval(context, record, written, node) }
  const made = { ...call(withHolidays?.record ?? record, typed.args, resultType(record, typed), node), ...watched }
  return withHolidays?.holidays === undefined ? made : ({ ...made, holidays: withHolidays.holidays } as Checked)
}

/** False for a call that is still being written, which is told by its open parenthesis alone. */
function isFinished(context: CheckContext, node: CallNode): boolean {
  return context.text[node.to - 1] === ')'
}

/** What a call gives; a text written out may decide it, such as a date pattern with a time. */
function resultType(record: FunctionRecord, typed: { args: Checked[]; type: ExpressionType }): ExpressionType {
  if (record.resultType === undefined) return typed.type
  const text = typed.args[record.textRule?.argument ?? 0]
  return text?.kind === 'constant' && typeof text.value === 'string'
    ? (record.resultType(text.value) as ExpressionType)
    : typed.type
}

function hintFormerName(context: CheckContext, { name }: FunctionRecord, node: CallNode): void {
  const edits = [{ from: node.name.from, to: node.name.to, insert: name }]
  context.report('former-name', { former: node.name.name, name }, node.name, [{ title: `Write ${name}`, edits }])
}

function unknownFunction(context: CheckContext, node: CallNode): Checked {
  const near = context.nearest(node.name.name, () => [...context.scope.functions(), ...FUNCTIONS].map((one) => one.name))
  const hint = near === undefined ? '' : ` Nearest name: ${near}.`
  const fixes =
    near === undefined ? [] : [{ title: `Use ${near}`, edits: [{ from: node.name.from, to: node.name.to, insert: near }] }]
  context.report('unknown-function', { name: node.name.name, hint }, node.name, fixes)
  // What was meant to go over rows, or stands where only that can, has names of rows that no one knows here.
  const meant = near === undefined ? undefined : functionNamed(near)
  const hasColumns = !context.scope.columnNames()[Symbol.iterator]().next().done
  if ((meant !== undefined && isOverRows(meant)) || !hasColumns) return context.unknown(node)
  return leftUnknown(context, node)
}

/** Checks the parts of a call that cannot be checked as a whole, so that what is wrong in them is said too. */
function leftUnknown(context: CheckContext, node: CallNode): Checked {
  // Names inside clauses belong to rows that no one knows; only plain arguments say something for certain.
  if (node.clauses.length === 0) for (const part of partsOfCall(node)) context.check(part)
  return context.unknown(node)
}

/** Functions that count from one date to another; between two columns a negative count means that they stand the wrong way round. */
const intervals: ReadonlySet<string> = new Set(['days_between', 'months_between', 'years_between', 'workdays_between', 'elapsed'])

function watchInterval(
  context: CheckContext,
  record: FunctionRecord,
  args: readonly Syntax[],
  node: CallNode,
): { watch?: number } {
  const [start, end] = args
  if (!intervals.has(record.name) || start?.kind !== 'name' || end?.kind !== 'name') return {}
  const subject = `${context.source(end)} is before ${context.source(start)}`
  return context.watch({ code: 'negative-interval', subject, from: node.from, to: node.to, fixes: [] })
}
