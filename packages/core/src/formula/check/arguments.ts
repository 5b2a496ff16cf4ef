import { counted } from '../../findings/index.js'
import type { FunctionRecord } from '../../functions/index.js'
import type { Syntax } from '../syntax/index.js'
import type { Checked } from './checked.js'
import type { CheckContext } from './context.js'
import { toTime } from './nodes.js'
import { commonType, type ExpressionType, isOpen, typeWords } from './types.js'

type CallNode = Syntax & { kind: 'call' }

/** Says when a call has too few or too many arguments. */
export function countsMatch(context: CheckContext, record: FunctionRecord, node: CallNode, received: number): boolean {
  const { parameters } = record
  const least = parameters.filter((one) => !one.optional).length
  const most = parameters.some((one) => one.repeats) ? Number.POSITIVE_INFINITY : parameters.length
  if (received >= least && received <= most) return true
  const expected =
    most === least
      ? counted(least, 'argument')
      : most === Number.POSITIVE_INFINITY
        ? `at least ${counted(least, 'argument')}`
        : `${least} to ${counted(most, 'argument')}`
  const across = acrossOf(record.name)
  if (across !== undefined && received > most && node.clauses.length === 0) {
    const edits = [{ from: node.name.from, to: node.name.to, insert: across }]
    const parameters = { name: record.name, across, source: context.source(node) }
    context.report('rows-not-columns', parameters, node.name, [{ title: `Use ${across}`, edits }])
    return false
  }
  context.report(
    'argument-count',
    { name: record.name, expected, received: received === 0 ? 'none' : received, form: record.name + record.signature },
    node,
  )
  return false
}

/** The function over the columns of a row that does what an aggregate does over rows. */
function acrossOf(name: string): string | undefined {
  return ['sum', 'mean', 'min', 'max', 'count', 'median', 'any', 'all', 'first'].includes(name) ? `${name}_of` : undefined
}

/** Types that one parameter shares with others: any at all, or any with an order. */
const sharedTypes: ReadonlySet<string> = new Set(['T', 'ordered'])

/**
 * Checks the types of arguments, brings those that share a type to it, and says what the call gives; null after saying what
 * does not fit.
 */
export function typeArguments(
  context: CheckContext,
  record: FunctionRecord,
  args: readonly Checked[],
): { args: Checked[]; type: ExpressionType } | null {
  let shared: ExpressionType = 'blank'
  let fits = true
  args.forEach((arg, index) => {
    const parameter = parameterOf(record, index)
    const place = `${record.name}, argument ${index + 1} (${parameter.name}),`
    if (parameter.types.some((type) => sharedTypes.has(type))) {
      const common = commonType(shared, arg.type)
      const isOrdered = !parameter.types.includes('ordered') || arg.type !== 'boolean'
      if (common === null) context.mismatch(place, typeWords(shared), arg, shared)
      else if (!isOrdered) context.mismatch(place, 'a value with an order', arg)
      fits = fits && common !== null && isOrdered
      shared = common ?? shared
    } else if (!isOpen(arg.type) && !parameter.types.includes('any') && !parameter.types.includes(arg.type)) {
      const wanted = parameter.types[0] as ExpressionType
      context.mismatch(place, parameter.types.map((type) => typeWords(type as ExpressionType)).join(' or '), arg, wanted)
      fits = false
    }
  })
  if (!fits) return null
  const brought = args.map((arg, index) =>
    shared === 'datetime' && parameterOf(record, index).types.some((type) => sharedTypes.has(type)) ? toTime(arg) : arg,
  )
  const first = brought[0]
  if (sharedTypes.has(record.result)) return { args: brought, type: shared }
  if (record.result === 'same') return { args: brought, type: sameAs(record, first) }
  return { args: brought, type: record.result as ExpressionType }
}

/** The type of the first argument; where that is blank throughout, the first type it may have. */
function sameAs(record: FunctionRecord, first: Checked | undefined): ExpressionType {
  if (first === undefined) return 'blank'
  const [wanted] = parameterOf(record, 0).types
  return isOpen(first.type) && wanted !== 'any' ? (wanted as ExpressionType) : first.type
}

/** The parameter that an argument belongs to. */
function parameterOf(record: FunctionRecord, index: number): FunctionRecord['parameters'][number] {
  return record.parameters[Math.min(index, record.parameters.length - 1)] as FunctionRecord['parameters'][number]
}
