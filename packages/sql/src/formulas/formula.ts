import { CellFault, type FaultCode, type ValueType } from 'mellow-abacus'
import { type Checked, type ExpressionType, mapParts, type Operator, partsOf } from 'mellow-abacus/model'
import { NoForm, numberOfFault } from '../dialects/index.js'
import { functionForm } from '../functions/index.js'
import { fragment, interleaved, joined, literal, sql, type Term } from '../terms/index.js'
import {
  datePlusDays,
  dayToTime,
  eitherSize,
  faultOfKnown,
  firstFault,
  isWritten,
  nothing,
  numberLiteral,
  power,
  product,
  quotient,
  sizeOfNumber,
  strict,
  sum,
  textLiteral,
  timeDifference,
  timePlusDays,
  type Value,
  valueFrom,
  type Writing,
} from '../values/index.js'
import type { Reading } from './reading.js'

/** Writes formulas for some rows. */
export class FormulaWriter {
  readonly #writing: Writing
  readonly #reading: Reading
  readonly #constants: Map<Checked, boolean> = new Map()
  readonly #steps: Map<number, { readonly node: Checked; readonly value: Value }> = new Map()

  constructor(writing: Writing, reading: Reading) {
    this.#writing = writing
    this.#reading = reading
  }

  /**
   * What an expression is.
   *
   * @param wanted - the type of blanks that have none of their own
   * @throws NoForm where the engine has no form for it
   */
  write(node: Checked, wanted: ValueType = 'number'): Value {
    const type = typeOf(node.type, wanted)
    if (node.kind !== 'constant' && this.#isConstant(node)) return this.#folded(node, type)
    switch (node.kind) {
      case 'constant':
        return this.#constant(node.value, type)
      case 'column':
        return node.type === 'blank' ? this.#blankOf(this.#reading.column(node.column), type) : this.#reading.column(node.column)
      case 'step': {
        const step = this.#steps.get(node.step)
        if (step === undefined) throw new ReferenceError(`step ${node.step} is read before it is bound`)
        return node.type === 'blank' ? this.write(step.node, type) : step.value
      }
      case 'let':
        this.#steps.set(node.step, { node: node.bound, value: this.write(node.bound) })
        return this.write(node.body, type)
      case 'apply':
        return this.#apply(node.operator, node.args)
      case 'chain':
        return this.#chain(node)
      case 'choose': {
        const branches = node.branches.map((branch) => ({
          condition: this.write(branch.condition, 'boolean'),
          value: this.write(branch.value, type),
        }))
        return this.#choose(branches, node.otherwise === null ? this.#constant(null, type) : this.write(node.otherwise, type))
      }
      case 'coalesce':
        return this.#firstPresent(node.operands.map((one) => this.write(one, type)))
      case 'if-error':
        return ifError(this.write(node.value, type), this.write(node.otherwise, type))
      case 'call':
        return this.#call(node, type)
      case 'follow':
        return this.#reading.follow(node.links, node.read)
      case 'single':
        return node.type === 'blank' ? this.#blankOf(this.#reading.single(node.column), type) : this.#reading.single(node.column)
      case 'outer':
        return this.#reading.outer(node.inner)
      case 'over-rows':
        return this.#reading.overRows(node)
    }
  }

  /** True where an expression reads no row and no name. */
  #isConstant(node: Checked): boolean {
    let is = this.#constants.get(node)
    if (is === undefined) {
      const step = node.kind === 'step' ? this.#steps.get(node.step)?.node : undefined
      is =
        (step === undefined ? !READING.has(node.kind) : this.#isConstant(step)) &&
        !(node.kind === 'call' && (node.record.movesWithClock === true || node.holidays !== undefined))
      is &&= partsOf(node).every((part) => this.#isConstant(part))
      this.#constants.set(node, is)
    }
    return is
  }

  #folded(node: Checked, type: ValueType): Value {
    const cell = this.#writing.constant(this.#withoutSteps(node))
    if (!(cell instanceof CellFault)) return this.#constant(cell, type)
    return { ...this.#constant(null, type), fault: literal(String(numberOfFault(cell.code))) }
  }

  /** An expression with what its steps stand for in their place. */
  #withoutSteps(node: Checked): Checked {
    const step = node.kind === 'step' ? this.#steps.get(node.step)?.node : undefined
    return step === undefined ? mapParts(node, (part) => this.#withoutSteps(part)) : this.#withoutSteps(step)
  }

  /** A condition: true, false or null, and its error. */
  condition(node: Checked): Value {
    return this.write(node, 'boolean')
  }

  #constant(value: string | number | boolean | null, type: ValueType): Value {
    const { types } = this.#writing.dialect
    if (value === null) return valueFrom(literal(`cast(null as ${types[type]})`), { size: sizeOfNumber(0) })
    if (typeof value === 'boolean') return valueFrom(literal(value ? 'true' : 'false'))
    if (typeof value === 'string') return valueFrom(literal(textConstant(value, types.text)))
    if (type === 'date') return valueFrom(literal(`date '${isoDay(value)}'`))
    if (type === 'datetime') return valueFrom(literal(`timestamp '${isoDay(Math.floor(value / DAY))} ${isoTime(value)}'`))
    return valueFrom(numberLiteral(value), { size: sizeOfNumber(value) })
  }

  /** A column that has nothing but blanks, or the error that it has. */
  #blankOf({ fault }: Value, type: ValueType): Value {
    return { ...this.#constant(null, type), fault }
  }

  #apply(operator: Operator, nodes: readonly Checked[]): Value {
    const wanted = wantedOf(operator, nodes)
    const [a, b] = nodes.map((node) => this.write(node, wanted)) as [Value, Value]
    switch (operator) {
      case 'negate':
        return strict([a], sql`(- ${a.value})`, { size: a.size, mayBeNegativeZero: true })
      case 'not':
        return strict([a], sql`(not ${a.value})`)
      case 'is-blank': {
        const isNull = sql`(${a.value} is null)`
        const value = a.fault === null ? isNull : sql`case when ${a.fault} is null then ${isNull} end`
        return valueFrom(value, { fault: a.fault, isApproximate: a.isApproximate })
      }
      case 'is-error':
        return valueFrom(a.fault === null ? literal('false') : sql`(${a.fault} is not null)`, { isApproximate: a.isApproximate })
      case 'day-to-time':
        return dayToTime(a)
      case 'power':
        return power(this.#writing, a, b, numberWritten(nodes[1] as Checked))
      default:
        return this.#pair(operator, a, b, nodes.map((node) => typeOf(node.type, wanted)) as [ValueType, ValueType])
    }
  }

  #pair(operator: Operator, a: Value, b: Value, types: readonly [ValueType, ValueType]): Value {
    const writing = this.#writing
    switch (operator) {
      case 'add':
        return sum(writing, a, b, '+')
      case 'subtract':
        return types[0] === 'date' || types[1] === 'date'
          ? strict([a, b], sql`cast(${a.value} - ${b.value} as float8)`, { size: { grain: 0, high: 24 } })
          : sum(writing, a, b, '-')
      case 'multiply':
        return product(writing, a, b)
      case 'divide':
        return quotient(writing, a, b, 'fault')
      case 'per':
        return quotient(writing, a, b, 'blank')
      case 'add-days':
        return types[0] === 'date' ? datePlusDays(writing, a, b, 1) : datePlusDays(writing, b, a, 1, [a, b])
      case 'subtract-days':
        return datePlusDays(writing, a, b, -1)
      case 'add-time':
        return timePlusDays(writing, a, b, 1)
      case 'subtract-time':
        return timePlusDays(writing, a, b, -1)
      case 'add-to-time':
        return timePlusDays(writing, b, a, 1, [a, b])
      case 'time-difference':
        return timeDifference(writing, a, b)
      case 'member':
        return this.#member(a, b)
      default:
        return this.#compare(operator, a, b, types[0] === 'text' || types[1] === 'text')
    }
  }

