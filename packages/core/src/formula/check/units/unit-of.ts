import { differenceOf, parseUnit, type Unit } from '../../../units/index.js'
import type { Checked, CheckedLink, Operator } from '../checked.js'
import type { CheckContext } from '../context.js'
import { partsOf } from '../parts.js'
import { isTemporal } from '../types.js'
import { expectAlike, expectUnit, type Measured } from './expect-units.js'
import { dividedUnits, multipliedUnits, raisedUnit, type UnitReading } from './unit-reading.js'
import { unitOfAlike, unitOfCall } from './unit-rules.js'

// Units are read off the checked expression, bottom up, as types are (Kennedy, "Relational Parametricity and Units of Measure", 1997,
// without variables for units: what has none is not followed).

const COMPARISONS: ReadonlySet<Operator> = new Set<Operator>([
  'equal',
  'unequal',
  'less',
  'less-equal',
  'greater',
  'greater-equal',
  'member',
])

/** The unit of a part of a formula, having said where quantities do not go together. */
export function unitOf(context: CheckContext, node: Checked): UnitReading {
  const { known } = context.units
  const found = known.get(node)
  if (found !== undefined) return found
  const unit = readUnit(context, node)
  known.set(node, unit)
  return unit
}

function readUnit(context: CheckContext, node: Checked): UnitReading {
  switch (node.kind) {
    case 'constant':
      return node.type === 'number' && typeof node.value === 'number' ? node.value : null
    case 'column':
    case 'single':
      return context.units.columns.get(node.column) ?? null
    case 'step': {
      const bound = context.units.steps.get(node.step)
      return bound === undefined ? null : unitOf(context, bound)
    }
    case 'let':
      unitOf(context, node.bound)
      return unitOf(context, node.body)
    case 'follow':
      return unitOf(context, node.read)
    case 'outer':
      return unitOf(context, node.inner)
    case 'apply':
      return unitOfApplied(context, node)
    case 'chain':
      return unitOfChain(context, node)
    case 'coalesce':
      return unitOfAny(context, node.operands)
    case 'if-error':
      return unitOfAny(context, [node.value, node.otherwise])
    case 'choose': {
      for (const { condition } of node.branches) unitOf(context, condition)
      const values = node.branches.map(({ value }) => value)
      return unitOfAny(context, node.otherwise === null ? values : [...values, node.otherwise])
    }
    case 'call':
    case 'over-rows': {
      for (const part of partsOf(node)) unitOf(context, part)
      return unitOfCall(
        context,
        node,
        node.args.map((arg) => unitOf(context, arg)),
      )
    }
  }
}

function unitOfApplied(context: CheckContext, node: Checked & { kind: 'apply' }): UnitReading {
  const readings = node.args.map((arg) => unitOf(context, arg))
  const [first = null, second = null] = readings
  const [left, right] = node.args
  if (node.operator === 'negate') return typeof first === 'number' ? -first : first
  if (node.operator === 'power') return raisedUnit(first, second)
  if (COMPARISONS.has(node.operator) && left !== undefined && right !== undefined)
    expectAlike(context, measured(left, first), measured(right, second))
  return null
}

/** One of several values. */
function unitOfAny(context: CheckContext, values: readonly Checked[]): UnitReading {
  return unitOfAlike(
    context,
    values,
    values.map((value) => unitOf(context, value)),
  )
}

function unitOfChain(context: CheckContext, { first, rest }: Checked & { kind: 'chain' }): UnitReading {
  let left: Checked | CheckedLink = first
  let unit = unitOf(context, first)
  for (const link of rest) {
    unit = linked(context, left, unit, link)
    left = link
  }
  return unit
}

function linked(context: CheckContext, left: Checked | CheckedLink, own: UnitReading, link: CheckedLink): UnitReading {
  const { operator, operand } = link
  const other = unitOf(context, operand)
  if (operator === 'multiply') return multipliedUnits(own, other)
  if (operator === 'divide' || operator === 'per') return dividedUnits(own, other)
  if (isTemporal(left.type) || isTemporal(operand.type)) return withDates(context, left, own, link, other)
  if (operator !== 'add' && operator !== 'subtract') return null
  if (typeof own === 'number' && typeof other === 'number') return operator === 'add' ? own + other : own - other
  if (own === null || typeof own === 'number') return typeof other === 'number' ? null : other
  if (other === null || typeof other === 'number') return own
  if (!expectAlike(context, { node: left, unit: own }, { node: operand, unit: other })) return null
  return operator === 'add' ? summed(own, other) : differenceOf(settled(own, other))
}

/** A sum of a temperature and a difference is a temperature; of what a number has converted, the unit is that of the other. */
function summed(own: Unit, other: Unit): Unit {
  const unit = settled(own, other)
  if (own.isDifference === other.isDifference) return unit
  const { isDifference: _, ...point } = unit
  return point
}

function settled(own: Unit, other: Unit): Unit {
  return own.factors.length === 0 || (own.times !== undefined && other.times === undefined) ? other : own
}

/** Days between dates, and days added to one. */
function withDates(
  context: CheckContext,
  left: Checked | CheckedLink,
  own: UnitReading,
  { operator, operand }: CheckedLink,
  other: UnitReading,
): UnitReading {
  if (operator === 'subtract' || operator === 'time-difference') return parseUnit('d')
  const added = left.type === 'number' ? measured(left, own) : measured(operand, other)
  if (added !== null) expectUnit(context, added, 'd', 'what is added to a date')
  return null
}

function measured(node: Checked | CheckedLink, reading: UnitReading): Measured | null {
  return reading === null || typeof reading === 'number' ? null : { node, unit: reading }
}
