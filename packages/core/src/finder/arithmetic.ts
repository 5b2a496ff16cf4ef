import type { Program } from './program.js'
import { costOfNumber, simplestNumber } from './simplest-number.js'
import type { Smallest } from './smallest.js'
import { numbersOn, type Task } from './task.js'
import { isNear, type Reading } from './wanted.js'
import type { Arithmetic } from './writer.js'

/** Numbers in the rows of the examples. */
type Numbers = ArrayLike<number>

/** A program with its numbers: NaN for a blank, infinite for an error. */
interface Quantity {
  readonly program: Program
  readonly numbers: Numbers
}

/** An expression of two or three quantities that is not written out yet: most are never wanted. */
interface Combined {
  readonly numbers: Numbers
  readonly cost: number
  readonly write: () => Program
  /** The same times a constant, as people write it: `100 * mites per bees`. */
  readonly scaled?: (factor: Program) => Program
}

/** Of a quantity with itself. */
const SQUARE: readonly Arithmetic[] = ['*']
const OPERATORS: readonly Arithmetic[] = ['+', '-', '*', 'per']
/** Quantities that are combined two by two, and three by three. */
const MOST_IN_PAIRS = 44
const MOST_IN_THREES = 12
const STEPS = [0.05, 0.1, 0.2, 0.25, 0.5, 2, 5, 10, 15, 20, 25, 30, 50, 60, 100, 1000]
const WHOLE_DIVISORS = [2, 3, 4, 5, 7, 8, 10, 12, 24, 25, 30, 50, 60, 100, 1000]
/** What rounding adds when digits could as well have been typed, and functions that are rarely meant. */
const COST_OF_ROUNDING = 0.7
const COST_OF_RARE = 1.2
/** A constant less a quantity, or divided by one, is wanted less often than the other way round. */
const COST_OF_TURNING = 0.6
/** A line goes through any two examples. */
const COST_OF_FREEDOM = 1.5
const UNARY = ['abs', 'floor', 'ceiling', 'truncate', 'sqrt', 'sign', 'exp', 'ln', 'log10']

/**
 * Searches numbers made of quantities by arithmetic, in the order of size: one with a function or a constant, two, two and a
 * constant, three. A constant is not tried but solved for: it is the simplest number of the interval that all examples leave
 * open, each at the digits typed.
 */
export class ArithmeticSearch {
  readonly #task: Task
  readonly #wanted: readonly number[]
  readonly #halves: readonly number[]
  /** The rows of examples in which a number is wanted. */
  readonly #rows: readonly number[]
  readonly #found: Smallest

  constructor(task: Task, reading: Reading, found: Smallest) {
    this.#task = task
    this.#rows = reading.values.flatMap((value, row) => (value === null ? [] : [row]))
    this.#wanted = reading.values.map((value) => (value === null ? Number.NaN : (value as number)))
    this.#halves = reading.halves
    this.#found = found
  }