  #compare(operator: Operator, a: Value, b: Value, isText: boolean): Value {
    const sign = COMPARISONS[operator]
    if (sign === undefined) throw new NoForm(`${operator} has no form in SQL`)
    const left = isText && sign.length > 0 && sign !== '=' && sign !== '<>' ? this.#writing.dialect.ordered(a.value) : a.value
    return strict([a, b], sql`(${left} ${sign} ${b.value})`)
  }

  /** One member of a list: a blank one is none. */
  #member(a: Value, b: Value): Value {
    const isEqual = sql`(${a.value} = ${b.value})`
    if (b.fault === null && isWritten(b.value)) return strict([a, b], isEqual)
    const noFault = b.fault === null ? fragment`` : fragment` and ${b.fault} is null`
    return strict([a, b], sql`case when ${a.value} is not null and ${b.value} is null${noFault} then false else ${isEqual} end`)
  }

  #chain(node: Checked & { kind: 'chain' }): Value {
    const operators = node.rest.map(({ operator }) => operator)
    if (node.type === 'boolean') {
      const operands = [node.first, ...node.rest.map(({ operand }) => operand)].map((one) => this.condition(one))
      return logic(operators[0] === 'or' ? 'or' : 'and', operands)
    }
    let type = typeOf(node.first.type, 'number')
    let left = this.write(node.first, typedFirst(node))
    for (const link of node.rest) {
      const operand = this.write(link.operand, wantedBeside(link.operator, type))
      left = this.#pair(link.operator, left, operand, [type, typeOf(link.operand.type, 'number')])
      type = typeOf(link.type, 'number')
    }
    return left
  }

  #choose(branches: readonly { condition: Value; value: Value }[], otherwise: Value): Value {
    if (branches.length === 0) return otherwise
    const parts: string[] = []
    const terms: Term[] = []
    const faultParts: string[] = []
    const faultTerms: Term[] = []
    const add = (text: string, term: Term): void => {
      parts.push(text)
      terms.push(term)
    }
    const addFault = (text: string, term: Term): void => {
      faultParts.push(text)
      faultTerms.push(term)
    }
    const none = literal('null')
    for (const [index, { condition, value }] of branches.entries()) {
      const when = index === 0 ? 'case when ' : ' when '
      if (condition.fault !== null) {
        add(when, condition.fault)
        add(' is not null then null when ', condition.value)
        addFault(when, condition.fault)
        addFault(' is not null then ', condition.fault)
        addFault(' when ', condition.value)
      } else {
        add(when, condition.value)
        addFault(when, condition.value)
      }
      add(' then ', value.value)
      addFault(' then ', value.fault ?? none)
    }
    add(' else ', otherwise.value)
    addFault(' else ', otherwise.fault ?? none)
    const all = [...branches.flatMap(({ condition, value }) => [condition, value]), otherwise]
    const values = [...branches.map(({ value }) => value), otherwise]
    return valueFrom(interleaved([...parts, ' end'], terms), {
      fault: all.every(({ fault }) => fault === null) ? null : interleaved([...faultParts, ' end'], faultTerms),
      size: values.map(({ size }) => size).reduce(eitherSize),
      isApproximate: all.some((one) => one.isApproximate),
      mayBeNegativeZero: values.some((one) => one.mayBeNegativeZero),
    })
  }

  /** The first that is not blank; an error is not. */
  #firstPresent(operands: readonly Value[]): Value {
    return [...operands].reverse().reduce((rest, one) => {
      const both = sql`coalesce(${one.value}, ${rest.value})`
      const more = {
        size: eitherSize(one.size, rest.size),
        isApproximate: one.isApproximate || rest.isApproximate,
        mayBeNegativeZero: one.mayBeNegativeZero || rest.mayBeNegativeZero,
      }
      const later = rest.fault === null ? null : sql`case when ${one.value} is null then ${rest.fault} end`
      if (one.fault === null) return valueFrom(both, { ...more, fault: later })
      const value = sql`case when ${one.fault} is null then ${both} end`
      return valueFrom(value, { ...more, fault: firstFault([one.fault, later]) })
    })
  }

  #call(node: Checked & { kind: 'call' }, type: ValueType): Value {
    const { record } = node
    const args = node.args.map((arg, index) => {
      const parameter = record.parameters[Math.min(index, record.parameters.length - 1)]?.types[0] as string
      const wanted =
        parameter === 'T' || parameter === 'ordered' ? type : parameter === 'any' ? 'number' : (parameter as ValueType)
      return { value: this.write(arg, wanted), type: typeOf(arg.type, wanted), node: arg }
    })
    const operator = record.operator?.(args.map((arg) => arg.type)) ?? null
    if (operator !== null) {
      const [left, right] = (operator.swapped ? [...args].reverse() : args) as [(typeof args)[0], (typeof args)[0]]
      return this.#pair(operator.name, left.value, right.value, [left.type, right.type])
    }
    const unusable = unusableText(node)
    if (unusable !== null) {
      const of = args.map(({ value }) => value)
      return strict(of, nothing(this.#writing, type), { own: faultOfKnown(literal('true'), of, unusable) })
    }
    const { blanksAsZero, amounts } = node
    return functionForm(
      record.name,
      this.#writing.dialect,
    )({
      name: record.name,
      args: args.map(({ value }) => value),
      types: args.map((arg) => arg.type),
      constants: args.map(({ node: arg }) => (arg.kind === 'constant' ? arg.value : numberWritten(arg))),
      blanksAsZero,
      amounts,
      holidays: node.holidays === undefined ? null : this.#reading.days(node.holidays),
      type,
      writing: this.#writing,
    })
  }
}

