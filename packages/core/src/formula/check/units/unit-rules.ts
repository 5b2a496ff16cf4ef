import type { FunctionRecord, UnitRule } from '../../../functions/index.js'
import { differenceOf, PLAIN, parseUnit } from '../../../units/index.js'
import type { Checked } from '../checked.js'
import type { CheckContext } from '../context.js'
import { isTemporal } from '../types.js'
import { expectAlike, expectUnit } from './expect-units.js'
import { dividedUnits, multipliedUnits, raisedUnit, type UnitReading } from './unit-reading.js'

type CallOfRecord = Checked & { readonly record: FunctionRecord; readonly args: readonly Checked[] }

/** Units that `elapsed` counts in; a quarter has no unit of its own. */
const ELAPSED: Readonly<Record<string, string>> = {
  year: 'a',
  month: 'mo',
  week: 'wk',
  day: 'd',
  hour: 'h',
  minute: 'min',
  second: 's',
}

/** The unit that a call gives, by the rule of its function and the units of its arguments. */
export function unitOfCall(context: CheckContext, node: CallOfRecord, readings: readonly UnitReading[]): UnitReading {
  const { record, args } = node
  const rule: UnitRule | undefined = record.unit
  const [first = null] = readings
  // What a date is measured in is its day.
  const second = args[1] !== undefined && isTemporal(args[1].type) ? parseUnit('d') : (readings[1] ?? null)
  switch (rule) {
    case undefined:
      return null
    case 'same':
      return first
    case 'alike':
      return unitOfAlike(context, args, readings)
    case 'plain':
      return PLAIN
    case 'ratio':
      return dividedUnits(first, second)
    case 'difference':
      return first === null || typeof first === 'number' ? null : differenceOf(first)
    case 'square':
      return raisedUnit(first, 2)
    case 'root':
      return raisedUnit(first, 0.5)
    case 'power':
      return raisedUnit(first, second)
    case 'slope':
      return dividedUnits(first, second)
    case 'area':
      return multipliedUnits(first, second)
    case 'coefficient':
      return dividedUnits(first, raisedUnit(second, readings[3] ?? null))
    case 'elapsed': {
      const unit = args[2]?.kind === 'constant' ? ELAPSED[String(args[2].value)] : undefined
      return unit === undefined ? null : parseUnit(unit)
    }
    default:
      return 'number' in rule ? rule.number : unitTaken(context, node, readings, rule)
  }
}

function unitTaken(
  context: CheckContext,
  { record, args }: CallOfRecord,
  readings: readonly UnitReading[],
  { takes, argument = 0, gives }: Exclude<UnitRule & object, { readonly number: number }>,
): UnitReading {
  const [node, unit] = [args[argument], readings[argument] ?? null]
  if (takes !== undefined && node !== undefined && unit !== null && typeof unit !== 'number')
    expectUnit(context, { node, unit }, takes, placeWords(record, argument))
  return gives === undefined ? PLAIN : parseUnit(gives)
}

function placeWords({ name, parameters }: FunctionRecord, argument: number): string {
  return `the ${parameters[argument]?.name ?? 'value'} of ${name}`
}

/** Arguments of which one is the result, or that are added up: all of the unit that those with one share. */
export function unitOfAlike(
  context: CheckContext,
  nodes: readonly { readonly from: number; readonly to: number }[],
  readings: readonly UnitReading[],
): UnitReading {
  const units = readings.flatMap((unit, index) => {
    const node = nodes[index]
    return unit === null || typeof unit === 'number' || node === undefined ? [] : [{ node, unit }]
  })
  const [first, ...others] = units
  if (first === undefined) return null
  return others.every((other) => expectAlike(context, first, other)) ? first.unit : null
}
