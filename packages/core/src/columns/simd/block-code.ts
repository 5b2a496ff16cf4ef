import { Status, statusOfFault } from '../../values/index.js'
import { BLOCK_ROWS } from '../vectors.js'
import { type Code, type FunctionCode, f64x2, i8x16, i32, lanes, local, onlyIf, repeatWhile, v128 } from './assembler.js'

/** Bytes from the address of a vector to its status bytes: room for the widest values. */
export const STATUS_OFFSET: number = BLOCK_ROWS * 8
/** Bytes of a vector in the memory of the block loops. */
export const VECTOR_BYTES: number = STATUS_OFFSET + BLOCK_ROWS

/**
 * The loops over whole blocks, as functions of addresses of vectors. They give what the loops in TypeScript give, to the
 * bit, for errors and blanks too; what stands in a row without a value means nothing in either.
 */
export interface BlockLoops {
  /** left, right, out → 0 when every row holds a value. Negative zeros are made zeros. */
  add(left: number, right: number, out: number): number
  subtract(left: number, right: number, out: number): number
  multiply(left: number, right: number, out: number): number
  /** left, right, out, status of a zero divisor → 0 when every row holds a value. */
  divide(left: number, right: number, out: number, zeroStatus: number): number
  /** left, right, out → 0 when every row holds a value; out holds booleans. */
  equal(left: number, right: number, out: number): number
  unequal(left: number, right: number, out: number): number
  less(left: number, right: number, out: number): number
  lessEqual(left: number, right: number, out: number): number
  greater(left: number, right: number, out: number): number
  greaterEqual(left: number, right: number, out: number): number
  /** test, value, out: takes the value over where the test is true → 0 all values, 1 some blank, 3 some error in the test. */
  take(test: number, value: number, out: number): number
  /** test, bytes, out: the same with bytes in the place of values. */
  takeBytes(test: number, bytes: number, out: number): number
  /** before, after, list: lists the rows whose cell differs as 16-bit numbers → how many. */
  listChanged(before: number, after: number, list: number): number
  /** left, right, out, marks, bit: marks the rows where a division of two values failed on its divisor → 0. */
  markFailed(left: number, right: number, out: number, marks: number, bit: number): number
  /** vector, marks, bit: marks the rows whose number is below zero → 0. */
  markNegative(vector: number, marks: number, bit: number): number
  /** marks, bit → how many rows have the bit. */
  countMarked(marks: number, bit: number): number
}

const VALUE = i8x16.splat(i32.const(Status.value))
const BLANK = i8x16.splat(i32.const(Status.blank))
const OUT_OF_RANGE = i8x16.splat(i32.const(statusOfFault('out-of-range')))
const DIVISION_BY_ZERO = i8x16.splat(i32.const(statusOfFault('division-by-zero')))
const ZEROS = f64x2.splat(0)

/** Rows of one turn of a loop: sixteen status bytes, eight pairs of numbers. */
const TURN = 16
const PAIRS = TURN / 2

/** The locals of a loop with so many parameters: integers, then vectors, each by name. */
function layout(parameters: number) {
  const vector = parameters + 3
  return {
    row: parameters,
    bits: parameters + 1,
    count: parameters + 2,
    status: vector,
    seen: vector + 1,
    one: vector + 2,
    other: vector + 3,
    /** One for each pair of numbers. */
    masks: (pair: number): number => vector + 4 + pair,
    /** A second one for each pair. */
    tests: (pair: number): number => vector + 4 + PAIRS + pair,
  }
}
type Layout = ReturnType<typeof layout>

/** A function that runs a body for every sixteen rows and then gives a result. */
function loop(
  name: keyof BlockLoops,
  parameters: number,
  body: (at: Layout) => readonly Code[],
  result: (at: Layout) => Code,
): FunctionCode {
  const at = layout(parameters)
  const next = local.set(at.row, i32.add(local.get(at.row), i32.const(TURN)))
  const code = [repeatWhile(i32.lessThan(local.get(at.row), i32.const(BLOCK_ROWS)), ...body(at), next), result(at)].flat()
  return { name, parameters, integers: 3, vectors: 4 + 2 * PAIRS, body: code }
}

/** The address of this turn's numbers of a vector. */
const numbersOf = (vector: number, at: Layout): Code => i32.add(local.get(vector), i32.shiftLeft(local.get(at.row), i32.const(3)))
/** The address of this turn's bytes. */
const bytesOf = (vector: number, at: Layout): Code => i32.add(local.get(vector), local.get(at.row))

const pairOf = (vector: number, pair: number, at: Layout): Code => v128.load(numbersOf(vector, at), pair * 16)
const storePair = (vector: number, pair: number, value: Code, at: Layout): Code =>
  v128.store(numbersOf(vector, at), value, pair * 16)
const statusesOf = (vector: number, at: Layout): Code => v128.load(bytesOf(vector, at), STATUS_OFFSET)
const storeStatuses = (vector: number, value: Code, at: Layout): Code => v128.store(bytesOf(vector, at), value, STATUS_OFFSET)
const booleansOf = (vector: number, at: Layout): Code => v128.load(bytesOf(vector, at), 0)