/** `and` and `or`: a side that decides does so whatever the other is; otherwise the first error, then blank. */
function logic(operator: 'and' | 'or', operands: readonly Value[]): Value {
  const value = sql`(${joined(
    operands.map((one) => one.value),
    ` ${operator} `,
  )})`
  const fault = firstFault(operands.map((one) => one.fault))
  const isApproximate = operands.some((one) => one.isApproximate)
  return valueFrom(value, { isApproximate, fault: fault === null ? null : sql`case when ${value} is null then ${fault} end` })
}

function ifError(value: Value, otherwise: Value): Value {
  if (value.fault === null) return value
  return valueFrom(sql`case when ${value.fault} is null then ${value.value} else ${otherwise.value} end`, {
    fault: otherwise.fault === null ? null : sql`case when ${value.fault} is not null then ${otherwise.fault} end`,
    size: eitherSize(value.size, otherwise.size),
    isApproximate: value.isApproximate || otherwise.isApproximate,
    mayBeNegativeZero: value.mayBeNegativeZero || otherwise.mayBeNegativeZero,
  })
}

/** Kinds of expressions that read a row or a name. */
const READING: ReadonlySet<Checked['kind']> = new Set(['column', 'step', 'follow', 'single', 'outer', 'over-rows'])

const DAY = 86_400_000

