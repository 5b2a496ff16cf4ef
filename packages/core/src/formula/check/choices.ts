import type { Syntax } from '../syntax/index.js'
import { blankFix, blankTest, type WrittenCondition } from './blank-watch.js'
import type { Checked, CheckedBranch, Watch } from './checked.js'
import { compare } from './comparisons.js'
import type { CheckContext } from './context.js'
import { toTime } from './nodes.js'
import { commonType, type ExpressionType, typeWords } from './types.js'

/** Both forms of `case`. */
export function checkCase(context: CheckContext, node: Syntax & { kind: 'case' }): Checked {
  if (node.subject === null) {
    const conditions = node.branches.map(({ condition }) => ({ syntax: condition, checked: checkCondition(context, condition) }))
    const values = node.branches.map(({ value }) => context.check(value))
    const otherwise = node.otherwise === null ? null : context.check(node.otherwise)
    return choose(context, conditions, values, otherwise, node)
  }
  const subject = context.check(node.subject)
  return context.withStep('', subject, node, (read) => {
    const conditions = node.branches.map(({ condition }) => {
      const when = context.check(condition)
      return { syntax: node.subject as Syntax, checked: compare(context, 'equal', read, when, condition) }
    })
    const values = node.branches.map(({ value }) => context.check(value))
    const otherwise = node.otherwise === null ? null : context.check(node.otherwise)
    return choose(context, conditions, values, otherwise, node)
  })
}

/** A condition, which is true, false or blank. */
export function checkCondition(context: CheckContext, node: Syntax): Checked {
  const checked = context.check(node)
  return context.expect(checked, 'boolean', 'A condition') ? checked : context.unknown(node)
}

/** A choice between checked values. */
export function choose(
  context: CheckContext,
  conditions: readonly WrittenCondition[],
  values: readonly Checked[],
  otherwise: Checked | null,
  owner: Syntax,
): Checked {
  const all = otherwise === null ? values : [...values, otherwise]
  const type = agree(context, all)
  const brought = (value: Checked): Checked => (type === 'datetime' ? toTime(value) : value)
  const branches: CheckedBranch[] = conditions.map(({ checked }, index) => ({
    condition: checked,
    value: brought(values[index] as Checked),
  }))
  const facts = {
    type,
    mayBeBlank: otherwise === null || all.some((value) => value.mayBeBlank),
    mayFail: all.some((value) => value.mayFail) || conditions.some(({ checked }) => checked.mayFail),
    from: owner.from,
    to: owner.to,
  }
  if (otherwise === null) return { ...facts, kind: 'choose', branches, otherwise }
  const isBlank = otherwise.kind === 'constant' && otherwise.value === null
  if (isBlank || !conditions.some(({ checked }) => checked.mayBeBlank))
    return { ...facts, kind: 'choose', branches, otherwise: brought(otherwise) }
  const watch = fallWatch(context, conditions, owner, otherwise)
  // An `else` that is itself a choice goes on testing: only rows that fall through its own `else` too are watched.
  if (otherwise.kind === 'choose' && otherwise.type === type) {
    return {
      ...facts,
      kind: 'choose',
      branches: [...branches, ...otherwise.branches],
      otherwise: otherwise.otherwise,
      ...watch,
    }
  }
  return { ...facts, kind: 'choose', branches, otherwise: brought(otherwise), ...watch }
}

function fallWatch(
  context: CheckContext,
  conditions: readonly WrittenCondition[],
  owner: Syntax,
  otherwise: Checked,
): { watch?: number } {
  const inner = otherwise.kind === 'choose' ? otherwise : null
  const isBlank =
    inner !== null && (inner.otherwise === null || (inner.otherwise.kind === 'constant' && inner.otherwise.value === null))
  if (isBlank) return {}
  const known = inner?.watch === undefined ? undefined : context.falls.get(inner.watch)
  const all = known === undefined ? conditions : [...conditions, ...known.conditions]
  const choice = known?.choice ?? (inner === null ? owner : (innerChoice(owner) ?? owner))
  const { subject, test } = blankTest(context.text, all)
  const fix = blankFix(context.text, choice, test)
  const place = all.find(({ checked }) => checked.mayBeBlank)?.syntax ?? owner
  const watch: Watch = {
    code: 'blank-falls-through',
    subject,
    from: place.from,
    to: place.to,
    fixes: fix === null ? [] : [fix],
  }
  if (inner?.watch !== undefined) {
    context.watches[inner.watch] = watch
    context.falls.set(inner.watch, { conditions: all, choice })
    return { watch: inner.watch }
  }
  const made = context.watch(watch)
  if (made.watch !== undefined) context.falls.set(made.watch, { conditions: all, choice })
  return made
}

/** The type all branches share, reporting the first that differs. */
function agree(context: CheckContext, values: readonly Checked[]): ExpressionType {
  let type: ExpressionType = 'blank'
  for (const value of values) {
    const common = commonType(type, value.type)
    if (common === null) {
      context.report('branch-types', { received: typeWords(value.type), expected: typeWords(type) }, value)
      return 'unknown'
    }
    type = common
  }
  return type
}

/** A chain of `??`. */
export function checkDefault(context: CheckContext, node: Syntax & { kind: 'chain' }): Checked {
  const parts = [node.first, ...node.rest.map((link) => link.operand)]
  for (const part of parts.slice(1)) {
    if (part.kind !== 'chain') continue
    const left = context.text.slice(node.from, parts[parts.indexOf(part) - 1]?.to)
    const right = context.source(part)
    const leading = context.source(part.first)
    const tail = context.text.slice(part.first.to, part.to)
    context.report('unclear-precedence', { left, right }, part, [
      { title: `Read as ${left} ?? (${right})`, edits: [{ from: part.from, to: part.to, insert: `(${right})` }] },
      {
        title: `Read as (${left} ?? ${leading})${tail}`,
        edits: [{ from: node.from, to: part.to, insert: `(${left} ?? ${leading})${tail}` }],
      },
    ])
  }
  return coalesce(
    context,
    parts.map((part) => context.check(part)),
    node,
    '"??"',
  )
}

/** The first operand that is not blank. */
export function coalesce(context: CheckContext, operands: readonly Checked[], node: Syntax, place: string): Checked {
  let type: ExpressionType = 'blank'
  for (const operand of operands) {
    const common = commonType(type, operand.type)
    if (common === null) {
      context.mismatch(place, typeWords(type), operand, type)
      return context.unknown(node)
    }
    type = common
  }
  return {
    kind: 'coalesce',
    operands: type === 'datetime' ? operands.map(toTime) : operands,
    type,
    mayBeBlank: operands.every((operand) => operand.mayBeBlank),
    mayFail: operands.some((operand) => operand.mayFail),
    from: node.from,
    to: node.to,
  }
}

/** The innermost choice that stands as the last branch of others. */
function innerChoice(node: Syntax): Syntax | null {
  if (node.kind === 'group') return innerChoice(node.inner)
  const last =
    node.kind === 'case'
      ? node.otherwise
      : node.kind === 'call' && node.name.name.toLowerCase() === 'if'
        ? (node.args[2] ?? null)
        : null
  if (last === null) return null
  return innerChoice(last) ?? node
}
