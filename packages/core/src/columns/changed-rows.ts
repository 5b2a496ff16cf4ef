import { Status } from '../values/index.js'
import { isFullBlock, type Selection } from './selection.js'
import { scratch } from './simd/index.js'
import { BLOCK_ROWS, type NumberValues, type NumberVector, type Vector } from './vectors.js'

/** Lists the rows that differ; one loop a kind keeps the access of values fast. */
export function changedRows(block: Vector, result: Vector, selection: Selection, changed: Uint16Array): number {
  if (block.kind === 'number' && result.kind === 'number') {
    if (isFullBlock(selection)) return changedInFull(block, result, changed)
    if (selection.rows === null) return changedNumbers(block, result, selection.count, changed)
    return changedValues(block.values, result.values, block.status, result.status, selection, changed)
  }
  if (block.kind === 'text' && result.kind === 'text')
    return changedTexts(block.values, result.values, block.status, result.status, selection, changed)
  if (block.kind === 'boolean' && result.kind === 'boolean')
    return changedValues(block.values, result.values, block.status, result.status, selection, changed)
  throw new TypeError(`a ${block.kind} block cannot take a ${result.kind} vector`)
}

/** Full blocks of numbers, by the block loop where the result lies in its memory. */
function changedInFull(block: NumberVector, result: NumberVector, changed: Uint16Array): number {
  const loops = scratch.loopsFor(result.values)
  const before = loops === null ? null : scratch.lend('number')
  const list = before === null ? null : scratch.lendBytes()
  if (loops === null || before === null || list === null || before.kind !== 'number') {
    if (before !== null) scratch.giveBack(before)
    return changedNumbers(block, result, BLOCK_ROWS, changed)
  }
  before.values.set(block.values)
  before.status.set(block.status)
  const count = loops.listChanged(before.values.byteOffset, result.values.byteOffset, list.byteOffset)
  changed.set(new Uint16Array(list.buffer, list.byteOffset, count))
  scratch.giveBack(list)
  scratch.giveBack(before)
  return count
}

/** Whole blocks of numbers: a row is listed always and counted only where it differs, so the loop does not branch. */
function changedNumbers(block: NumberVector, result: NumberVector, count: number, changed: Uint16Array): number {
  const { values: before, status: from } = block
  const { values: after, status: to } = result
  let listed = 0
  for (let row = 0; row < count; row++) {
    const is = to[row] as number
    changed[listed] = row
    listed += Number(from[row] !== is) | (Number(before[row] !== after[row]) & Number(is === Status.value))
  }
  return listed
}

function changedValues(
  before: NumberValues | Uint8Array,
  after: NumberValues | Uint8Array,
  from: Uint8Array,
  to: Uint8Array,
  selection: Selection,
  changed: Uint16Array,
): number {
  let count = 0
  for (let k = 0; k < selection.count; k++) {
    const row = selection.rows === null ? k : (selection.rows[k] as number)
    if (from[row] !== to[row] || (to[row] === Status.value && before[row] !== after[row])) changed[count++] = row
  }
  return count
}

function changedTexts(
  before: readonly string[],
  after: readonly string[],
  from: Uint8Array,
  to: Uint8Array,
  selection: Selection,
  changed: Uint16Array,
): number {
  let count = 0
  for (let k = 0; k < selection.count; k++) {
    const row = selection.rows === null ? k : (selection.rows[k] as number)
    if (from[row] !== to[row] || (to[row] === Status.value && before[row] !== after[row])) changed[count++] = row
  }
  return count
}

/** Copies values of some rows; what is no value is left over, or empty for texts. */
export function copyRows(block: Vector, result: Vector, rows: Uint16Array, count: number): void {
  if (block.kind === 'text' && result.kind === 'text') {
    for (let k = 0; k < count; k++) {
      const row = rows[k] as number
      block.values[row] = result.status[row] === Status.value ? (result.values[row] as string) : ''
    }
  } else if (block.kind !== 'text' && result.kind !== 'text') {
    for (let k = 0; k < count; k++) {
      const row = rows[k] as number
      block.values[row] = result.values[row] as number
    }
  } else throw new TypeError(`a ${block.kind} block cannot take a ${result.kind} vector`)
}
