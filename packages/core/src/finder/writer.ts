import { makeVector, type Vector, wholeBlock } from '../columns/index.js'
import type { FunctionRecord } from '../functions/index.js'
import {
  printDate,
  printNumber,
  quoteText,
  type Scalar,
  Status,
  type Surroundings,
  statusOfFault,
  storageKindOf,
  type ValueType,
} from '../values/index.js'
import { Level, Program } from './program.js'
import { recordNamed, resultOf } from './records.js'
import { costOfNumber } from './simplest-number.js'

/** An operator between numbers. */
export type Arithmetic = '+' | '-' | '*' | 'per'

/** Programs have no calls that differ by their place, and no rated arguments. */
const NO_PLACE = { column: 0, ordinal: 0, rowIdOf: (row: number): number => row }
const NO_AMOUNTS: readonly never[] = []

/** What each step of a program adds to its size. */
const COST_OF_CALL = 1
const COST_OF_OPERATOR = 0.8
const COST_OF_DEFAULT = 0.3

/**
 * Writes programs of the language: each has its text, its type, and runs by the kernels that formulas run by. So what a search
 * sees is what the formula will give.
 */
export class Writer {
  readonly surroundings: Surroundings
  readonly #constants: Map<string, Program> = new Map()

  constructor(surroundings: Surroundings) {
    this.surroundings = surroundings
  }

  /** A constant: a number, text or truth value, or with its type a date in days. */
  constant(
    value: Scalar,
    type: ValueType = typeof value === 'number' ? 'number' : typeof value === 'string' ? 'text' : 'boolean',
  ): Program {
    const key = `${type} ${value}`
    const known = this.#constants.get(key)
    if (known !== undefined) return known
    const text =
      type === 'text'
        ? quoteText(String(value))
        : type === 'date'
          ? `@${printDate(value as number)}`
          : typeof value === 'number'
            ? printNumber(value)
            : String(value)
    const cost =
      typeof value === 'number'
        ? type === 'date'
          ? 1.5
          : costOfNumber(value)
        : typeof value === 'string'
          ? costOfText(value)
          : 0.4
    const made = new Program({
      text,
      level: typeof value === 'number' && value < 0 ? Level.product : Level.whole,
      type,
      cost,
      compute: ({ count }) => filled(value, type, count),
    })
    this.#constants.set(key, made)
    return made
  }

  /**
   * A call of a function that is computed row by row.
   *
   * @param extra - what it adds to the size beyond any call
   * @param type - of the result, where a text decides it
   */
  call(name: string, args: readonly Program[], extra = 0, type?: ValueType): Program {
    const record = recordNamed(name)
    const types = args.map((arg) => arg.type)
    const result = type ?? resultOf(record, types[0])
    return new Program({
      text: `${name}(${args.map(({ text }) => text).join(', ')})`,
      level: Level.whole,
      type: result,
      cost: COST_OF_CALL + extra + args.reduce((sum, { cost }) => sum + cost, 0),
      compute: (sheet) => {
        const vectors = args.map((arg) => arg.on(sheet))
        return this.#run(record, vectors, types, result, sheet.count)
      },
    })
  }

