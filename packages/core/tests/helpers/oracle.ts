import { parseFormula, type Syntax } from '../../src/formula/index.js'
import { acrossRow, isAcross } from './oracle-across.js'
import { ORACLE_FUNCTIONS } from './oracle-functions.js'
import {
  byCodePoint,
  DAY,
  day,
  display,
  isFailed,
  type Known,
  number,
  power,
  type Result,
  text,
  time,
  truth,
} from './oracle-values.js'

export type { Failed, Known, Result } from './oracle-values.js'

/**
 * The oracle: a slow, obvious evaluator of row formulas. One row at a time, straight over the tree, no types beforehand, no
 * blocks, nothing shared with the checker, the plan or the kernels. What it says is what the engine must say, to the bit.
 */

/** Where a part of a formula stands: what its names mean there. */
export interface Place {
  readonly formula: string
  /** Named steps in sight. */
  readonly steps: ReadonlyMap<string, Result>
  /** What a column of the row is. */
  column(name: string): Result
  /** A name of several parts, or one that is no column of the row. */
  read?(node: Syntax & { kind: 'name' }): Result
  /** A call of a function of several rows; undefined when it is none. */
  overRows?(node: Syntax & { kind: 'call' }, steps: ReadonlyMap<string, Result>): Result | undefined
}

/** Evaluates a formula on one row. */
export function askOracle(formula: string, row: ReadonlyMap<string, Result>): Result {
  return evaluate(parseFormula(formula).tree, { formula, steps: new Map(), column: (name) => row.get(name) as Result })
}

/** Evaluates a part of a formula at its place. */
export function evaluate(node: Syntax, place: Place): Result {
  const { steps, formula } = place
  const go = (child: Syntax): Result => evaluate(child, place)
  switch (node.kind) {
    case 'literal':
      return node.type === 'blank' ? null : ({ type: node.type, value: node.value } as Known)
    case 'name': {
      const name = node.parts[0].name.toLowerCase()
      if (node.parts.length === 1 && !node.every && steps.has(name)) return steps.get(name) as Result
      return place.read === undefined ? place.column(name) : place.read(node)
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
      return evaluate(node.body, { ...place, steps: new Map([...steps, [node.name.name.toLowerCase(), go(node.bound)]]) })
    case 'call': {
      const overRows = place.overRows?.(node, steps)
      if (overRows !== undefined) return overRows
      return isAcross(node)
        ? acrossRow(
            node,
            go,
            (amount) => formula.slice(amount.from, amount.to),
            (name) => place.column(name),
          )
        : call(node.name.name.toLowerCase(), node.args, go)
    }
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

function call(name: string, args: readonly Syntax[], go: (child: Syntax) => Result): Result {
  if (name === 'if') {
    const condition = go(args[0] as Syntax)
    if (isFailed(condition)) return condition
    return go(args[condition?.value === true ? 1 : 2] as Syntax)
  }
  if (name === 'coalesce' || name === 'first_of') {
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
  const compute = ORACLE_FUNCTIONS[name]
  if (compute === undefined) throw new Error(`the oracle does not know ${name}()`)
  return strict(values, compute as never)
}
