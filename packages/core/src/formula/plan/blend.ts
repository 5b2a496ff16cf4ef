import { BLOCK_ROWS, type BooleanVector, type NumberVector, scratch, type Vector, wholeBlock } from '../../columns/index.js'
import { Status } from '../../values/index.js'
import type { Frame } from './frame.js'
import type { PlanNode, PlannedBranch } from './node.js'

/** Bits of a row's flag: some branch decided it; some condition before that was blank. */
const DECIDED = 1
const BLANK = 2

/**
 * A choice over a whole block whose parts are plain: every branch is computed for every row in tight loops, and then each row
 * keeps what it takes. Row lists cost more than the arithmetic they save (bench: row formula). Branches are laid over each
 * other from the last to the first, so that the first that holds wins.
 */
export function blend(
  frame: Frame,
  branches: readonly PlannedBranch[],
  otherwise: PlanNode | null,
  count: number,
  watch: number | undefined,
): Vector {
  const selection = wholeBlock(count)
  const out = frame.lend('number') as NumberVector
  const isMarking = frame.marks !== null && (watch !== undefined || marksRows(branches, otherwise))
  const marking = isMarking ? new Marking(frame, frame.marks as Uint8Array, count) : null
  const flags = watch === undefined || marking === null ? null : frame.lendFlags(selection)
  let hasBlanks = false
  if (otherwise === null) out.status.fill(Status.blank, 0, count)
  else {
    const value = compute(frame, otherwise, count, marking)
    out.values.set(value.values.subarray(0, count))
    out.status.set(value.status.subarray(0, count))
    frame.giveBack(value)
  }
  marking?.takeAll()
  for (let index = branches.length - 1; index >= 0; index--) {
    const { condition, value } = branches[index] as PlannedBranch
    const test = condition.run(frame, selection) as BooleanVector
    const laid = compute(frame, value, count, marking)
    const statuses = marking === null ? takeTrue(out, laid, test, count) : takeMarked(out, laid, test, count, marking)
    if (statuses > Status.blank) takeErrors(out, test, count, marking)
    hasBlanks ||= statuses !== Status.value
    // The first condition is laid last: without a blank in any of them there is nothing to be decided about.
    if (flags !== null && (index > 0 || hasBlanks)) flagRows(flags, test, count)
    frame.giveBack(laid)
    frame.giveBack(test)
  }
  if (flags !== null && hasBlanks) marking?.addFallen(flags, 1 << (watch as number))
  marking?.end()
  if (flags !== null) frame.giveBackFlags(flags)
  out.clean = false
  return out
}

function marksRows(branches: readonly PlannedBranch[], otherwise: PlanNode | null): boolean {
  return otherwise?.marksRows === true || branches.some(({ value }) => value.marksRows === true)
}

/** Computes a branch; what it marks is kept apart until it is known which rows take it. */
function compute(frame: Frame, node: PlanNode, count: number, marking: Marking | null): NumberVector {
  const outer = frame.marks
  marking?.fresh.fill(0, 0, count)
  frame.marks = marking === null || node.marksRows !== true ? null : marking.fresh
  const value = node.run(frame, wholeBlock(count)) as NumberVector
  frame.marks = outer
  return value
}

/** Lays a branch over the rows where its condition holds; gives all statuses of the condition or-ed. */
function takeTrue(out: NumberVector, value: NumberVector, test: BooleanVector, count: number): number {
  const { values: to, status: toStatus } = out
  const { values: from, status: fromStatus } = value
  const { values: holds, status } = test
  const loops = count === BLOCK_ROWS ? scratch.loopsFor(holds, from, to) : null
  if (loops !== null) return loops.take(holds.byteOffset, from.byteOffset, to.byteOffset)
  let statuses = 0
  for (let row = 0; row < count; row++) {
    const of = status[row] as number
    statuses |= of
    if (holds[row] !== 1 || of !== Status.value) continue
    to[row] = from[row] as number
    toStatus[row] = fromStatus[row] as number
  }
  return statuses
}

/** The same with the marks of the branch. */
function takeMarked(
  out: NumberVector,
  value: NumberVector,
  test: BooleanVector,
  count: number,
  { taken, fresh }: Marking,
): number {
  const { values: to, status: toStatus } = out
  const loops = count === BLOCK_ROWS ? scratch.loopsFor(test.values, value.values, to, taken, fresh) : null
  if (loops !== null) {
    loops.takeBytes(test.values.byteOffset, fresh.byteOffset, taken.byteOffset)
    return loops.take(test.values.byteOffset, value.values.byteOffset, to.byteOffset)
  }
  const { values: from, status: fromStatus } = value
  const { values: holds, status } = test
  let statuses = 0
  for (let row = 0; row < count; row++) {
    const of = status[row] as number
    statuses |= of
    if (holds[row] !== 1 || of !== Status.value) continue
    to[row] = from[row] as number
    toStatus[row] = fromStatus[row] as number
    taken[row] = fresh[row] as number
  }
  return statuses
}

function takeErrors(out: NumberVector, test: BooleanVector, count: number, marking: Marking | null): void {
  for (let row = 0; row < count; row++) {
    const status = test.status[row] as number
    if (status <= Status.blank) continue
    out.status[row] = status
    if (marking !== null) marking.taken[row] = 0
  }
}

/** The marks of the branches of one choice: those of each row's own branch are added to the block's in the end. */
class Marking {
  /** Marks of the branch that each row has taken so far. */
  readonly taken: Uint8Array
  /** Marks of the branch being computed. */
  readonly fresh: Uint8Array
  readonly #frame: Frame
  readonly #marks: Uint8Array
  readonly #count: number

  constructor(frame: Frame, marks: Uint8Array, count: number) {
    this.#frame = frame
    this.#marks = marks
    this.#count = count
    this.taken = frame.lendFlags(wholeBlock(count))
    this.fresh = frame.lendFlags(wholeBlock(count))
  }

  takeAll(): void {
    this.taken.set(this.fresh.subarray(0, this.#count))
  }

  /** Adds a bit on the rows that no branch decided after a blank condition. */
  addFallen(flags: Uint8Array, bit: number): void {
    for (let row = 0; row < this.#count; row++) if (flags[row] === BLANK) this.taken[row] = (this.taken[row] as number) | bit
  }

  /** Adds what was taken to the marks of the block, four rows at a time. */
  end(): void {
    const words = this.#count >> 2
    const to = new Uint32Array(this.#marks.buffer, this.#marks.byteOffset, words)
    const taken = new Uint32Array(this.taken.buffer, this.taken.byteOffset, words)
    for (let word = 0; word < words; word++) if (taken[word] !== 0) to[word] = (to[word] as number) | (taken[word] as number)
    for (let row = words << 2; row < this.#count; row++)
      this.#marks[row] = (this.#marks[row] as number) | (this.taken[row] as number)
    this.#frame.giveBackFlags(this.taken)
    this.#frame.giveBackFlags(this.fresh)
  }
}

/** Branches are flagged from the last to the first: what decides stays, and blanks are counted on the way. */
function flagRows(flags: Uint8Array, { values, status }: BooleanVector, count: number): void {
  for (let row = 0; row < count; row++) {
    const of = status[row] as number
    const decides = Number(of > Status.blank) | (Number(of === Status.value) & (values[row] as number))
    flags[row] = (flags[row] as number) | (decides * DECIDED) | (Number(of === Status.blank) * BLANK)
  }
}
