import type { FunctionRecord } from '../../functions/index.js'
import { type ExactDecimal, exactDecimal, overCommonScale, printName } from '../../values/index.js'
import type { NamePart, Syntax } from '../syntax/index.js'
import { countsMatch, typeArguments } from './arguments.js'
import type { Checked } from './checked.js'
import { coalesce } from './choices.js'
import { clauseOf } from './clauses.js'
import type { CheckContext } from './context.js'
import type { ColumnId } from './ids.js'
import { isKeywordPart } from './names.js'
import type { ScopeValue } from './scope.js'
import { isOpen } from './types.js'

type CallNode = Syntax & { kind: 'call' }

/** A function across the columns of one row: tags are told as their columns, weights and maxima as exact decimals. */
export function checkAcross(context: CheckContext, record: FunctionRecord, node: CallNode): Checked {
  const amounts: ExactDecimal[] = []
  const named: ColumnId[] = []
  let fits = true
  const args = node.args.flatMap((arg): Checked[] => {
    if (arg.kind === 'tag') {
      const columns = columnsOfTag(context, arg)
      if (record.rating !== undefined) {
        reportMissingAmount(context, record, arg)
        fits = false
      }
      return columns ?? [context.unknown(arg)]
    }
    if (record.rating === undefined) return [arg.kind === 'rated' ? refuseAmount(context, record, arg) : context.check(arg)]
    const rated = arg.kind === 'rated' && arg.word === record.rating ? arg : null
    const amount = rated === null ? null : literalAmount(context, rated.amount, named)
    if (rated === null) reportMissingAmount(context, record, arg)
    if (amount === null) fits = false
    else amounts.push(amount)
    return [context.check(arg.kind === 'rated' ? arg.value : arg)]
  })
  if (!countsMatch(context, record, node, args.length) || !fits) return context.unknown(node)
  if (record.form === 'coalesce') return coalesce(context, args, node, record.name)
  const typed = typeArguments(context, record, args)
  if (typed === null) return context.unknown(node)
  if (record.rating === 'at') hintWeightsTotal(context, amounts, node)
  const asZero = clauseOf(node, 'blanks as zero')
  const blanksAsZero = asZero !== undefined
  if (asZero !== undefined && typed.type !== 'number' && !isOpen(typed.type)) {
    context.report('misplaced-clause', { clause: 'blanks as zero', reason: 'only numbers can be zero.' }, asZero)
    return context.unknown(node)
  }
  return {
    kind: 'call',
    record,
    args: typed.args,
    blanksAsZero,
    amounts,
    ...(named.length > 0 && { amountSources: named }),
    type: typed.type,
    mayBeBlank: record.name !== 'count_of' && !blanksAsZero && typed.args.every((arg) => arg.mayBeBlank),
    mayFail: typed.args.some((arg) => arg.mayFail) || record.errors.length > 0,
    from: node.from,
    to: node.to,
  }
}

function columnsOfTag(context: CheckContext, tag: Syntax & { kind: 'tag' }): Checked[] | null {
  const columns = context.scope.tagged(tag.name)
  if (columns.length > 0) return columns.map((column) => context.readColumn(column, tag))
  const names = [...context.scope.tagNames()]
  const near = context.nearest(tag.name, () => names)
  const hint =
    near !== undefined
      ? ` Nearest tag: #${near}.`
      : names.length > 0
        ? ` Tags here: ${names.map((name) => `#${name}`).join(', ')}.`
        : ''
  const fixes = near === undefined ? [] : [{ title: `Use #${near}`, edits: [{ from: tag.from, to: tag.to, insert: `#${near}` }] }]
  context.report('unknown-tag', { name: tag.name, table: printName(context.scope.table), hint }, tag, fixes)
  return null
}

function refuseAmount(context: CheckContext, record: FunctionRecord, arg: Syntax & { kind: 'rated' }): Checked {
  const edits = [{ from: arg.value.to, to: arg.to, insert: '' }]
  const reason = `${record.name} takes plain values; "at" belongs to weighted, "out of" to points_of.`
  context.report('not-here', { found: `"${arg.word}"`, reason }, { from: arg.value.to, to: arg.to }, [
    { title: `Leave "${arg.word}" out`, edits },
  ])
  context.check(arg.value)
  return context.unknown(arg)
}

function reportMissingAmount(context: CheckContext, record: FunctionRecord, arg: Syntax): void {
  const expected = record.rating === 'at' ? 'a weight, like at 40%' : 'its possible points, like out of 20'
  context.report('amount-expected', { name: record.name, expected }, arg)
}

const numberText = /^\d+(?:\.\d+)?(?:[eE][+-]?\d+)?%?$/

/** A weight or maximum as it is written, also by a named value that is a constant; null after saying that it is none. */
function literalAmount(context: CheckContext, node: Syntax, named: ColumnId[]): ExactDecimal | null {
  const value = node.kind === 'name' && !node.every ? valueNamed(context, node.parts) : undefined
  const constant = value?.constant?.() ?? null
  if (value !== undefined && constant !== null && numberText.test(constant)) {
    context.refer(value.id, node)
    named.push(value.id)
    return exactDecimal(constant)
  }
  const isMinus = node.kind === 'unary' && node.operator === '-'
  const literal = isMinus ? node.operand : node
  if (literal.kind === 'literal' && literal.type === 'number') {
    const written = context.source(literal)
    // A number that is not written as formulas write it has its finding already.
    if (!numberText.test(written)) return null
    const { digits, scale } = exactDecimal(written)
    return { digits: isMinus ? -digits : digits, scale }
  }
  if (node.kind !== 'missing')
    context.report(
      'constant-expected',
      { place: 'A weight or maximum', expected: 'a number, or a named value that is one' },
      node,
    )
  return null
}

/** The named value of a name, also behind `book.`. */
function valueNamed(
  { scope }: CheckContext,
  [head, second, ...others]: readonly [NamePart, ...NamePart[]],
): ScopeValue | undefined {
  if (second === undefined) return scope.value(head.name)
  return others.length === 0 && isKeywordPart(head, 'book') ? scope.value(second.name) : undefined
}

function hintWeightsTotal(context: CheckContext, amounts: readonly ExactDecimal[], node: CallNode): void {
  const { digits, scale } = overCommonScale(amounts)
  const total = digits.reduce((sum, one) => sum + one, 0n)
  if (total === 10n ** BigInt(scale)) return
  context.report('weights-total', { total: percentText(total, scale) }, node)
}

/** An exact decimal as a percentage. */
function percentText(digits: bigint, scale: number): string {
  const places = Math.max(0, scale - 2)
  const shifted = scale < 2 ? digits * 10n ** BigInt(2 - scale) : digits
  const sign = shifted < 0n ? '-' : ''
  const written = (shifted < 0n ? -shifted : shifted).toString().padStart(places + 1, '0')
  const whole = written.slice(0, written.length - places)
  const fraction = written.slice(written.length - places).replace(/0+$/, '')
  return `${sign}${whole}${fraction === '' ? '' : `.${fraction}`} %`
}
