import { NoForm } from '../dialects/index.js'
import { literal, risky, sql, type Term } from '../terms/index.js'
import {
  faultOfKnown,
  faultOfMissing,
  firstFault,
  numberLiteral,
  product,
  quotient,
  sizeOfNumber,
  strict,
  sum,
  type Value,
  valueFrom,
  WHOLE,
  power as writePower,
} from '../values/index.js'
import type { FunctionCall, FunctionForm } from './form.js'

/** A function that is one of the engine's, and exact. */
const plain =
  (write: (x: Term) => Term, more: Partial<Value> | ((x: Value) => Partial<Value>) = {}): FunctionForm =>
  ({ args: [x] }) =>
    strict([x as Value], write((x as Value).value), typeof more === 'function' ? more(x as Value) : more)

/** A function of the engine whose last bits are its own; outside its domain it is out of range. */
const transcendental =
  (write: (x: Term) => Term, domain?: (x: Term) => Term): FunctionForm =>
  ({ args: [x] }) => {
    const of = x as Value
    if (domain === undefined) return strict([of], write(of.value), { isApproximate: true })
    const value = sql`case when ${domain(of.value)} then ${risky`${write(of.value)}`} end`
    return strict([of], value, { isApproximate: true, own: faultOfMissing(value, [of], 'out-of-range') })
  }

/** A whole number of the size of another. */
const wholeOf = ({ size }: Value): Partial<Value> => ({
  size: { grain: Math.max(0, size.grain), high: size.high + 1 },
  mayBeNegativeZero: true,
})

/** The most decimals for which the engines can be asked with a number written out. */
const MOST_PLACES = 15
/** The other way the decimals that they hold are too few. */
const LEAST_PLACES = -20

const rounding =
  (helper: string): FunctionForm =>
  ({ args, constants, writing }) => {
    const [x, given] = args as [Value, Value?]
    const digits = given ?? valueFrom(numberLiteral(0), { size: sizeOfNumber(0) })
    const places = given === undefined ? 0 : constants[1]
    const of = [x, digits]
    const isKnown = typeof places === 'number' && Number.isInteger(places)
    if (isKnown && places >= 0 && x.size.grain >= 0) return x
    if (writing.dialect.roundsByConstants && (!isKnown || places < LEAST_PLACES || places > MOST_PLACES))
      throw new NoForm(`${helper} to a number of digits that is not written out has no form`)
    const exact = writing.call(helper, x.value, writing.dialect.roundsByConstants ? literal(String(places)) : digits.value)
    const isNear = isKnown && places >= 0 && places <= MOST_PLACES && helper === 'rounded'
    const rounded = isNear ? nearest(x, places, exact) : exact
    return strict(of, rounded, { mayBeNegativeZero: true, own: faultOfMissing(rounded, of, 'out-of-range') })
  }

/**
 * The nearest decimal, by one product and one quotient where they cannot go wrong; `exact` on the shortest decimal where they
 * might, near a half and far out. The same steps as those of the workbook.
 */
function nearest(x: Value, places: number, exact: Term): Term {
  const ten = 10 ** places
  const isNear = sql`abs(${x.value}) between ${numberLiteral(1e-290)} and ${numberLiteral(2 ** 50 / ten)}`
  const scaled = sql`(case when ${isNear} then abs(${x.value}) end * ${numberLiteral(ten)})`
  const rest = sql`(${scaled} - floor(${scaled}))`
  const isSure = sql`abs(${rest} - 0.5) > ${scaled} * ${numberLiteral(2 ** -48)} + ${numberLiteral(2 ** -40)}`
  const size = sql`((floor(${scaled}) + case when ${rest} > 0.5 then 1 else 0 end) / ${numberLiteral(ten)})`
  return sql`case when ${x.value} = 0 then ${x.value} when ${isSure} then case when ${x.value} < 0 then - ${size} else ${size} end else ${exact} end`
}

