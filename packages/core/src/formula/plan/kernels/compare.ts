import {
  type BooleanVector,
  isFullBlock,
  type NumberVector,
  type Selection,
  scratch,
  type Vector,
} from '../../../columns/index.js'
import { compareText, Status } from '../../../values/index.js'
import { combineStatus, orStatuses } from './arithmetic.js'

/** The comparison operators; `member` is `=` that gives false beside a blank, for the members of `in`. */
export type Comparison = 'equal' | 'unequal' | 'less' | 'less-equal' | 'greater' | 'greater-equal' | 'member'

/** Compares two vectors of one storage kind; blank beside anything but an error is blank. */
export function compareVectors(
  operator: Comparison,
  left: Vector,
  right: Vector,
  out: BooleanVector,
  selection: Selection,
): void {
  if (left.kind === 'number' && right.kind === 'number') {
    // A blank makes the members of `in` false, which is told row by row.
    if (selection.rows === null && (operator !== 'member' || (left.clean && right.clean))) {
      const loops = isFullBlock(selection) ? scratch.loopsFor(left.values, right.values, out.values) : null
      if (loops === null) return compareTight(operator, left, right, out, selection.count)
      out.clean = loops[LOOPS[operator]](left.values.byteOffset, right.values.byteOffset, out.values.byteOffset) === 0
      return
    }
    return compareEach(operator, left, right, out, selection, numberTests[operator] as (a: unknown, b: unknown) => boolean)
  }
  compareEach(
    operator,
    left,
    right,
    out,
    selection,
    left.kind === 'text' ? textTests[operator] : (numberTests[operator] as (a: unknown, b: unknown) => boolean),
  )
}

/** The block loop of each comparison. */
const LOOPS = {
  equal: 'equal',
  member: 'equal',
  unequal: 'unequal',
  less: 'less',
  'less-equal': 'lessEqual',
  greater: 'greater',
  'greater-equal': 'greaterEqual',
} as const

function compareEach(
  operator: Comparison,
  left: Vector,
  right: Vector,
  out: BooleanVector,
  selection: Selection,
  test: (a: never, b: never) => boolean,
): void {
  out.clean = false
  const blankMember = operator === 'member'
  for (let k = 0; k < selection.count; k++) {
    const row = selection.rows === null ? k : (selection.rows[k] as number)
    let status = combineStatus(left.status[row] as number, right.status[row] as number)
    if (status === Status.value) out.values[row] = test(left.values[row] as never, right.values[row] as never) ? 1 : 0
    else if (blankMember && status === Status.blank && left.status[row] === Status.value) {
      status = Status.value
      out.values[row] = 0
    }
    out.status[row] = status
  }
}

/**
 * Whole blocks of numbers: every row is compared, whatever its status, and the statuses are or-ed, which only two errors can
 * make wrong. One loop an operator keeps the test inline, and none of them branches.
 */
function compareTight(operator: Comparison, left: NumberVector, right: NumberVector, out: BooleanVector, count: number): void {
  const a = left.values
  const b = right.values
  const to = out.values
  switch (operator) {
    case 'equal':
    case 'member':
      for (let row = 0; row < count; row++) to[row] = Number(a[row] === b[row])
      break
    case 'unequal':
      for (let row = 0; row < count; row++) to[row] = Number(a[row] !== b[row])
      break
    case 'less':
      for (let row = 0; row < count; row++) to[row] = Number((a[row] as number) < (b[row] as number))
      break
    case 'less-equal':
      for (let row = 0; row < count; row++) to[row] = Number((a[row] as number) <= (b[row] as number))
      break
    case 'greater':
      for (let row = 0; row < count; row++) to[row] = Number((a[row] as number) > (b[row] as number))
      break
    case 'greater-equal':
      for (let row = 0; row < count; row++) to[row] = Number((a[row] as number) >= (b[row] as number))
      break
  }
  const statuses = left.clean && right.clean ? 0 : orStatuses(left.status, right.status, out.status, count)
  out.clean = statuses === 0
  if (left.clean && right.clean) out.status.fill(Status.value, 0, count)
  if (statuses <= Status.blank) return
  for (let row = 0; row < count; row++) out.status[row] = combineStatus(left.status[row] as number, right.status[row] as number)
}

const numberTests: Record<Comparison, (a: number, b: number) => boolean> = {
  equal: (a, b) => a === b,
  member: (a, b) => a === b,
  unequal: (a, b) => a !== b,
  less: (a, b) => a < b,
  'less-equal': (a, b) => a <= b,
  greater: (a, b) => a > b,
  'greater-equal': (a, b) => a >= b,
}

const textTests: Record<Comparison, (a: string, b: string) => boolean> = {
  equal: (a, b) => a === b,
  member: (a, b) => a === b,
  unequal: (a, b) => a !== b,
  less: (a, b) => compareText(a, b) < 0,
  'less-equal': (a, b) => compareText(a, b) <= 0,
  greater: (a, b) => compareText(a, b) > 0,
  'greater-equal': (a, b) => compareText(a, b) >= 0,
}
