import {
  CellFault,
  displayScalar,
  FAULT_CODES,
  type FaultCode,
  faultOfStatus,
  isFaultStatus,
  parseNumberText,
  type Scalar,
  Status,
  statusOfFault,
  storageKindOf,
  type ValueType,
} from '../values/index.js'
import { FormerCells } from './former-cells.js'
import { ColumnShape, type NumberShape } from './number-shape.js'
import { isFullBlock, type Selection, selectRows, wholeBlock } from './selection.js'
import { scratch } from './simd/index.js'
import { BLOCK_MASK, BLOCK_ROWS, BLOCK_SHIFT, makeVector, type NumberVector, resizeVector, type Vector } from './vectors.js'

/** A cell outside a column: a value, blank, or an error. */
export type Cell = Scalar | null | CellFault

const SMALLEST_BLOCK = 32
const MISFIT: number = statusOfFault('misfit')

/**
 * A vector by slot in chunked blocks. Only slots that were occupied count; the last block grows by doubling, the others
 * are full, so no array is ever larger than a block.
 */
export class Column {
  readonly type: ValueType
  readonly #blocks: Vector[] = []
  /** Kept texts of misfits by slot. */
  readonly #misfitTexts: Map<number, string> = new Map()
  /** Occupied slots by status byte, maintained on every write. */
  readonly #counts: Uint32Array = new Uint32Array(Status.firstFault + FAULT_CODES.length)

  /** Texts that stand for a number, maintained on every write; counted for columns of text only. */
  #numberTexts = 0

  /** Kept from the first time it is asked for. */
  #shape: ColumnShape | null = null

  /** Kept for whoever follows changes by what was there before; null when nobody does. */
  #former: FormerCells | null = null

  constructor(type: ValueType) {
    this.type = type
  }

  /** What cells held before the changes since it was last cleared; noted from the first time it is asked for. */
  former(): FormerCells {
    this.#former ??= new FormerCells()
    return this.#former
  }

  /** Forgets what cells held before. */
  clearFormer(): void {
    this.#former?.clear()
  }

  /** Counts and ends of the numbers, kept from now on while cells change. */
  numberShape(): NumberShape {
    this.#shape ??= new ColumnShape()
    return this.#shape.total(this.#blocks)
  }

  /** How many texts of a text column stand for a number, whole ones with a leading zero not counted. */
  get numberTextCount(): number {
    return this.#numberTexts
  }

  /** Counts the texts that stand for numbers anew, when results become values that are typed over. */
  recountNumberTexts(): void {
    this.#numberTexts = 0
    for (const block of this.#blocks) {
      if (block.kind !== 'text') continue
      for (let row = 0; row < block.status.length; row++) {
        if (block.status[row] === Status.value && isNumberText(block.values[row] as string)) this.#numberTexts++
      }
    }
  }

  /** How many occupied slots hold a value. */
  get valueCount(): number {
    return this.#counts[Status.value] as number
  }

  /** How many occupied slots are blank. */
  get blankCount(): number {
    return this.#counts[Status.blank] as number
  }

  /** How many occupied slots hold errors; of one code if given. */
  faultCount(status?: number): number {
    if (status !== undefined) return this.#counts[status] as number
    return this.#counts.subarray(Status.firstFault).reduce((sum, count) => sum + count, 0)
  }

  /** The kept text of some misfit, as an example; undefined when there is none. */
  sampleMisfit(): string | undefined {
    return this.#misfitTexts.values().next().value
  }

  /** Bytes of the arrays of this column; texts are counted at two bytes a UTF-16 unit of at most 64 sampled cells a block. */
  byteLength(): number {
    let bytes = 0
    for (const block of this.#blocks) {
      bytes += block.status.byteLength
      bytes += block.kind === 'text' ? sampledTextBytes(block.values) : block.values.byteLength
    }
    return bytes
  }

  /** Block number `index` with room for `rowCount` rows, made blank where nothing was written yet. */
  block(index: number, rowCount: number): Vector {
    while (this.#blocks.length <= index) {
      const previous = this.#blocks.length - 1
      if (previous >= 0) this.#grow(previous, BLOCK_ROWS)
      this.#blocks.push(makeVector(storageKindOf(this.type), SMALLEST_BLOCK))
    }
    return this.#grow(index, rowCount)
  }