const eachPair = (make: (pair: number) => Code): Code => Array.from({ length: PAIRS }, (_, pair) => make(pair)).flat()

/** Eight masks of two lanes as one mask of sixteen bytes. */
function packed(masks: (pair: number) => number): Code {
  const words = (pair: number): Code =>
    i8x16.shuffle(local.get(masks(pair)), local.get(masks(pair + 1)), [0, 1, 2, 3, 8, 9, 10, 11, 16, 17, 18, 19, 24, 25, 26, 27])
  const halves = (pair: number): Code => lanes.narrowToHalves(words(pair), words(pair + 2))
  return i8x16.narrow(halves(0), halves(4))
}

/** One mask of sixteen bytes, in a local, as the mask of a pair of numbers. */
function spread(mask: number, pair: number): Code {
  const halves = (pair < 4 ? lanes.lowBytes : lanes.highBytes)(local.get(mask))
  const words = (pair % 4 < 2 ? lanes.lowHalves : lanes.highHalves)(halves)
  return (pair % 2 === 0 ? lanes.lowWords : lanes.highWords)(words)
}

/** What two statuses give together: the leftmost error, else blank, else value. */
function combined(left: number, right: number, at: Layout): Code {
  const [p, q] = [local.get(at.one), local.get(at.other)]
  return [
    local.set(at.one, statusesOf(left, at)),
    local.set(at.other, statusesOf(right, at)),
    local.set(at.status, v128.choose(p, i8x16.maxUnsigned(p, q), i8x16.greaterUnsigned(p, BLANK))),
  ].flat()
}

/** Stores the statuses at hand and notes them as seen. */
const keepStatuses = (out: number, at: Layout): Code => [
  ...storeStatuses(out, local.get(at.status), at),
  ...local.set(at.seen, v128.or(local.get(at.seen), local.get(at.status))),
]

const anySeen = (at: Layout): Code => v128.isAnySet(local.get(at.seen))

/** Lanes whose number is no finite one: x − x is 0 for those and NaN for the others, which differs from itself. */
const notFinite = (value: Code): Code => {
  const rest = f64x2.subtract(value, value)
  return f64x2.unequal(rest, rest)
}

const [LEFT, RIGHT, OUT] = [0, 1, 2]

function arithmetic(name: 'add' | 'subtract' | 'multiply'): FunctionCode {
  const body = (at: Layout): Code[] => [
    eachPair((pair) => {
      const computed = f64x2[name](pairOf(LEFT, pair, at), pairOf(RIGHT, pair, at))
      return [
        ...local.set(at.one, name === 'multiply' ? f64x2.add(computed, ZEROS) : computed),
        ...storePair(OUT, pair, local.get(at.one), at),
        ...local.set(at.masks(pair), notFinite(local.get(at.one))),
      ]
    }),
    combined(LEFT, RIGHT, at),
    failed(v128.and(packed(at.masks), OUT_OF_RANGE), at),
    keepStatuses(OUT, at),
  ]
  return loop(name, 3, body, anySeen)
}

/** Adds errors to the statuses at hand, on rows that would hold a value. */
const failed = (errors: Code, at: Layout): Code =>
  local.set(at.status, v128.or(local.get(at.status), v128.and(errors, i8x16.equal(local.get(at.status), VALUE))))

function division(): FunctionCode {
  const zeroStatus = 3
  const body = (at: Layout): Code[] => [
    eachPair((pair) => [
      ...local.set(at.other, pairOf(RIGHT, pair, at)),
      ...local.set(at.one, f64x2.add(f64x2.divide(pairOf(LEFT, pair, at), local.get(at.other)), ZEROS)),
      ...local.set(at.masks(pair), notFinite(local.get(at.one))),
      ...local.set(at.tests(pair), f64x2.equal(local.get(at.other), ZEROS)),
      ...storePair(OUT, pair, v128.without(local.get(at.one), local.get(at.masks(pair))), at),
    ]),
    combined(LEFT, RIGHT, at),
    local.set(at.other, packed(at.tests)),
    failed(v128.choose(i8x16.splat(local.get(zeroStatus)), v128.and(packed(at.masks), OUT_OF_RANGE), local.get(at.other)), at),
    keepStatuses(OUT, at),
  ]
  return loop('divide', 4, body, anySeen)
}

const ONES = i8x16.splat(i32.const(1))

function comparison(name: 'equal' | 'unequal' | 'less' | 'lessEqual' | 'greater' | 'greaterEqual'): FunctionCode {
  const body = (at: Layout): Code[] => [
    eachPair((pair) => local.set(at.masks(pair), f64x2[name](pairOf(LEFT, pair, at), pairOf(RIGHT, pair, at)))),
    v128.store(bytesOf(OUT, at), v128.and(packed(at.masks), ONES), 0),
    combined(LEFT, RIGHT, at),
    keepStatuses(OUT, at),
  ]
  return loop(name, 3, body, anySeen)
}

