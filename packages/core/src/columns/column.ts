import {
  CellFault,
  FAULT_CODES,
  faultOfStatus,
  isFaultStatus,
  Status,
  statusOfFault,
  storageKindOf,
  type ValueType,
} from '../values/index.js'
import { BeforeImages } from './before-images.js'
import { BlockList, type ColumnHead, type StoredCells, type StoredChunk } from './block-list.js'
import { type Cell, type CellValue, writeCellValue } from './cell.js'
import { changedRows, copyRows } from './changed-rows.js'
import { ColumnStatistics, type NumberStatistics, numberAt } from './column-statistics.js'
import { fits, narrowed, widened } from './narrow-numbers.js'
import { isNumberText } from './number-text.js'
import type { ReadonlyColumn } from './readonly-column.js'
import { type Selection, selectRows, wholeBlock } from './selection.js'
import {
  type DictionaryBlock,
  type EncodedTexts,
  putCode,
  resizeCodes,
  sampledTextBytes,
  TextDictionary,
} from './text-dictionary.js'
import {
  BLOCK_MASK,
  BLOCK_ROWS,
  BLOCK_SHIFT,
  makeVector,
  type NumberVector,
  resizeVector,
  type TextVector,
  type Vector,
} from './vectors.js'
import { WrittenCells } from './written-cells.js'

const SMALLEST_BLOCK = 32
/** Where changed rows are listed before it is known how many they are; a list for each block of a large column would be much. */
const listOfChanged = new Uint16Array(BLOCK_ROWS)
const NONE: Selection = { rows: new Uint16Array(0), count: 0 }
/** Blocks of texts that are kept decoded. */
const MOST_DECODED = 2
const MISFIT: number = statusOfFault('misfit')

/**
 * A vector by slot in chunked blocks. Only slots that were occupied count; the last block grows by doubling, the others
 * are full, so no array is ever larger than a block.
 */
export class Column implements ReadonlyColumn {
  readonly type: ValueType
  #blocks: BlockList = new BlockList(() => this.#emptyBlock())
  /** The different texts of a column of texts; null for other columns. */
  #texts: TextDictionary | null
  /** Blocks of codes as texts, those last asked for: the one who computes asks for the same block again and again. */
  readonly #decoded: Map<number, TextVector> = new Map()
  /** Kept texts of misfits by slot. */
  #misfitTexts: Map<number, string> = new Map()
  #sharesMisfitTexts = false
  /** Occupied slots by status byte, maintained on every write. */
  readonly #counts: Uint32Array = new Uint32Array(Status.firstFault + FAULT_CODES.length)

  /** Texts that stand for a number, maintained on every write; counted for columns of text only. */
  #numberTexts = 0

  /** Kept from the first time it is asked for. */
  #statistics: ColumnStatistics | null = null

  /** Reads what goes with all blocks of a column in a file, once. */
  #begin: () => void = () => {}

  #written: WrittenCells | null = null

  /** Kept for the one who follows changes by what was there before; null when no one does. */
  #beforeImages: BeforeImages | null = null

  constructor(type: ValueType) {
    this.type = type
    this.#texts = type === 'text' ? new TextDictionary() : null
  }

