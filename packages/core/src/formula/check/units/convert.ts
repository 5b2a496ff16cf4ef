import {
  conversionBetween,
  isIdentity,
  likenessOf,
  mayBeConverted,
  parseUnit,
  printUnit,
  type Unit,
} from '../../../units/index.js'
import type { Checked, CheckedLink, Operator } from '../checked.js'
import type { CheckContext } from '../context.js'
import { constant } from '../nodes.js'
import { unitOf } from './unit-of.js'

type Place = { readonly from: number; readonly to: number }

/**
 * `convert(value, 'kg')`: once the unit of the value is known, it is arithmetic. Where that unit changes, so does the formula, and its
 * column is calculated anew.
 */
export function checkConvert(context: CheckContext, args: readonly Checked[], node: Place): Checked | null {
  const [value, target, source] = args as [Checked, Checked, Checked?]
  const to = unitWritten(context, target, 'The unit')
  const said = source === undefined ? undefined : unitWritten(context, source, 'The unit that it is in')
  if (to === null || said === null) return null
  const refuse = (reason: string): null => {
    context.report('no-conversion', { subject: context.source(value), unit: printUnit(to), reason }, node)
    return null
  }
  const own = unitOf(context, value)
  const known = own === null || typeof own === 'number' || own.factors.length === 0 ? undefined : own
  if (known !== undefined && said !== undefined && likenessOf(known, said) !== 'same')
    return refuse(`it is in ${printUnit(known)}, not in ${printUnit(said)}.`)
  if (known !== undefined && said === undefined && mayBeConverted(known))
    return refuse(
      `a number written out may have brought it from ${printUnit(known)} to another unit. Say what it is in, as a third argument.`,
    )
  const from = said ?? known
  if (from === undefined)
    return refuse("what it is in is not known. Give its column a unit, or name it as a third argument: convert(x, 'kg', 'g').")
  const conversion = conversionBetween(from, to)
  if (conversion === null) return refuse(`${printUnit(from)} and ${printUnit(to)} are units of different kinds, or not known.`)
  const { before, times, by, after } = conversion
  const shifted = chained(value, 'add', before, 0, node)
  const scaled = chained(chained(shifted, 'multiply', times, 1, node), 'divide', by, 1, node)
  const made = isIdentity(conversion) ? { ...value, from: node.from, to: node.to } : chained(scaled, 'add', after, 0, node)
  context.units.known.set(made, from.isDifference === true ? { ...to, isDifference: true } : to)
  return made
}

/** A value and a number; without the one that changes nothing. */
function chained(value: Checked, operator: Operator, by: number, neutral: number, { from, to }: Place): Checked {
  if (by === neutral) return value
  const facts = { type: 'number' as const, mayBeBlank: value.mayBeBlank, mayFail: true, from, to }
  const link: CheckedLink = { operator, operand: constant(by, 'number', { from, to }), ...facts }
  return { kind: 'chain', first: value, rest: [link], ...facts }
}

/** A unit written out; null after saying that it is none. */
function unitWritten(context: CheckContext, arg: Checked, place: string): Unit | null {
  const unit = arg.kind === 'constant' && typeof arg.value === 'string' ? parseUnit(arg.value) : null
  if (unit === null && arg.type !== 'unknown')
    context.report('constant-expected', { place: `${place} of convert`, expected: "a unit such as 'kg'" }, arg)
  return unit
}