const remainder: FunctionForm = ({ args, writing }) => {
  const [x, y] = args as [Value, Value]
  const rest = writing.call('remainder', x.value, y.value)
  const size = { grain: Math.min(x.size.grain, y.size.grain), high: y.size.high }
  const shifted = sum(writing, valueFrom(rest, { size }), y, '+')
  const value = sql`case when ${rest} <> 0 and (${rest} < 0) <> (${y.value} < 0) then ${shifted.value} else ${rest} end`
  const own = faultOfKnown(sql`${y.value} = 0`, [x, y], 'division-by-zero')
  return strict([x, y], value, { size, mayBeNegativeZero: true, own })
}

const towardZero: FunctionForm = ({ args, writing }) => {
  const [x, y] = args as [Value, Value]
  const rest = writing.call('remainder', x.value, y.value)
  const multiple = valueFrom(sql`(${x.value} - ${rest})`, { size: x.size })
  const exact = quotient(writing, multiple, y, 'fault')
  const byZero = faultOfKnown(sql`${y.value} = 0`, [x, y], 'division-by-zero')
  return strict([x, y], sql`round(${exact.value})`, { mayBeNegativeZero: true, own: firstFault([byZero, exact.fault]) })
}

const clamp: FunctionForm = ({ args }) => {
  const [x, low, high] = args as [Value, Value, Value]
  const fits = sql`${low.value} <= ${high.value} and ${x.value} is not null`
  const value = sql`case when ${fits} then least(greatest(${x.value}, ${low.value}), ${high.value}) end`
  const mayBeNegativeZero = [x, low, high].some((one) => one.mayBeNegativeZero)
  return strict([x, low, high], value, { mayBeNegativeZero, own: faultOfMissing(value, [x, low, high], 'out-of-range') })
}

const divisor =
  (name: 'gcd' | 'lcm'): FunctionForm =>
  ({ args, writing }) => {
    const fits = args.map(({ value }) => sql`abs(${value}) <= 9007199254740992 and ${value} = floor(${value})`)
    const [first, ...rest] = args as [Value, ...Value[]]
    const folded = rest.reduce((left, one) => writing.call(`${name}_of`, left, one.value), sql`abs(${first.value})`)
    const value = sql`case when ${fits.reduce((a, b) => sql`${a} and ${b}`)} then ${folded} end`
    if (name === 'lcm' && rest.length > 1) throw new NoForm('lcm() of more than two numbers has no form in SQL')
    return strict(args, value, { own: faultOfMissing(value, args, 'out-of-range') })
  }

const factorial: FunctionForm = ({ args: [x], writing }) => {
  const of = x as Value
  const table: number[] = [1]
  for (let product = 1n, k = 1n; k <= 170n; k++) {
    product *= k
    table.push(Number(product))
  }
  const fits = sql`${of.value} between 0 and 170 and ${of.value} = floor(${of.value})`
  const value = sql`case when ${fits} then ${writing.dialect.elementOf(
    table.map((one) => numberLiteral(one).text),
    risky`(cast(case when ${fits} then ${of.value} end as int) + 1)`,
  )} end`
  return strict([of], value, { size: { grain: 0, high: 1024 }, own: faultOfMissing(value, [of], 'out-of-range') })
}

const logarithm: FunctionForm = ({ args }) => {
  const [x, base] = args as [Value, Value]
  const fits = sql`${x.value} > 0 and ${base.value} > 0 and ${base.value} <> 1`
  const value = sql`case when ${fits} then ${risky`(ln(${x.value}) / ln(${base.value}))`} end`
  return strict([x, base], value, { isApproximate: true, own: faultOfMissing(value, [x, base], 'out-of-range') })
}

const isPositive = (x: Term): Term => sql`${x} > 0`
const isSine = (x: Term): Term => sql`abs(${x}) <= 1`
const constant =
  (value: number): FunctionForm =>
  () =>
    valueFrom(numberLiteral(value), { size: sizeOfNumber(value) })

const angle =
  (write: (call: FunctionCall, x: Value) => Value): FunctionForm =>
  (call) =>
    write(call, call.args[0] as Value)
const known = (value: number): Value => valueFrom(numberLiteral(value), { size: sizeOfNumber(value) })

/** The greatest argument of exp, and of sinh and cosh, whose result is within binary64. */
const MOST_EXP = 709.782712893384
const MOST_SINH = 710.4758600739439