  /** Texts and other values put together, in the form they are shown in. */
  join(parts: readonly Program[]): Program {
    if (parts.length === 1) return parts[0] as Program
    return new Program({
      text: parts.map((part, at) => part.within(Level.join, at > 0)).join(' & '),
      level: Level.join,
      type: 'text',
      cost: parts.reduce((sum, { cost }) => sum + cost, 0) + COST_OF_OPERATOR * 0.5 * (parts.length - 1),
      compute: (sheet) =>
        this.#run(
          recordNamed('concat'),
          parts.map((part) => part.on(sheet)),
          parts.map(({ type }) => type),
          'text',
          sheet.count,
        ),
    })
  }

  /** A value in a text, in the form it is shown in; its own text is that of the value. */
  shown(value: Program): Program {
    return new Program({
      ...{ text: value.text, level: value.level, type: 'text', cost: value.cost },
      compute: (sheet) => this.#run(recordNamed('concat'), [value.on(sheet)], [value.type], 'text', sheet.count),
    })
  }

  /** Two numbers (dates and numbers, with their difference in days) by an operator. */
  arithmetic(operator: Arithmetic, left: Program, right: Program, type: ValueType = 'number'): Program {
    const level = operator === '+' || operator === '-' ? Level.sum : Level.product
    const isLoose = operator === '-' || operator === 'per' || operator === '*'
    return new Program({
      text: `${left.within(level)} ${operator} ${right.within(level, isLoose)}`,
      level,
      type,
      cost: COST_OF_OPERATOR + left.cost + right.cost,
      compute: (sheet) => pairwise(left.on(sheet), right.on(sheet), sheet.count, COMPUTE[operator]),
    })
  }

  /** The left value, or the right one where it is blank. */
  orElse(left: Program, right: Program): Program {
    const { type } = left
    return new Program({
      text: `${left.within(Level.join)} ?? ${right.within(Level.join, true)}`,
      level: Level.join,
      type,
      cost: COST_OF_DEFAULT + left.cost + right.cost + (left.isOfOtherRows ? COST_OF_OPERATOR : 0),
      compute: (sheet) =>
        chosen(type, sheet.count, (row) => (left.on(sheet).status[row] === Status.blank ? right : left).on(sheet)),
    })
  }

  /** A condition, written out, with what it says of each row. */
  condition(
    text: string,
    cost: number,
    parts: readonly Program[],
    isTrue: (row: number, vectors: readonly Vector[]) => boolean,
  ): Program {
    return new Program({
      text,
      level: Level.join,
      type: 'boolean',
      cost: cost + parts.reduce((sum, part) => sum + part.cost, 0),
      compute: (sheet) => {
        const vectors = parts.map((part) => part.on(sheet))
        const out = makeVector('boolean', sheet.count)
        for (let row = 0; row < sheet.count; row++) {
          const status = vectors.reduce((most, vector) => Math.max(most, vector.status[row] as number), Status.value as number)
          out.status[row] = status
          if (status === Status.value) out.values[row] = isTrue(row, vectors) ? 1 : 0
        }
        return out
      },
    })
  }

  /** One of several values, by conditions from the first to the last; two of them are an `if`. */
  choose(branches: readonly { readonly when: Program; readonly value: Program }[], otherwise: Program): Program {
    const [first] = branches
    const text =
      branches.length === 1 && first !== undefined
        ? `if(${first.when.text}, ${first.value.text}, ${otherwise.text})`
        : `case ${branches.map(({ when, value }) => `when ${when.text} then ${value.text}`).join(' ')} else ${otherwise.text} end`
    const { type } = otherwise
    return new Program({
      text,
      level: Level.whole,
      type,
      cost: COST_OF_CALL + otherwise.cost + branches.reduce((sum, { when, value }) => sum + when.cost + value.cost + 0.2, 0),
      compute: (sheet) =>
        chosen(type, sheet.count, (row) => {
          const taken = branches.find(({ when }) => {
            const { status, values } = when.on(sheet)
            return status[row] === Status.value && values[row] === 1
          })
          return (taken?.value ?? otherwise).on(sheet)
        }),
    })
  }

  #run(record: FunctionRecord, args: readonly Vector[], types: readonly ValueType[], type: ValueType, count: number): Vector {
    if (record.kernel === undefined) throw new TypeError(`${record.name} is not computed row by row`)
    const { surroundings } = this
    const out = makeVector(storageKindOf(type), count)
    const selection = wholeBlock(count)
    record.kernel({ args, types, out, selection, surroundings, place: NO_PLACE, blanksAsZero: false, amounts: NO_AMOUNTS })
    return out
  }
}

/** What a text of a constant adds to a program: marks are cheap, letters and digits are taken from the examples. */
function costOfText(text: string): number {
  let cost = 0.5
  for (const sign of text) cost += /[\p{L}\p{N}]/u.test(sign) ? 0.45 : 0.12
  return cost
}

const COMPUTE: Readonly<Record<Arithmetic, (a: number, b: number) => number | null>> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  per: (a, b) => (b === 0 ? null : a / b),
}

function filled(value: Scalar, type: ValueType, count: number): Vector {
  const vector = makeVector(storageKindOf(type), count)
  vector.status.fill(Status.value)
  if (vector.kind === 'text') vector.values.fill(String(value))
  else vector.values.fill(Number(value))
  return vector
}

/** A vector of what `pick` gives for each row. */
function chosen(type: ValueType, count: number, pick: (row: number) => Vector): Vector {
  const out = makeVector(storageKindOf(type), count)
  for (let row = 0; row < count; row++) {
    const from = pick(row)
    out.status[row] = from.status[row] as number
    if (out.kind === 'text' && from.kind === 'text') out.values[row] = from.values[row] as string
    else if (out.kind !== 'text' && from.kind !== 'text') out.values[row] = from.values[row] as number
  }
  return out
}

function pairwise(left: Vector, right: Vector, count: number, compute: (a: number, b: number) => number | null): Vector {
  const out = makeVector('number', count)
  for (let row = 0; row < count; row++) {
    const [p, q] = [left.status[row] as number, right.status[row] as number]
    out.status[row] = p > Status.blank ? p : Math.max(p, q)
    if (out.status[row] !== Status.value || out.kind !== 'number') continue
    const value = compute(left.values[row] as number, right.values[row] as number)
    if (value === null) out.status[row] = Status.blank
    else if (Number.isFinite(value)) out.values[row] = value + 0
    else out.status[row] = statusOfFault('out-of-range')
  }
  return out
}