  #grow(index: number, rowCount: number): Vector {
    const block = this.#blocks[index] as Vector
    if (block.status.length >= rowCount) return block
    const grown = resizeVector(block, Math.min(BLOCK_ROWS, Math.max(rowCount, block.status.length * 2)))
    this.#blocks[index] = grown
    return grown
  }

  /** Takes a finished block over at the end of the column; all blocks before must be full. Misfit texts come by slot. */
  adopt(block: Vector, rowCount: number, misfitTexts?: ReadonlyMap<number, string>): void {
    this.#shape?.forget(this.#blocks.length)
    this.#blocks.push(block)
    for (let row = 0; row < rowCount; row++) {
      this.#count(block.status[row] as number, 1)
      if (block.kind === 'text' && isNumberText(block.values[row] as string)) this.#numberTexts++
    }
    for (const [slot, text] of misfitTexts ?? []) this.#misfitTexts.set(slot, text)
  }

  /** Block number `index` as it is, which may be shorter than its rows: what is missing is blank. */
  peek(index: number): Vector | undefined {
    return this.#blocks[index]
  }

  #count(status: number, by: 1 | -1): void {
    this.#counts[status] = (this.#counts[status] as number) + by
  }

  /** A row begins here, blank. */
  occupy(slot: number): void {
    this.block(slot >> BLOCK_SHIFT, (slot & BLOCK_MASK) + 1).clean = false
    this.#count(Status.blank, 1)
  }

  /** The row of this slot is gone. */
  vacate(slot: number): void {
    this.write(slot, null)
    this.#count(Status.blank, -1)
  }

  /** The status byte of a slot. */
  statusAt(slot: number): number {
    return this.#blocks[slot >> BLOCK_SHIFT]?.status[slot & BLOCK_MASK] ?? Status.blank
  }

  /** The value, blank or error of a slot. */
  read(slot: number): Cell {
    const block = this.#blocks[slot >> BLOCK_SHIFT]
    const row = slot & BLOCK_MASK
    const status = block?.status[row] ?? Status.blank
    if (block === undefined || status === Status.blank) return null
    if (isFaultStatus(status)) return new CellFault(faultOfStatus(status), this.#misfitTexts.get(slot))
    if (block.kind === 'boolean') return block.values[row] === 1
    return block.values[row] as number | string
  }

  /** Writes an occupied slot; the value must be of the column's type. */
  write(slot: number, cell: Cell): void {
    const row = slot & BLOCK_MASK
    const block = this.block(slot >> BLOCK_SHIFT, row + 1)
    const before = block.status[row] as number
    const after = cell === null ? Status.blank : cell instanceof CellFault ? statusOfFault(cell.code) : Status.value
    this.#former?.note(slot, block, row)
    if (before === MISFIT) this.#misfitTexts.delete(slot)
    if (cell instanceof CellFault && cell.text !== undefined) this.#misfitTexts.set(slot, cell.text)
    block.status[row] = after
    block.clean = false
    if (this.#shape !== null && block.kind === 'number')
      this.#shape.change(
        slot >> BLOCK_SHIFT,
        before === Status.value ? (block.values[row] as number) : null,
        typeof cell === 'number' ? cell : null,
      )
    this.#count(before, -1)
    this.#count(after, 1)
    if (block.kind === 'text') {
      if (isNumberText(block.values[row] as string)) this.#numberTexts--
      if (typeof cell === 'string' && isNumberText(cell)) this.#numberTexts++
    }
    if (cell === null || cell instanceof CellFault) {
      if (block.kind === 'text') block.values[row] = ''
    } else if (block.kind === 'boolean') block.values[row] = cell === true ? 1 : 0
    else block.values[row] = cell as never
  }

  /** The cells as operations carry them, so that a change with finished storage is plain JSON like any other. */
  toJSON(): (number | string | boolean | null | { misfit: string } | { error: FaultCode })[] {
    const count = this.#counts.reduce((sum, one) => sum + one, 0)
    return Array.from({ length: count }, (_, slot) => {
      const cell = this.read(slot)
      if (cell === null || typeof cell === 'string' || typeof cell === 'boolean') return cell
      if (cell instanceof CellFault) return cell.text === undefined ? { error: cell.code } : { misfit: cell.text }
      return this.type === 'date' || this.type === 'datetime' ? displayScalar(cell, this.type) : cell
    })
  }

  /** Begins `count` blank rows from slot 0 on, in a column that has none. */
  occupyFirst(count: number): void {
    for (let first = 0; first < count; first += BLOCK_ROWS) this.block(first >> BLOCK_SHIFT, Math.min(BLOCK_ROWS, count - first))
    this.#counts[Status.blank] = count
  }

  /**
   * Takes over what an evaluation gave for some occupied rows of a block.
   *
   * @returns the rows whose cell differs now; blank equals blank, and errors are equal when their codes are
   */
  absorb(blockIndex: number, result: Vector, selection: Selection): Selection {
    const last = selection.rows === null ? selection.count : (selection.rows[selection.count - 1] as number) + 1
    const block = this.block(blockIndex, last)
    const changed = new Uint16Array(selection.count)
    const changedCount = changedRows(block, result, selection, changed)
    if (changedCount === 0) return { rows: changed, count: 0 }
    block.clean = false
    this.#noteFormer(blockIndex, block, changed, changedCount)
    this.#noteShape(blockIndex, block, result, changed, changedCount)
    if (changedCount === selection.count && selection.rows === null && block.kind !== 'text' && result.kind !== 'text') {
      this.#countAll(block.status, changedCount, -1)
      this.#countAll(result.status, changedCount, 1)
      block.status.set(result.status.subarray(0, changedCount))
      block.values.set(result.values.subarray(0, changedCount))
      return wholeBlock(changedCount)
    }
    for (let k = 0; k < changedCount; k++) {
      const row = changed[k] as number
      const was = block.status[row] as number
      const is = result.status[row] as number
      if (was !== is) this.#moveStatus(block.status, row, was, is)
    }
    copyRows(block, result, changed, changedCount)
    return changedCount === selection.count && selection.rows === null
      ? wholeBlock(changedCount)
      : selectRows(changed.subarray(0, changedCount))
  }

  #noteFormer(blockIndex: number, block: Vector, rows: Uint16Array, count: number): void {
    if (this.#former === null) return
    if (count > MOST_NOTED) return this.#former.giveUp()
    const first = blockIndex << BLOCK_SHIFT
    for (let k = 0; k < count; k++) this.#former.note(first + (rows[k] as number), block, rows[k] as number)
  }

  /** Keeps the shape while an evaluation changes some rows of a block. */
  #noteShape(blockIndex: number, block: Vector, result: Vector, rows: Uint16Array, count: number): void {
    if (this.#shape === null || block.kind !== 'number' || result.kind !== 'number') return
    if (count > MOST_NOTED) return this.#shape.forget(blockIndex)
    for (let k = 0; k < count; k++) {
      const row = rows[k] as number
      this.#shape.change(blockIndex, numberAt(block, row), numberAt(result, row))
    }
  }

  /** Counts the first rows of a block by their status. */
  #countAll(status: Uint8Array, count: number, by: 1 | -1): void {
    for (let row = 0; row < count; row++) {
      const of = status[row] as number
      this.#counts[of] = (this.#counts[of] as number) + by
    }
  }

  #moveStatus(status: Uint8Array, row: number, was: number, is: number): void {
    status[row] = is
    this.#counts[was] = (this.#counts[was] as number) - 1
    this.#counts[is] = (this.#counts[is] as number) + 1
  }
}

