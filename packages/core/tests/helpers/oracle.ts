import { parseFormula, type Syntax } from '../../src/formula/index.js'
import type { FaultCode } from '../../src/index.js'

/**
 * The oracle: a slow, obvious evaluator of row formulas. One row at a time, straight over the tree, no types beforehand, no
 * blocks, nothing shared with the checker, the plan or the kernels. What it says is what the engine must say, to the bit.
 */

/** A value with the type that says what it means. Dates are epoch days, date-times epoch milliseconds. */
export type Known =
  | { type: 'number' | 'date' | 'datetime'; value: number }
  | { type: 'text'; value: string }
  | { type: 'boolean'; value: boolean }
/** An error. */
export interface Failed {
  fault: FaultCode
}
/** A value, blank or an error. */
export type Result = Known | Failed | null

/** Evaluates a formula on one row. */
export function askOracle(formula: string, row: ReadonlyMap<string, Result>): Result {
  return evaluate(parseFormula(formula).tree, row, new Map())
}

const DAY = 86_400_000
const isFailed = (result: Result): result is Failed => result !== null && 'fault' in result
const number = (value: number): Result =>
  Number.isFinite(value) ? { type: 'number', value: value + 0 } : { fault: 'out-of-range' }
const truth = (value: boolean): Result => ({ type: 'boolean', value })
const text = (value: string): Result => (value.length > 1_000_000 ? { fault: 'too-long' } : { type: 'text', value })

function evaluate(node: Syntax, row: ReadonlyMap<string, Result>, steps: ReadonlyMap<string, Result>): Result {
  const go = (child: Syntax): Result => evaluate(child, row, steps)
  switch (node.kind) {
    case 'literal':
      return node.type === 'blank' ? null : ({ type: node.type, value: node.value } as Known)
    case 'name': {
      const name = node.parts[0].name.toLowerCase()
      return steps.has(name) ? (steps.get(name) as Result) : (row.get(name) as Result)
    }
    case 'group':
      return go(node.inner)
    case 'unary': {
      const value = go(node.operand)
      if (value === null || isFailed(value) || node.operator === '+') return value
      return node.operator === 'not' ? truth(!value.value) : number(-(value.value as number))
    }
    case 'power':
      return strict([go(node.base), go(node.exponent)], ([base, exponent]) => power(base as number, exponent as number))
    case 'chain':
      return chain(node, go)
    case 'compare':
      return compare(node.operator, go(node.left), go(node.right))
    case 'between': {
      const value = go(node.value)
      const inside = decide('and', compare('>=', value, go(node.low)), compare('<=', value, go(node.high)))
      return node.negated ? negate(inside) : inside
    }
    case 'in': {
      const value = go(node.value)
      const tests = node.members
        .map(go)
        .filter((member) => member !== null)
        .map((member) => compare('=', value, member))
      const none = value === null || isFailed(value) ? value : truth(false)
      const inside = tests.length === 0 ? none : tests.reduce((left, right) => decide('or', left, right))
      return node.negated ? negate(inside) : inside
    }
    case 'is': {
      const value = go(node.value)
      if (node.what === 'error') return truth(isFailed(value) !== node.negated)
      return isFailed(value) ? value : truth((value === null) !== node.negated)
    }
    case 'case': {
      const subject = node.subject === null ? null : go(node.subject)
      for (const branch of node.branches) {
        const condition = node.subject === null ? go(branch.condition) : compare('=', subject, go(branch.condition))
        if (isFailed(condition)) return condition
        if (condition?.value === true) return go(branch.value)
      }
      return node.otherwise === null ? null : go(node.otherwise)
    }
    case 'let':
      return evaluate(node.body, row, new Map([...steps, [node.name.name.toLowerCase(), go(node.bound)]]))
    case 'call':
      return call(node.name.name.toLowerCase(), node.args, go)
    default:
      throw new Error(`the oracle does not know ${node.kind}`)
  }
}

/** The leftmost error, else blank, else what `compute` gives. */
function strict(values: readonly Result[], compute: (values: (number | string | boolean)[], types: string[]) => Result): Result {
  const failed = values.find(isFailed)
  if (failed !== undefined) return failed
  if (values.includes(null)) return null
  const known = values as Known[]
  return compute(
    known.map(({ value }) => value),
    known.map(({ type }) => type),
  )
}

function power(base: number, exponent: number): Result {
  if (base === 0 && exponent < 0) return { fault: 'division-by-zero' }
  if (!Number.isInteger(exponent)) return number(base ** exponent)
  let result = 1
  let square = base
  for (let rest = Math.abs(exponent); rest > 0; rest = Math.floor(rest / 2)) {
    if (rest % 2 === 1) result *= square
    square *= square
  }
  return number(exponent < 0 ? 1 / result : result)
}

