import type { Selection, Vector } from '../../columns/index.js'
import { Status, type StorageKind } from '../../values/index.js'
import { blend } from './blend.js'
import type { Frame } from './frame.js'
import { copySelected, fillSelected } from './kernels/move.js'
import type { PlanNode, PlannedBranch } from './node.js'

/** Most branches of a choice that are all computed for a whole block and then blended. */
const MOST_BLENDED = 4

/**
 * A choice: each row takes the first branch whose condition is true; a condition that fails gives its error; a branch is
 * computed only for the rows that take it.
 *
 * @param watch - the watch whose mark is set on rows that reach `otherwise` after a blank condition
 */
export function chooseNode(
  kind: StorageKind,
  branches: readonly PlannedBranch[],
  otherwise: PlanNode | null,
  otherwiseBranch: number,
  watch: number | undefined,
): PlanNode {
  const parts = [...branches.flatMap(({ condition, value }) => [condition, value]), ...(otherwise === null ? [] : [otherwise])]
  // A later condition is only looked at where the ones before do not hold, so what it marks could not be told apart.
  const isPlain =
    kind === 'number' &&
    branches.length <= MOST_BLENDED &&
    parts.every((part) => part.isPlain === true) &&
    branches.every(({ condition }, index) => index === 0 || condition.marksRows !== true)
  const marksRows = watch !== undefined || parts.some((part) => part.marksRows === true)
  const run = (frame: Frame, selection: Selection): Vector => {
    // A probe wants to know which rows a branch takes, which blending does not tell.
    if (isPlain && selection.rows === null && frame.probe === null)
      return blend(frame, branches, otherwise, selection.count, watch)
    const out = frame.lend(kind)
    const blanks = watch === undefined || frame.marks === null ? null : frame.lendFlags(selection)
    const remaining = new Remaining(frame, selection)
    for (const { condition, value, branch } of branches) {
      if (remaining.selection.count === 0) break
      const test = condition.run(frame, remaining.selection)
      const taken = remaining.take(test, out, blanks)
      frame.giveBack(test)
      if (taken.count > 0) runInto(frame, value, taken, out, branch)
      remaining.giveBackTaken(taken)
    }
    const rest = remaining.selection
    if (rest.count > 0) {
      if (otherwise === null) fillSelected(out, null, Status.blank, rest)
      else runInto(frame, otherwise, rest, out, otherwiseBranch)
      if (blanks !== null) markRows(frame.marks as Uint8Array, blanks, 1 << (watch as number), rest)
    }
    if (blanks !== null) frame.giveBackFlags(blanks)
    remaining.end()
    out.clean = false
    return out
  }
  return { kind, constant: false, isPlain, marksRows, run }
}

/** The first operand that is not blank, looking at the next only where needed. */
export function coalesceNode(kind: StorageKind, operands: readonly PlanNode[]): PlanNode {
  const run = (frame: Frame, selection: Selection): Vector => {
    const out = frame.lend(kind)
    const remaining = new Remaining(frame, selection)
    for (const operand of operands) {
      if (remaining.selection.count === 0) break
      const value = operand.run(frame, remaining.selection)
      copySelected(value, out, remaining.selection)
      remaining.keep((row) => value.status[row] === Status.blank)
      frame.giveBack(value)
    }
    remaining.end()
    out.clean = false
    return out
  }
  return { kind, constant: false, run }
}

/** A value, or another one where it is an error. */
export function ifErrorNode(kind: StorageKind, value: PlanNode, otherwise: PlanNode): PlanNode {
  const run = (frame: Frame, selection: Selection): Vector => {
    const out = frame.lend(kind)
    const first = value.run(frame, selection)
    copySelected(first, out, selection)
    const remaining = new Remaining(frame, selection)
    remaining.keep((row) => (first.status[row] as number) > Status.blank)
    frame.giveBack(first)
    if (remaining.selection.count > 0) {
      const second = otherwise.run(frame, remaining.selection)
      copySelected(second, out, remaining.selection)
      frame.giveBack(second)
    }
    remaining.end()
    out.clean = false
    return out
  }
  return { kind, constant: false, run }
}

function runInto(frame: Frame, node: PlanNode, selection: Selection, out: Vector, branch: number): void {
  frame.probe?.(branch, selection.rows === null ? 0 : (selection.rows[0] as number))
  const value = node.run(frame, selection)
  copySelected(value, out, selection)
  frame.giveBack(value)
}

function markRows(marks: Uint8Array, flags: Uint8Array, bit: number, selection: Selection): void {
  for (let k = 0; k < selection.count; k++) {
    const row = selection.rows === null ? k : (selection.rows[k] as number)
    if (flags[row] === 1) marks[row] = (marks[row] as number) | bit
  }
}

/** The rows of a selection that are still to be decided. Row lists are the frame's, so nothing is allocated per block. */
class Remaining {
  selection: Selection
  readonly #frame: Frame
  #own: Uint16Array | null = null

  constructor(frame: Frame, selection: Selection) {
    this.#frame = frame
    this.selection = selection
  }

  /** Keeps only the rows that pass. */
  keep(passes: (row: number) => boolean): void {
    const kept = this.#frame.lendRows()
    const { rows, count } = this.selection
    let keptCount = 0
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      if (passes(row)) kept[keptCount++] = row
    }
    this.#replace(kept, keptCount)
  }

  /**
   * Splits by a condition: the rows where it is true are taken and given back, errors go to `out` and are decided, the rest
   * remain, with blanks flagged.
   */
  take(test: Vector, out: Vector, blanks: Uint8Array | null): Selection {
    const { rows, count } = this.selection
    const taken = this.#frame.lendRows()
    const kept = this.#frame.lendRows()
    let takenCount = 0
    let keptCount = 0
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      const status = test.status[row] as number
      if (status === Status.value && test.values[row] === 1) taken[takenCount++] = row
      else if (status > Status.blank) out.status[row] = status
      else {
        kept[keptCount++] = row
        if (status === Status.blank && blanks !== null) blanks[row] = 1
      }
    }
    this.#replace(kept, keptCount)
    return { rows: taken, count: takenCount }
  }

  giveBackTaken(taken: Selection): void {
    if (taken.rows !== null) this.#frame.giveBackRows(taken.rows)
  }

  end(): void {
    if (this.#own !== null) this.#frame.giveBackRows(this.#own)
  }

  #replace(rows: Uint16Array, count: number): void {
    this.end()
    this.#own = rows
    this.selection = { rows, count }
  }
}