  /** A column whose blocks stay in a file until they are touched. */
  static stored(type: ValueType, { slotCount, counts, numberTexts, statistics }: ColumnHead, cells: StoredCells): Column {
    const column = new Column(type)
    if (statistics !== undefined) column.#statistics = ColumnStatistics.of(statistics)
    column.#counts.set(counts)
    column.#numberTexts = numberTexts
    let isBegun = false
    column.#begin = () => {
      if (isBegun) return
      isBegun = true
      column.#texts?.takeAll(cells.texts())
      for (const [slot, text] of cells.misfits()) column.#misfitTexts.set(slot, text)
    }
    const chunk = (index: number): StoredChunk | undefined => {
      column.#begin()
      return cells.chunk(index)
    }
    column.#blocks.restore(Math.ceil(slotCount / BLOCK_ROWS), { ...cells, chunk })
    return column
  }

  /**
   * Another column of the same cells, as they are now. The two share their blocks until one of them changes, so that it takes
   * next to nothing to hand a column out that others may not see change.
   */
  fork(): Column {
    this.#begin()
    const fork = new Column(this.type)
    fork.#blocks = this.#blocks.fork()
    // Texts are only ever added to the list.
    fork.#texts = this.#texts
    fork.#misfitTexts = this.#misfitTexts
    for (const one of [this, fork]) one.#sharesMisfitTexts = true
    fork.#counts.set(this.#counts)
    fork.#numberTexts = this.#numberTexts
    return fork
  }

  /** What is known of a column without its blocks. */
  head(slotCount: number): ColumnHead {
    const statistics = this.#statistics === null ? {} : { statistics: this.#statistics.snapshot() }
    return { slotCount, counts: [...this.#counts], numberTexts: this.#numberTexts, ...statistics }
  }

  /** Its cells as they are written to a file. */
  get written(): WrittenCells {
    this.#written ??= new WrittenCells(this.#blocks, this.#texts, () => this.#misfitTexts, this.#begin)
    return this.#written
  }

  /** What cells held before the changes since it was last cleared; noted from the first time it is asked for. */
  beforeImages(): BeforeImages {
    this.#beforeImages ??= new BeforeImages()
    return this.#beforeImages
  }

  /** Forgets what cells held before. */
  clearBeforeImages(): void {
    this.#beforeImages?.clear()
  }

  /** Counts and ends of the numbers, kept from now on while cells change. */
  numberStatistics(): NumberStatistics {
    this.#statistics ??= new ColumnStatistics()
    return this.#statistics.total(this.#blocks.length, (index) => this.#blocks.at(index))
  }

  /** How many texts of a text column stand for a number, whole ones with a leading zero not counted. */
  get numberTextCount(): number {
    return this.#numberTexts
  }

  /** Counts the texts that stand for numbers anew, when results become values that are typed over. */
  recountNumberTexts(): void {
    this.#numberTexts = 0
    if (this.type !== 'text') return
    for (const [index, { status }] of this.#blocks.all().entries()) {
      const first = index << BLOCK_SHIFT
      for (let row = 0; row < status.length; row++)
        if (status[row] === Status.value && isNumberText(this.valueAt(first + row) as string)) this.#numberTexts++
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
    let sum = 0
    for (let fault: number = Status.firstFault; fault < this.#counts.length; fault++) sum += this.#counts[fault] as number
    return sum
  }

  /** The kept text of some misfit, as an example; undefined when there is none. */
  sampleMisfit(): string | undefined {
    this.#begin()
    return this.#misfitTexts.values().next().value
  }

  /**
   * Bytes of the arrays of this column, with about what its texts take: those of its list, and beside the list at most 64
   * sampled ones a block.
   */
  byteLength(): number {
    let bytes = this.#texts === null || this.#texts.size === 1 ? 0 : this.#texts.byteLength()
    for (const block of this.#blocks.loaded()) {
      bytes += block.status.byteLength
      if (block.kind === 'codes') bytes += block.codes.byteLength
      else bytes += block.kind === 'text' ? sampledTextBytes(block.values) : block.values.byteLength
    }
    return bytes
  }

  /**
   * Block number `index` with room for `rowCount` rows, made blank where nothing was written yet. It is to be read: texts may
   * be a copy.
   */
  block(index: number, rowCount: number): Vector {
    const block = this.#stored(index, rowCount)
    return block.kind === 'codes' ? this.#textsOf(index, block) : block
  }

  /** Block number `index` as it is kept, with room for `rowCount` rows. */
  #stored(index: number, rowCount: number): Vector | DictionaryBlock {
    while (this.#blocks.length <= index) {
      const previous = this.#blocks.length - 1
      if (previous >= 0) this.#grow(previous, BLOCK_ROWS)
      this.#blocks.push(this.#emptyBlock())
    }
    return this.#grow(index, rowCount)
  }

  #emptyBlock(): Vector | DictionaryBlock {
    const kind = storageKindOf(this.type)
    if (kind !== 'text' || this.#texts?.isWorthwhile !== true) return makeVector(kind, SMALLEST_BLOCK)
    return { kind: 'codes', codes: new Uint8Array(SMALLEST_BLOCK), status: new Uint8Array(SMALLEST_BLOCK).fill(1) }
  }

  #grow(index: number, rowCount: number): Vector | DictionaryBlock {
    const block = this.#blocks.at(index) as Vector | DictionaryBlock
    const { length } = block.status
    if (length >= rowCount) return block
    const room = Math.min(BLOCK_ROWS, Math.max(rowCount, length * 2))
    const grown = block.kind === 'codes' ? resizeCodes(block, room) : resizeVector(block, room)
    this.#blocks.set(index, grown)
    this.#decoded.delete(index)
    return grown
  }

  #textsOf(index: number, block: DictionaryBlock): TextVector {
    const known = this.#decoded.get(index)
    if (known !== undefined) return known
    const decoded = (this.#texts as TextDictionary).decode(block)
    // Each is a vector of its own: the one who still looks at an earlier one keeps what it had.
    for (const former of this.#decoded.keys()) if (this.#decoded.size >= MOST_DECODED) this.#decoded.delete(former)
    this.#decoded.set(index, decoded)
    return decoded
  }

  /** Takes a finished block over at the end of the column; all blocks before must be full. Misfit texts come by slot. */
  adopt(block: Vector, rowCount: number, misfitTexts?: ReadonlyMap<number, string>): void {
    this.#statistics?.forget(this.#blocks.length)
    const coded = block.kind === 'text' && this.#texts?.isWorthwhile === true ? this.#texts.encode(block) : null
    this.#blocks.push(coded ?? (block.kind === 'number' ? narrowed(block) : block))
    for (let row = 0; row < rowCount; row++) this.#count(block.status[row] as number, 1)
    if (coded !== null) this.#numberTexts += this.#texts?.countNumbers(coded, rowCount) ?? 0
    else if (block.kind === 'text')
      for (let row = 0; row < rowCount; row++) if (isNumberText(block.values[row] as string)) this.#numberTexts++
    for (const [slot, text] of misfitTexts ?? []) this.#ownMisfitTexts().set(slot, text)
  }

  /** Block number `index` as places in the list of different texts; null where its texts are not listed. */
  encodedBlock(index: number, rowCount: number): EncodedTexts | null {
    const block = this.#stored(index, rowCount)
    return block.kind === 'codes' ? { ...block, texts: (this.#texts as TextDictionary).all() } : null
  }

  /** Block number `index` as it is, which may be shorter than its rows: what is missing is blank. */
  peek(index: number): Vector | undefined {
    const block = this.#blocks.at(index)
    return block?.kind === 'codes' ? this.#textsOf(index, block) : block
  }

  /** How many different texts are listed, for a column of texts whose places say which text a cell holds; else 0. */
  get dictionarySize(): number {
    this.#begin()
    return this.#texts?.size ?? 0
  }

  /** The place of the text of a slot in the list of different texts; -1 where it is not listed. */
  codeAt(slot: number): number {
    const block = this.#blocks.at(slot >> BLOCK_SHIFT)
    return block?.kind === 'codes' ? (block.codes[slot & BLOCK_MASK] ?? -1) : -1
  }

  /** True when every text of it is Unicode, so that a file can keep it: none has half of a character of two units. */
  hasWellFormedTexts(): boolean {
    this.#begin()
    const isWell = (texts: Iterable<string>): boolean => {
      for (const text of texts) if (!text.isWellFormed()) return false
      return true
    }
    if (!isWell(this.#misfitTexts.values()) || !isWell(this.#texts?.all() ?? [])) return false
    for (let index = 0; index < this.#blocks.length; index++) {
      const block = this.#blocks.at(index)
      if (block?.kind === 'text' && !isWell(block.values)) return false
    }
    return true
  }

  /** What stands in a slot that holds a value; a boolean is 0 or 1. What is left over elsewhere means nothing. */
  valueAt(slot: number): number | string | undefined {
    const block = this.#blocks.at(slot >> BLOCK_SHIFT)
    const row = slot & BLOCK_MASK
    if (block?.kind !== 'codes') return block?.values[row]
    return row < block.codes.length ? (this.#texts as TextDictionary).textAt(block.codes[row] as number) : undefined
  }

  /** A block is about to change: one that a fork looks at too is copied first, and with it what was decoded of it. */
  #change(blockIndex: number): void {
    if (this.#blocks.touch(blockIndex)) this.#decoded.delete(blockIndex)
  }

  #ownMisfitTexts(): Map<number, string> {
    if (this.#sharesMisfitTexts) this.#misfitTexts = new Map(this.#misfitTexts)
    this.#sharesMisfitTexts = false
    return this.#misfitTexts
  }

  #count(status: number, by: 1 | -1): void {
    this.#counts[status] = (this.#counts[status] as number) + by
  }

  /** A row begins here, blank. */
  occupy(slot: number): void {
    this.#change(slot >> BLOCK_SHIFT)
    const block = this.#stored(slot >> BLOCK_SHIFT, (slot & BLOCK_MASK) + 1)
    if (block.kind !== 'codes') block.clean = false
    this.#count(Status.blank, 1)
  }

  /** The row of this slot is gone. */
  vacate(slot: number): void {
    this.write(slot, null)
    this.#count(Status.blank, -1)
  }

  /** The status byte of a slot. */
  statusAt(slot: number): number {
    return this.#blocks.at(slot >> BLOCK_SHIFT)?.status[slot & BLOCK_MASK] ?? Status.blank
  }

  /** The value, blank or error of a slot. */
  read(slot: number): Cell {
    const status = this.statusAt(slot)
    if (status === Status.blank) return null
    if (isFaultStatus(status)) return new CellFault(faultOfStatus(status), this.#misfitTexts.get(slot))
    const value = this.valueAt(slot) as number | string
    return this.type === 'boolean' ? value === 1 : value
  }

  /** Writes an occupied slot; the value must be of the column's type. */
  write(slot: number, cell: Cell): void {
    const row = slot & BLOCK_MASK
    this.#change(slot >> BLOCK_SHIFT)
    const block = this.#stored(slot >> BLOCK_SHIFT, row + 1)
    const before = block.status[row] as number
    const after = cell === null ? Status.blank : cell instanceof CellFault ? statusOfFault(cell.code) : Status.value
    this.#beforeImages?.note(slot, before, this.valueAt(slot) as number | string)
    if (before === MISFIT) this.#ownMisfitTexts().delete(slot)
    if (cell instanceof CellFault && cell.text !== undefined) this.#ownMisfitTexts().set(slot, cell.text)
    const text = typeof cell === 'string' ? cell : ''
    if (this.#texts !== null) this.#countNumberText(this.valueAt(slot) as string, text)
    block.status[row] = after
    if (block.kind === 'codes') return this.#writeText(slot, block, before, after, text)
    block.clean = false
    if (this.#statistics !== null && block.kind === 'number')
      this.#statistics.change(
        slot >> BLOCK_SHIFT,
        before === Status.value ? (block.values[row] as number) : null,
        typeof cell === 'number' ? cell : null,
      )
    this.#count(before, -1)
    this.#count(after, 1)
    if (block.kind === 'number' && typeof cell === 'number' && !fits(block.values, cell)) {
      const wide = widened(block)
      this.#blocks.set(slot >> BLOCK_SHIFT, wide)
      wide.values[row] = cell
    } else if (block.kind === 'text') block.values[row] = text
    else if (cell === null || cell instanceof CellFault) return
    else if (block.kind === 'boolean') block.values[row] = cell === true ? 1 : 0
    else block.values[row] = cell as never
  }

  #countNumberText(before: string, after: string): void {
    if (isNumberText(before)) this.#numberTexts--
    if (isNumberText(after)) this.#numberTexts++
  }

  /** Writes a text into a block of codes, and into what was decoded of it. */
  #writeText(slot: number, block: DictionaryBlock, before: number, after: number, text: string): void {
    this.#count(before, -1)
    this.#count(after, 1)
    this.#putText(slot >> BLOCK_SHIFT, block, slot & BLOCK_MASK, text)
  }

  #putText(index: number, block: DictionaryBlock, row: number, text: string): void {
    putCode(block, row, (this.#texts as TextDictionary).placeOf(text))
    const decoded = this.#decoded.get(index)
    if (decoded === undefined) return
    decoded.values[row] = text
    decoded.clean = false
  }

  /** The cells as operations carry them, so that a change with finished storage is plain JSON like any other. */
  toJSON(): CellValue[] {
    const length = this.#counts.reduce((sum, one) => sum + one, 0)
    return Array.from({ length }, (_, slot) => writeCellValue(this.read(slot), this.type))
  }

  /** Begins `count` blank rows from slot 0 on, in a column that has none. */
  occupyFirst(count: number): void {
    for (let first = 0; first < count; first += BLOCK_ROWS)
      this.#stored(first >> BLOCK_SHIFT, Math.min(BLOCK_ROWS, count - first))
    this.#counts[Status.blank] = count
  }

  /**
   * Takes over what an evaluation gave for some occupied rows of a block.
   *
   * @returns the rows whose cell differs now; blank equals blank, and errors are equal when their codes are
   */
  absorb(blockIndex: number, result: Vector, selection: Selection): Selection {
    const last = selection.rows === null ? selection.count : (selection.rows[selection.count - 1] as number) + 1
    const changed = listOfChanged
    const changedCount = changedRows(this.#wide(blockIndex, last), result, selection, changed)
    if (changedCount === 0) return NONE
    this.#change(blockIndex)
    const block = this.#wide(blockIndex, last)
    block.clean = false
    this.#noteFormer(blockIndex, block, changed, changedCount)
    this.#noteShape(blockIndex, block, result, changed, changedCount)
    const isWhole = changedCount === selection.count && selection.rows === null
    if (isWhole && block.kind !== 'text' && result.kind !== 'text') {
      this.#countAll(block.status, changedCount, -1)
      this.#countAll(result.status, changedCount, 1)
      block.status.set(result.status.subarray(0, changedCount))
      block.values.set(result.values.subarray(0, changedCount))
      return wholeBlock(changedCount)
    }
    if (isWhole && result.kind === 'text') {
      this.#takeTexts(blockIndex, block, result, changedCount)
      return wholeBlock(changedCount)
    }
    for (let k = 0; k < changedCount; k++) {
      const row = changed[k] as number
      const was = block.status[row] as number
      const is = result.status[row] as number
      if (was !== is) this.#moveStatus(block.status, row, was, is)
    }
    const stored = this.#blocks.at(blockIndex) as Vector | DictionaryBlock
    if (stored.kind === 'codes' && result.kind === 'text') {
      for (let k = 0; k < changedCount; k++) {
        const row = changed[k] as number
        this.#putText(blockIndex, stored, row, result.status[row] === Status.value ? (result.values[row] as string) : '')
      }
    } else copyRows(block, result, changed, changedCount)
    return isWhole ? wholeBlock(changedCount) : selectRows(changed.slice(0, changedCount))
  }

  /** Takes all texts of a block, as places in the list of different ones where they repeat. */
  #takeTexts(blockIndex: number, block: Vector, result: TextVector, rowCount: number): void {
    this.#countAll(block.status, rowCount, -1)
    this.#countAll(result.status, rowCount, 1)
    const status = block.status.slice()
    status.set(result.status.subarray(0, rowCount))
    const values = new Array<string>(status.length).fill('')
    for (let row = 0; row < rowCount; row++) if (status[row] === Status.value) values[row] = result.values[row] as string
    const texts: TextVector = { kind: 'text', values, status, clean: false }
    const coded = this.#texts?.isWorthwhile === true ? this.#texts.encode(texts) : null
    this.#blocks.set(blockIndex, coded ?? texts)
    this.#decoded.delete(blockIndex)
  }

  /** A block that takes whatever is computed. */
  #wide(index: number, rowCount: number): Vector {
    const block = this.block(index, rowCount)
    if (block.kind !== 'number' || block.values instanceof Float64Array) return block
    // A wide block keeps the status bytes of the narrow one, which must be its own.
    this.#change(index)
    const wide = widened(this.block(index, rowCount) as NumberVector)
    this.#blocks.set(index, wide)
    return wide
  }

  #noteFormer(blockIndex: number, block: Vector, rows: Uint16Array, count: number): void {
    if (this.#beforeImages === null) return
    if (count > MOST_NOTED) return this.#beforeImages.giveUp()
    const first = blockIndex << BLOCK_SHIFT
    for (let k = 0; k < count; k++) {
      const row = rows[k] as number
      this.#beforeImages.note(first + row, block.status[row] as number, block.values[row] as number | string)
    }
  }

  /** Keeps the statistics while an evaluation changes some rows of a block. */
  #noteShape(blockIndex: number, block: Vector, result: Vector, rows: Uint16Array, count: number): void {
    if (this.#statistics === null || block.kind !== 'number' || result.kind !== 'number') return
    if (count > MOST_NOTED) return this.#statistics.forget(blockIndex)
    for (let k = 0; k < count; k++) {
      const row = rows[k] as number
      this.#statistics.change(blockIndex, numberAt(block, row), numberAt(result, row))
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