const COMPARISONS: Partial<Record<Operator, string>> = {
  equal: '=',
  unequal: '<>',
  less: '<',
  'less-equal': '<=',
  greater: '>',
  'greater-equal': '>=',
}

/** The number that an expression writes out, with its sign. */
function numberWritten(node: Checked): number | undefined {
  if (node.kind === 'constant') return typeof node.value === 'number' ? node.value : undefined
  if (node.kind !== 'apply' || node.operator !== 'negate') return undefined
  const of = numberWritten(node.args[0] as Checked)
  return of === undefined ? undefined : -of
}

/** The error of a call whose text with rules of its own is written out and no good; null for any other call. */
function unusableText({ record, args }: Checked & { kind: 'call' }): FaultCode | null {
  const { textRule } = record
  const arg = textRule === undefined ? undefined : args[textRule.argument]
  if (textRule === undefined || arg?.kind !== 'constant' || typeof arg.value !== 'string') return null
  const types = args.map((one) => one.type)
  return textRule.isUsable(arg.value, types) ? null : textRule.fault
}

/** The type that an expression is stored as. */
export function typeOf(type: ExpressionType, wanted: ValueType): ValueType {
  return type === 'blank' || type === 'unknown' ? wanted : type
}

/** The type of a blank beside other operands. */
function wantedOf(operator: Operator, nodes: readonly Checked[]): ValueType {
  if (operator === 'not') return 'boolean'
  if (operator in COMPARISONS || operator === 'member') {
    const typed = nodes.find(({ type }) => type !== 'blank' && type !== 'unknown')
    return typed === undefined ? 'number' : typeOf(typed.type, 'number')
  }
  return operator === 'day-to-time' ? 'date' : 'number'
}

/** The type of a blank that a chain begins with. */
function typedFirst(node: Checked & { kind: 'chain' }): ValueType {
  const operator = node.rest[0]?.operator
  if (operator === 'time-difference') return 'datetime'
  return operator === 'subtract' && node.rest[0]?.operand.type === 'date' ? 'date' : 'number'
}

/** The type of a blank that stands right of an operator. */
function wantedBeside(operator: Operator, left: ValueType): ValueType {
  if (operator === 'time-difference') return 'datetime'
  return operator === 'subtract' && left === 'date' ? 'date' : 'number'
}

/** A text constant. An empty cast keeps it from being read as another type. */
function textConstant(text: string, type: string): string {
  return `${textLiteral(text)}::${type}`
}

function isoDay(day: number): string {
  return new Date(day * DAY).toISOString().slice(0, 10).replace('+0', '')
}

function isoTime(ms: number): string {
  return new Date(ms).toISOString().slice(-13, -1)
}