function chain(node: Syntax & { kind: 'chain' }, go: (child: Syntax) => Result): Result {
  if (node.level === 'join') {
    const values = [node.first, ...node.rest.map((link) => link.operand)].map(go)
    const failed = values.find(isFailed)
    if (failed !== undefined) return failed
    return values.every((value) => value === null)
      ? null
      : text(values.map((value) => (value === null ? '' : display(value as Known))).join(''))
  }
  let left = go(node.first)
  for (const link of node.rest) {
    if (node.level === 'default') {
      if (left === null) left = go(link.operand)
    } else if (node.level === 'and' || node.level === 'or') left = decide(node.level, left, go(link.operand))
    else
      left = strict([left, go(link.operand)], ([a, b], [p, q]) =>
        reckon(link.operator, a as number, b as number, p as string, q as string),
      )
    if (node.level === 'sum' || node.level === 'product') continue
  }
  return left
}

function reckon(operator: string, a: number, b: number, left: string, right: string): Result {
  if (operator === '*') return number(a * b)
  if (operator === '/') return b === 0 ? { fault: 'division-by-zero' } : number(a / b)
  if (operator === 'per') return b === 0 ? null : number(a / b)
  if (operator === '+') {
    if (left === 'date') return day(a + b)
    if (right === 'date') return day(a + b)
    if (left === 'datetime') return time(a + Math.round(b * DAY))
    if (right === 'datetime') return time(b + Math.round(a * DAY))
    return number(a + b)
  }
  if (left === 'number') return number(a - b)
  if (right === 'number') return left === 'date' ? day(a - b) : time(a + Math.round(-b * DAY))
  if (left === 'date' && right === 'date') return number(a - b)
  return number(((left === 'date' ? a * DAY : a) - (right === 'date' ? b * DAY : b)) / DAY)
}

function day(value: number): Result {
  return Number.isInteger(value) && value >= -719_162 && value <= 2_932_896 ? { type: 'date', value } : { fault: 'out-of-range' }
}

function time(value: number): Result {
  return value >= -719_162 * DAY && value < 2_932_897 * DAY ? { type: 'datetime', value } : { fault: 'out-of-range' }
}

function decide(operator: 'and' | 'or', left: Result, right: Result): Result {
  const deciding = operator === 'or'
  for (const side of [left, right]) if (side !== null && !isFailed(side) && side.value === deciding) return truth(deciding)
  return strict([left, right], () => truth(!deciding))
}

function negate(value: Result): Result {
  return value === null || isFailed(value) ? value : truth(!value.value)
}

function compare(operator: string, left: Result, right: Result): Result {
  return strict([left, right], ([a, b], [p, q]) => {
    const x = p === 'date' && q === 'datetime' ? (a as number) * DAY : a
    const y = q === 'date' && p === 'datetime' ? (b as number) * DAY : b
    const order = typeof x === 'string' ? byCodePoint(x, y as string) : Number(x) - Number(y)
    return truth(
      { '=': order === 0, '<>': order !== 0, '<': order < 0, '<=': order <= 0, '>': order > 0, '>=': order >= 0 }[
        operator
      ] as boolean,
    )
  })
}

function byCodePoint(left: string, right: string): number {
  const a = Array.from(left, (one) => one.codePointAt(0) as number)
  const b = Array.from(right, (one) => one.codePointAt(0) as number)
  for (let at = 0; at < Math.min(a.length, b.length); at++) if (a[at] !== b[at]) return (a[at] as number) - (b[at] as number)
  return a.length - b.length
}

function display({ type, value }: Known): string {
  if (type === 'date') return new Date(value * DAY).toISOString().slice(0, 10).replace('+0', '')
  if (type === 'datetime')
    return new Date(value)
      .toISOString()
      .slice(0, 23)
      .replace(/\.?0*$/, '')
  if (type !== 'number') return String(value)
  return Number.isInteger(value) && Math.abs(value) <= 2 ** 53 ? String(value) : String(Number(value.toPrecision(15)))
}

function call(name: string, args: readonly Syntax[], go: (child: Syntax) => Result): Result {
  if (name === 'if') {
    const condition = go(args[0] as Syntax)
    if (isFailed(condition)) return condition
    return go(args[condition?.value === true ? 1 : 2] as Syntax)
  }
  if (name === 'coalesce') {
    for (const arg of args) {
      const value = go(arg)
      if (value !== null) return value
    }
    return null
  }
  const values = args.map(go)
  if (name === 'if_error') return isFailed(values[0] as Result) ? (values[1] as Result) : (values[0] as Result)
  if (name === 'blank_if') {
    const [value, unwanted] = values as [Result, Result]
    const failed = values.find(isFailed)
    if (failed !== undefined) return failed
    return value !== null && unwanted !== null && (value as Known).value === (unwanted as Known).value ? null : value
  }
  if (name === 'concat' || name === 'join') {
    const failed = values.find(isFailed)
    if (failed !== undefined) return failed
    const [separator, parts] = name === 'join' ? [values[0], values.slice(1)] : [text(''), values]
    const filled = parts.filter((part) => part !== null) as Known[]
    return separator === null || filled.length === 0 ? null : text(filled.map(display).join((separator as Known).value as string))
  }
  const compute = functions[name]
  if (compute === undefined) throw new Error(`the oracle does not know ${name}()`)
  return strict(values, compute as never)
}