  /** @param programs - numbers, the smallest first */
  run(programs: readonly Program[]): void {
    const quantities = programs.map((program) => ({ program, numbers: numbersOn(program, this.#task.examples) }))
    const whole = quantities.filter(({ numbers }) => this.#rows.every((row) => Number.isFinite(numbers[row])))
    for (const one of whole) {
      const { program, numbers } = one
      if (!program.isOfOtherRows) this.#alone(one)
      else this.#plainly({ numbers, cost: program.cost, write: () => program })
      // Constants with what other rows give are rarely meant, but for percentages.
      if (!program.isOfOtherRows || program.text.startsWith('share('))
        this.#withConstant({ numbers, cost: program.cost, write: () => program }, !program.isOfOtherRows && program.cost < 4)
    }
    this.#defaults(quantities)
    const few = whole.slice(0, MOST_IN_PAIRS)
    for (const left of few)
      for (const right of few) {
        for (const operator of left === right ? SQUARE : OPERATORS) {
          if ((operator === '+' || operator === '*') && left.program.text > right.program.text) continue
          const pair = this.#combined(left, operator, right)
          if (pair === null) continue
          this.#plainly(pair)
          if (!left.program.isOfOtherRows && !right.program.isOfOtherRows) this.#withConstant(pair, false)
        }
        if (left.program.text < right.program.text) this.#extremes(left, right)
      }
    this.#threes(whole.slice(0, MOST_IN_THREES))
  }

  /** One quantity: as it is, rounded, or by a function of one number. */
  #alone({ program, numbers }: Quantity): void {
    const { writer } = this.#task
    this.#plainly({ numbers, cost: program.cost, write: () => program })
    for (const name of UNARY) this.#check(writer.call(name, [program], name === 'abs' ? 0 : 0.5))
    for (const divisor of WHOLE_DIVISORS)
      for (const name of ['mod', 'quotient'] as const)
        this.#check(writer.call(name, [program, writer.constant(divisor)], COST_OF_RARE))
    for (const step of STEPS) this.#check(writer.call('round_to', [program, writer.constant(step)], 0.6))
    for (const name of ['round_up', 'round_down'] as const)
      for (const digits of [0, 1, 2])
        this.#check(writer.call(name, digits === 0 ? [program] : [program, writer.constant(digits)], 0.3))
    for (const power of [2, 3]) this.#check(writer.call('power', [program, writer.constant(power)]))
  }

  /** What is near at the digits typed; where digits were cut off that could as well have been typed, rounded to them. */
  #plainly({ numbers, cost, write }: Combined): void {
    if (!this.#found.admits(cost) || !this.#fits(numbers)) return
    const program = write()
    if (this.#isExact(numbers)) {
      this.#found.add(program)
      return
    }
    const { writer } = this.#task
    const digits = Math.max(...this.#rows.map((row) => Math.round(-Math.log10(2 * (this.#halves[row] as number)))))
    const rounded = writer.call(
      'round',
      digits === 0 ? [program] : [program, writer.constant(digits).at(0.3)],
      COST_OF_ROUNDING - 0.5,
    )
    // Two or three digits more could have been typed, so they were left out on purpose; endless ones could not.
    const isShort = this.#rows.every((row) => decimalsOf(numbers[row] as number) <= digits + 2)
    this.#found.add(isShort ? program.at(program.cost + 2) : program.at(program.cost + 0.3))
    this.#found.add(isShort ? rounded : rounded.at(rounded.cost + 0.6))
  }

  /** With a constant: added, taken from, multiplied, divided, a distance from it, a limit, a line. */
  #withConstant(of: Combined, isThorough: boolean): void {
    const { writer } = this.#task
    const { numbers, write } = of
    const solved = (low: (row: number) => number, high: (row: number) => number, use: (value: number) => Program): void => {
      const value = this.#solve(low, high)
      if (value !== null) this.#rounded(use(value))
    }
    const t = this.#wanted
    const h = this.#halves as readonly number[]
    const at = (row: number): number => numbers[row] as number
    const sum = this.#solve(
      (row) => (t[row] as number) - (h[row] as number) - at(row),
      (row) => (t[row] as number) + (h[row] as number) - at(row),
    )
    if (sum !== null && sum !== 0 && this.#found.admits(of.cost + costOfNumber(sum)))
      this.#rounded(
        sum > 0 ? writer.arithmetic('+', write(), writer.constant(sum)) : writer.arithmetic('-', write(), writer.constant(-sum)),
      )
    const quotient = (row: number, side: number): number =>
      ((t[row] as number) + side * (h[row] as number) * Math.sign(at(row))) / at(row)
    if (this.#rows.every((row) => at(row) !== 0 || Math.abs(t[row] as number) <= (h[row] as number))) {
      const used = this.#rows.filter((row) => at(row) !== 0)
      const factor =
        used.length === 0
          ? null
          : this.#solve(
              (row) => quotient(row, -1),
              (row) => quotient(row, 1),
              used,
            )
      if (factor !== null && factor !== 1 && factor !== 0 && this.#found.admits(of.cost + costOfNumber(factor))) {
        // A percentage is said first, other factors as they come.
        const times = writer.constant(factor)
        const isFirst = Math.abs(factor) >= 100 || factor === -1
        this.#rounded(
          isFirst ? (of.scaled?.(times) ?? writer.arithmetic('*', times, write())) : writer.arithmetic('*', write(), times),
        )
      }
      const parts = used.filter((row) => Math.abs(t[row] as number) > (h[row] as number))
      const divisor =
        parts.length === 0
          ? null
          : this.#solve(
              (row) => 1 / quotient(row, -1),
              (row) => 1 / quotient(row, 1),
              parts,
            )
      if (divisor !== null && Math.abs(divisor) > 1 && this.#found.admits(of.cost + costOfNumber(divisor))) {
        this.#rounded(writer.arithmetic('per', write(), writer.constant(divisor)))
      }
    }
    if (!isThorough) return
    const turned = (operator: '-' | 'per', value: number): Program => {
      const program = writer.arithmetic(operator, writer.constant(value), write())
      return program.at(program.cost + COST_OF_TURNING)
    }
    const minus = (row: number, side: number): number => (t[row] as number) + side * (h[row] as number) + at(row)
    solved(
      (row) => minus(row, -1),
      (row) => minus(row, 1),
      (value) => turned('-', value),
    )
    if (this.#rows.every((row) => at(row) > 0))
      solved(
        (row) => ((t[row] as number) - (h[row] as number)) * at(row),
        (row) => ((t[row] as number) + (h[row] as number)) * at(row),
        (value) => turned('per', value),
      )
    this.#distance(of)
    this.#line(of)
    for (const limit of new Set(t.filter(Number.isFinite))) {
      this.#check(writer.call('min_of', [write(), writer.constant(limit)], 0.6))
      this.#check(writer.call('max_of', [write(), writer.constant(limit)], 0.6))
    }
  }

  /** How far from a constant, on either side. */
  #distance({ numbers, write }: Combined): void {
    const { writer } = this.#task
    const [first, second] = this.#rows
    if (first === undefined || second === undefined) return
    const [a, t] = [numbers[first] as number, this.#wanted[first] as number]
    const half = this.#halves[first] as number
    for (const side of [-1, 1]) {
      const value = simplestNumber(a + side * t - half, a + side * t + half)
      if (value === null || value === 0) continue
      this.#check(writer.call('abs', [writer.arithmetic('-', write(), writer.constant(value))]))
    }
  }

  /** A constant times, and a constant added: through the two examples that lie furthest apart. */
  #line({ numbers, write }: Combined): void {
    const { writer } = this.#task
    const rows = [...this.#rows].sort((a, b) => (numbers[a] as number) - (numbers[b] as number))
    const [low, high] = [rows[0], rows.at(-1)]
    if (low === undefined || high === undefined) return
    const run = (numbers[high] as number) - (numbers[low] as number)
    if (!(run > 0)) return
    const rise = (this.#wanted[high] as number) - (this.#wanted[low] as number)
    const give = (this.#halves[high] as number) + (this.#halves[low] as number)
    const exact = rise / run
    const tried = new Set([simplestNumber(exact - 1e-9, exact + 1e-9), simplestNumber((rise - give) / run, (rise + give) / run)])
    for (const slope of tried) {
      if (slope === null || slope === 0 || slope === 1) continue
      const scaled = this.#rows.map((row) => [row, slope * (numbers[row] as number)] as const)
      const by = new Map(scaled)
      const offset = this.#solve(
        (row) => (this.#wanted[row] as number) - (this.#halves[row] as number) - (by.get(row) as number),
        (row) => (this.#wanted[row] as number) + (this.#halves[row] as number) - (by.get(row) as number),
      )
      if (offset === null || offset === 0) continue
      const product = writer.arithmetic('*', write(), writer.constant(slope))
      const free = rows.length === 2 ? COST_OF_FREEDOM : 0
      const line =
        offset > 0
          ? writer.arithmetic('+', product, writer.constant(offset))
          : writer.arithmetic('-', product, writer.constant(-offset))
      this.#rounded(line.at(line.cost + free))
      const before = offset / slope
      const shift = simplestNumber(before - 1e-9, before + 1e-9)
      if (shift !== null && shift !== 0) {
        const shifted =
          shift > 0
            ? writer.arithmetic('+', write(), writer.constant(shift))
            : writer.arithmetic('-', write(), writer.constant(-shift))
        const scaled = writer.arithmetic('*', shifted, writer.constant(slope))
        this.#rounded(scaled.at(scaled.cost + free))
      }
    }
  }

  /** A quantity, and another or a constant where it is blank. */
  #defaults(quantities: readonly Quantity[]): void {
    const { writer } = this.#task
    for (const left of quantities) {
      const blank = this.#rows.filter((row) => Number.isNaN(left.numbers[row]))
      if (blank.length === 0 || blank.length === this.#rows.length) continue
      for (const right of quantities) if (right !== left) this.#check(writer.orElse(left.program, right.program))
      const [first] = blank as [number]
      this.#check(writer.orElse(left.program, writer.constant(this.#wanted[first] as number)))
    }
  }

  #extremes(left: Quantity, right: Quantity): void {
    const { writer } = this.#task
    for (const [name, of] of [
      ['max_of', Math.max],
      ['min_of', Math.min],
    ] as const)
      if (this.#rows.every((row) => this.#isNear(row, of(left.numbers[row] as number, right.numbers[row] as number))))
        this.#found.add(writer.call(name, [left.program, right.program]))
    if (this.#rows.every((row) => this.#isNear(row, Math.abs((left.numbers[row] as number) - (right.numbers[row] as number)))))
      this.#rounded(writer.call('abs', [writer.arithmetic('-', left.program, right.program)]))
  }

  /** Three quantities, from the left to the right or with a pair in parentheses. */
  #threes(few: readonly Quantity[]): void {
    for (const first of few)
      for (const second of few)
        for (const one of OPERATORS) {
          if (first === second || ((one === '+' || one === '*') && first.program.text > second.program.text)) continue
          const pair = this.#combined(first, one, second)
          if (pair === null) continue
          for (const third of few)
            for (const other of OPERATORS) {
              this.#three(pair, other, third, false)
              if (other === '-' || other === 'per') this.#three(pair, other, third, true)
            }
        }
  }

  #three(pair: Combined, operator: Arithmetic, third: Quantity, isThirdFirst: boolean): void {
    const { writer } = this.#task
    const [left, right] = isThirdFirst ? [third.numbers, pair.numbers] : [pair.numbers, third.numbers]
    for (const row of this.#rows) if (!this.#isNear(row, computed(operator, left[row] as number, right[row] as number))) return
    const numbers = Float64Array.from(this.#wanted, (_, row) => computed(operator, left[row] as number, right[row] as number))
    this.#plainly({
      ...{ numbers, cost: pair.cost + third.program.cost + 0.8 },
      write: () =>
        isThirdFirst
          ? writer.arithmetic(operator, third.program, pair.write())
          : writer.arithmetic(operator, pair.write(), third.program),
    })
  }

  #combined(left: Quantity, operator: Arithmetic, right: Quantity): Combined | null {
    const numbers = new Float64Array(left.numbers.length)
    for (const row of this.#rows) {
      const value = computed(operator, left.numbers[row] as number, right.numbers[row] as number)
      if (!Number.isFinite(value)) return null
      numbers[row] = value
    }
    const { writer } = this.#task
    const cost = left.program.cost + right.program.cost + 0.8
    const write = (): Program => writer.arithmetic(operator, left.program, right.program)
    if (operator !== 'per' && operator !== '*') return { numbers, cost, write }
    const scaled = (factor: Program): Program =>
      writer.arithmetic(operator, writer.arithmetic('*', factor, left.program), right.program)
    return { numbers, cost, write, scaled }
  }

  /** The simplest number between bounds that hold in all rows. */
  #solve(low: (row: number) => number, high: (row: number) => number, rows: readonly number[] = this.#rows): number | null {
    let [from, to] = [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY]
    for (const row of rows) {
      const [one, other] = [low(row), high(row)]
      from = Math.max(from, Math.min(one, other))
      to = Math.min(to, Math.max(one, other))
      if (from > to + Math.abs(to) * 1e-12) return null
    }
    return simplestNumber(Math.min(from, to), Math.max(from, to))
  }

  /** Emits a program that fits, or the same rounded. */
  #rounded(program: Program): void {
    const numbers = numbersOn(program, this.#task.examples)
    if (this.#rows.every((row) => Number.isFinite(numbers[row])))
      this.#plainly({ numbers, cost: program.cost, write: () => program })
  }

  /** Emits a program if it gives exactly what is wanted. */
  #check(program: Program): void {
    const numbers = numbersOn(program, this.#task.examples)
    if (this.#isExact(numbers)) this.#found.add(program)
  }

  #fits(numbers: Numbers): boolean {
    return this.#rows.every((row) => this.#isNear(row, numbers[row] as number))
  }

  #isNear(row: number, value: number): boolean {
    return isNear(value, this.#wanted[row] as number, this.#halves[row] as number)
  }

  #isExact(numbers: Numbers): boolean {
    return this.#rows.every((row) => isNear(numbers[row] as number, this.#wanted[row] as number, 0))
  }
}

function computed(operator: Arithmetic, a: number, b: number): number {
  return operator === '+' ? a + b : operator === '-' ? a - b : operator === '*' ? a * b : b === 0 ? Number.NaN : a / b
}

/** Decimals of a number at nine significant digits, beyond which they are of its arithmetic. */
function decimalsOf(value: number): number {
  const text = Number(value.toPrecision(9)).toString()
  if (text.includes('e')) return 20
  return text.split('.')[1]?.length ?? 0
}