/** More changed rows of a block than this are not followed one by one: the block is looked at again. */
const MOST_NOTED = 64

function numberAt(vector: NumberVector, row: number): number | null {
  return vector.status[row] === Status.value ? (vector.values[row] as number) : null
}

/** True for a text that a number column would have read as a number; `007` is a code. */
function isNumberText(text: string): boolean {
  const first = text.charCodeAt(0)
  // Most texts are none, and their first sign shows it: a digit, + - or a point.
  if (!(first >= 43 && first <= 57)) return false
  return !/^[+-]?0\d/.test(text) && !Number.isNaN(parseNumberText(text))
}

/** Lists the rows that differ; one loop a kind keeps the access of values fast. */
function changedRows(block: Vector, result: Vector, selection: Selection, changed: Uint16Array): number {
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
  before: Float64Array | Uint8Array,
  after: Float64Array | Uint8Array,
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

function copyRows(block: Vector, result: Vector, rows: Uint16Array, count: number): void {
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

function sampledTextBytes(values: readonly string[]): number {
  const step = Math.max(1, Math.floor(values.length / 64))
  let units = 0
  let sampled = 0
  for (let at = 0; at < values.length; at += step) {
    units += (values[at] as string).length
    sampled++
  }
  return values.length * 8 + Math.round((units * 2 * values.length) / Math.max(1, sampled))
}