/** Functions of numbers. */
export const NUMBER_FORMS: Readonly<Record<string, FunctionForm>> = {
  abs: plain(
    (x) => sql`abs(${x})`,
    ({ size }) => ({ size }),
  ),
  sign: plain((x) => sql`cast(sign(${x}) as float8)`, { size: WHOLE }),
  sqrt: ({ args: [x] }) => {
    const of = x as Value
    const value = sql`case when ${of.value} >= 0 then ${risky`sqrt(${of.value})`} end`
    return strict([of], value, { mayBeNegativeZero: of.mayBeNegativeZero, own: faultOfMissing(value, [of], 'out-of-range') })
  },
  exp: transcendental(
    (x) => sql`case when ${x} < -745.2 then 0 else exp(${x}) end`,
    (x) => sql`${x} <= ${numberLiteral(MOST_EXP)}`,
  ),
  ln: transcendental((x) => sql`ln(${x})`, isPositive),
  log10: transcendental((x) => sql`log10(${x})`, isPositive),
  log2: transcendental((x) => sql`(ln(${x}) / ln(${numberLiteral(2)}))`, isPositive),
  log: logarithm,
  power: ({ args, constants, writing }) => {
    const [base, exponent] = args as [Value, Value]
    return writePower(writing, base, exponent, constants[1])
  },
  floor: plain((x) => sql`floor(${x})`, wholeOf),
  ceiling: plain((x) => sql`ceil(${x})`, wholeOf),
  truncate: plain((x) => sql`trunc(${x})`, wholeOf),
  round: rounding('rounded'),
  round_up: rounding('rounded_away'),
  round_down: rounding('rounded_toward'),
  round_to: ({ args, writing }) => {
    const [x, step] = args as [Value, Value]
    const value = writing.call('round_to_step', x.value, step.value)
    const byZero = faultOfKnown(sql`${step.value} = 0`, args, 'division-by-zero')
    return strict(args, value, {
      mayBeNegativeZero: true,
      own: firstFault([byZero, faultOfMissing(value, args, 'out-of-range')]),
    })
  },
  mod: remainder,
  quotient: towardZero,
  clamp,
  gcd: divisor('gcd'),
  lcm: divisor('lcm'),
  factorial,
  pi: constant(Math.PI),
  e: constant(Math.E),
  sin: transcendental((x) => sql`sin(${x})`),
  cos: transcendental((x) => sql`cos(${x})`),
  tan: transcendental((x) => sql`tan(${x})`),
  asin: transcendental((x) => sql`asin(${x})`, isSine),
  acos: transcendental((x) => sql`acos(${x})`, isSine),
  atan: transcendental((x) => sql`atan(${x})`),
  atan2: ({ args }) => {
    const [y, x] = args as [Value, Value]
    const plus = literal("'0'::float8")
    return strict([y, x], sql`atan2(${y.value} + ${plus}, ${x.value} + ${plus})`, { isApproximate: true })
  },
  sinh: transcendental(
    (x) => sql`sinh(${x})`,
    (x) => sql`abs(${x}) <= ${numberLiteral(MOST_SINH)}`,
  ),
  cosh: transcendental(
    (x) => sql`cosh(${x})`,
    (x) => sql`abs(${x}) <= ${numberLiteral(MOST_SINH)}`,
  ),
  tanh: transcendental((x) => sql`tanh(${x})`),
  degrees: angle(({ writing }, x) => product(writing, quotient(writing, x, known(Math.PI), 'fault'), known(180))),
  radians: angle(({ writing }, x) => product(writing, quotient(writing, x, known(180), 'fault'), known(Math.PI))),
  number: ({ args, writing, constants }) => {
    if (args.length > 1) throw new NoForm(`number() with the pattern ${String(constants[1])} has no form in SQL`)
    const [x] = args as [Value]
    const value = writing.call('number_of', x.value)
    return strict([x], value, { own: faultOfMissing(value, [x], 'misfit') })
  },
  is_number: ({ args, writing }) => {
    const [x] = args as [Value]
    const number = writing.call('number_of', x.value)
    return strict([x], sql`case when ${x.value} is not null then ${number} is not null end`)
  },
}