const letters = (value: string): string[] => [...new Intl.Segmenter('en').segment(value)].map(({ segment }) => segment)
const whole = (value: number): boolean => Number.isInteger(value)
const civil = (value: number, type: string): Date => new Date(type === 'date' ? value * DAY : value)

const functions: Record<string, (values: never[], types: string[]) => Result> = {
  abs: ([x]) => number(Math.abs(x as never)),
  sign: ([x]) => number(Math.sign(x as never)),
  sqrt: ([x]) => number(Math.sqrt(x as never)),
  floor: ([x]) => number(Math.floor(x as never)),
  ceiling: ([x]) => number(Math.ceil(x as never)),
  truncate: ([x]) => number(Math.trunc(x as never)),
  mod: ([x, y]: number[]) => (y === 0 ? { fault: 'division-by-zero' } : number(modulo(x as number, y as number))),
  round: ([x, digits = 0]: number[]) => (whole(digits) ? number(roundHalfAway(x as number, digits)) : { fault: 'out-of-range' }),
  clamp: ([x, low, high]: number[]) =>
    (low as number) > (high as number)
      ? { fault: 'out-of-range' }
      : number(Math.min(Math.max(x as number, low as number), high as number)),
  number: ([x]: string[]) => (isNumberText(x as string) ? number(Number(x)) : { fault: 'misfit' }),
  is_number: ([x]: string[]) => truth(isNumberText(x as string)),
  length: ([x]: string[]) => number(letters(x as string).length),
  upper: ([x]: string[]) => text((x as string).toUpperCase()),
  lower: ([x]: string[]) => text((x as string).toLowerCase()),
  trim: ([x]: string[]) => text((x as string).trim()),
  left: ([x, n]: [string, number] | never[]) =>
    whole(n as number) && (n as number) >= 0
      ? text(
          letters(x as string)
            .slice(0, n)
            .join(''),
        )
      : { fault: 'out-of-range' },
  right: ([x, n]: [string, number] | never[]) =>
    whole(n as number) && (n as number) >= 0
      ? text(
          letters(x as string)
            .slice(Math.max(0, letters(x as string).length - (n as number)))
            .join(''),
        )
      : { fault: 'out-of-range' },
  contains: ([x, y]: string[]) => truth((x as string).includes(y as string)),
  starts_with: ([x, y]: string[]) => truth((x as string).startsWith(y as string)),
  ends_with: ([x, y]: string[]) => truth((x as string).endsWith(y as string)),
  replace: ([x, y, z]: string[]) => text(y === '' ? (x as string) : (x as string).split(y as string).join(z)),
  split_part: ([x, y, n]: [string, string, number] | never[]) =>
    piece(y === '' ? [x as string] : (x as string).split(y as string), n as number),
  word: ([x, n]: [string, number] | never[]) => piece((x as string).split(/\s+/u).filter(Boolean), n as number),
  text: ([x], [type]) => text(display({ type, value: x } as never)),
  year: ([x], [type]) => number(civil(x as never, type as string).getUTCFullYear()),
  month: ([x], [type]) => number(civil(x as never, type as string).getUTCMonth() + 1),
  day: ([x], [type]) => number(civil(x as never, type as string).getUTCDate()),
  weekday: ([x], [type]) => number(civil(x as never, type as string).getUTCDay() || 7),
  days_between: ([x, y]: number[], [p, q]) =>
    number(
      (q === 'date' ? (y as number) : Math.floor((y as number) / DAY)) -
        (p === 'date' ? (x as number) : Math.floor((x as number) / DAY)),
    ),
  add_days: ([x, n]: number[], [type]) =>
    whole(n as number)
      ? type === 'date'
        ? day((x as number) + (n as number))
        : time((x as number) + (n as number) * DAY)
      : { fault: 'out-of-range' },
}

function isNumberText(value: string): boolean {
  if (!/^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(value) || !Number.isFinite(Number(value))) return false
  return !/^[+-]?\d+$/.test(value) || BigInt(value.replace(/^[+-]/, '')) <= 2n ** 53n
}

function piece(pieces: readonly string[], place: number): Result {
  if (!whole(place) || place === 0) return { fault: 'out-of-range' }
  const found = pieces.at(place > 0 ? place - 1 : place)
  return found === undefined ? null : text(found)
}

function modulo(x: number, y: number): number {
  const rest = x % y
  return rest !== 0 && Math.sign(rest) !== Math.sign(y) ? rest + y : rest
}

function roundHalfAway(value: number, digits: number): number {
  const [coefficient = '', exponent = '0'] = Math.abs(value).toExponential().split('e')
  const mantissa = BigInt(coefficient.replace('.', ''))
  const scale = Number(exponent) - (coefficient.replace('.', '').length - 1) + digits
  if (scale >= 0 || value === 0) return value
  const unit = 10n ** BigInt(-scale)
  return Math.sign(value) * Number(`${(mantissa * 2n + unit) / (2n * unit)}e${-digits}`)
}