/** Sets `status` to the statuses of a test and `one` to the mask of the rows where it is true. */
const whereTrue = (test: number, at: Layout): Code => [
  ...local.set(at.status, statusesOf(test, at)),
  ...local.set(at.one, v128.and(i8x16.equal(booleansOf(test, at), ONES), i8x16.equal(local.get(at.status), VALUE))),
]

function take(): FunctionCode {
  const [test, value] = [0, 1]
  const body = (at: Layout): Code[] => [
    whereTrue(test, at),
    local.set(at.seen, i8x16.maxUnsigned(local.get(at.seen), local.get(at.status))),
    storeStatuses(OUT, v128.choose(statusesOf(value, at), statusesOf(OUT, at), local.get(at.one)), at),
    eachPair((pair) =>
      storePair(OUT, pair, v128.choose(pairOf(value, pair, at), pairOf(OUT, pair, at), spread(at.one, pair)), at),
    ),
  ]
  const errors = (at: Layout): Code => v128.isAnySet(i8x16.greaterUnsigned(local.get(at.seen), BLANK))
  return loop('take', 3, body, (at) => i32.or(anySeen(at), i32.shiftLeft(errors(at), i32.const(1))))
}

function takeBytes(): FunctionCode {
  const [test, bytes] = [0, 1]
  const body = (at: Layout): Code[] => [
    whereTrue(test, at),
    v128.store(bytesOf(OUT, at), v128.choose(booleansOf(bytes, at), booleansOf(OUT, at), local.get(at.one)), 0),
  ]
  return loop('takeBytes', 3, body, () => i32.const(0))
}

function listChanged(): FunctionCode {
  const [before, after, list] = [0, 1, 2]
  const body = (at: Layout): Code[] => [
    eachPair((pair) => local.set(at.masks(pair), f64x2.unequal(pairOf(before, pair, at), pairOf(after, pair, at)))),
    local.set(at.status, statusesOf(after, at)),
    local.set(at.one, v128.and(packed(at.masks), i8x16.equal(local.get(at.status), VALUE))),
    local.set(at.other, v128.not(i8x16.equal(local.get(at.status), statusesOf(before, at)))),
    local.set(at.bits, i8x16.bitmask(v128.or(local.get(at.one), local.get(at.other)))),
    onlyIf(
      local.get(at.bits),
      repeatWhile(
        local.get(at.bits),
        i32.store16(
          i32.add(local.get(list), i32.shiftLeft(local.get(at.count), i32.const(1))),
          i32.add(local.get(at.row), i32.countZeros(local.get(at.bits))),
        ),
        local.set(at.count, i32.add(local.get(at.count), i32.const(1))),
        // The lowest bit is taken away.
        local.set(at.bits, i32.and(local.get(at.bits), i32.subtract(local.get(at.bits), i32.const(1)))),
      ),
    ),
  ]
  return loop('listChanged', 3, body, (at) => local.get(at.count))
}

/** Sets a bit of the marks of the rows in a mask. */
const mark = (marks: number, bit: number, mask: Code, at: Layout): Code =>
  v128.store(bytesOf(marks, at), v128.or(booleansOf(marks, at), v128.and(mask, i8x16.splat(local.get(bit)))), 0)

function markFailed(): FunctionCode {
  const [marks, bit] = [3, 4]
  const body = (at: Layout): Code[] => {
    const hadValues = i8x16.equal(v128.or(statusesOf(LEFT, at), statusesOf(RIGHT, at)), VALUE)
    const failedHere = i8x16.equal(statusesOf(OUT, at), DIVISION_BY_ZERO)
    return [mark(marks, bit, v128.and(failedHere, hadValues), at)]
  }
  return loop('markFailed', 5, body, () => i32.const(0))
}

function markNegative(): FunctionCode {
  const [vector, marks, bit] = [0, 1, 2]
  const body = (at: Layout): Code[] => [
    eachPair((pair) => local.set(at.masks(pair), f64x2.less(pairOf(vector, pair, at), ZEROS))),
    mark(marks, bit, v128.and(packed(at.masks), i8x16.equal(statusesOf(vector, at), VALUE)), at),
  ]
  return loop('markNegative', 3, body, () => i32.const(0))
}

function countMarked(): FunctionCode {
  const [marks, bit] = [0, 1]
  const body = (at: Layout): Code[] => {
    const isMarked = i8x16.equal(v128.and(booleansOf(marks, at), i8x16.splat(local.get(bit))), i8x16.splat(local.get(bit)))
    return [local.set(at.count, i32.add(local.get(at.count), i32.countOnes(i8x16.bitmask(isMarked))))]
  }
  return loop('countMarked', 2, body, (at) => local.get(at.count))
}

/** Every loop of `BlockLoops`. */
export const BLOCK_CODE: readonly FunctionCode[] = [
  arithmetic('add'),
  arithmetic('subtract'),
  arithmetic('multiply'),
  division(),
  comparison('equal'),
  comparison('unequal'),
  comparison('less'),
  comparison('lessEqual'),
  comparison('greater'),
  comparison('greaterEqual'),
  take(),
  takeBytes(),
  listChanged(),
  markFailed(),
  markNegative(),
  countMarked(),
]
