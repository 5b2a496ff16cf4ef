import { BLOCK_ROWS, isFullBlock, type Selection, scratch } from '../../columns/index.js'

/**
 * Marks of the watched places of one formula: a byte a row, a bit a place, with the count of each place kept on every
 * evaluation. So a finding about data has its row count at any time, and costs nothing on rows that are not touched.
 */
export class WatchMarks {
  readonly #blocks: (Uint8Array | undefined)[] = []
  /** Whether each block has changed since it was last written to a file. */
  #touched: boolean[] = []
  /** False until all of it was written to a file once. */
  isSaved = false
  /** Reads a block from a file; blocks without marks are not in it. */
  #stored: (block: number) => Uint8Array | undefined = () => undefined
  readonly #counts: Uint32Array
  /** Rows of a block by their mark, while it is counted. */
  readonly #byMark: Uint32Array = new Uint32Array(256)

  constructor(watchCount: number) {
    this.#counts = new Uint32Array(watchCount)
  }

  /** Rows marked for a watch. */
  countOf(watch: number): number {
    return this.#counts[watch] ?? 0
  }

  /** Whether a row is marked for a watch. */
  isMarked(slot: number, watch: number): boolean {
    return ((this.#block(Math.floor(slot / BLOCK_ROWS))[slot % BLOCK_ROWS] as number) & (1 << watch)) !== 0
  }

  /** The slot of the first row marked for a watch, or null. */
  firstSlot(watch: number): number | null {
    if (this.countOf(watch) === 0) return null
    for (let index = 0; index < this.#blocks.length; index++) {
      const marks = this.#block(index)
      const row = marks.findIndex((mark) => (mark & (1 << watch)) !== 0)
      if (row >= 0) return index * BLOCK_ROWS + row
    }
    return null
  }

  /** Takes over what an evaluation marked on these rows, in place of what was marked there. */
  replace(block: number, selection: Selection, fresh: Uint8Array): void {
    const marks = this.#block(block)
    this.#touched[block] = true
    if (this.#hasMarks) this.#tally(marks, selection, -1)
    if (selection.rows === null) marks.set(fresh.subarray(0, selection.count))
    else
      for (let k = 0; k < selection.count; k++) {
        const row = selection.rows[k] as number
        marks[row] = fresh[row] as number
      }
    this.#tally(fresh, selection, 1)
  }

  /** Takes the marks of these rows away. */
  clear(block: number, selection: Selection): void {
    const marks = this.#block(block)
    this.#touched[block] = true
    if (this.#hasMarks) this.#tally(marks, selection, -1)
    if (selection.rows === null) marks.fill(0, 0, selection.count)
    else for (let k = 0; k < selection.count; k++) marks[selection.rows[k] as number] = 0
  }

  #block(index: number): Uint8Array {
    const known = this.#blocks[index]
    if (known !== undefined) return known
    const marks = this.#stored(index) ?? new Uint8Array(BLOCK_ROWS)
    this.#blocks[index] = marks
    return marks
  }

  /** Takes marks over from a file, whose blocks are read when they are needed. */
  restore(counts: readonly number[], blockCount: number, stored: (block: number) => Uint8Array | undefined): void {
    this.#counts.set(counts)
    this.#blocks.length = blockCount
    this.#stored = stored
    this.isSaved = true
  }

  /** Rows marked for each watch. */
  get counts(): readonly number[] {
    return [...this.#counts]
  }

  /** Blocks that have changed since `markSaved`, each with its marks. */
  unsaved(): [block: number, marks: Uint8Array][] {
    return [...this.#touched.entries()].flatMap(([index, isTouched]) =>
      isTouched === true ? [[index, this.#block(index)] as [number, Uint8Array]] : [],
    )
  }

  /** Everything of it is written to a file. */
  markSaved(): void {
    this.#touched = []
    this.isSaved = true
  }

  get #hasMarks(): boolean {
    return this.#counts.some((count) => count > 0)
  }

  #tally(marks: Uint8Array, selection: Selection, by: 1 | -1): void {
    const { rows, count } = selection
    if (rows !== null) {
      for (let k = 0; k < count; k++) this.#tallyRow(marks[rows[k] as number] as number, by)
      return
    }
    if (isFullBlock(selection) && this.#tallyByLoop(marks, by)) return
    // A whole block is counted by mark first: there are at most 256 different ones.
    const byMark = this.#byMark
    byMark.fill(0)
    for (let row = 0; row < count; row++) byMark[marks[row] as number] = (byMark[marks[row] as number] as number) + 1
    for (let mark = 1; mark < byMark.length; mark++) if (byMark[mark] !== 0) this.#tallyRow(mark, by * (byMark[mark] as number))
  }

  /** Counts a full block with the block loop; false where there is none. */
  #tallyByLoop(marks: Uint8Array, by: 1 | -1): boolean {
    const bytes = scratch.lendBytes()
    if (bytes === null) return false
    bytes.set(marks)
    const loops = scratch.loopsFor(bytes)
    for (let watch = 0; loops !== null && watch < this.#counts.length; watch++)
      this.#counts[watch] = (this.#counts[watch] as number) + by * loops.countMarked(bytes.byteOffset, 1 << watch)
    return scratch.giveBack(bytes) && loops !== null
  }

  #tallyRow(mark: number, by: number): void {
    for (let watch = 0; mark !== 0 && watch < this.#counts.length; watch++) {
      if ((mark & (1 << watch)) !== 0) this.#counts[watch] = (this.#counts[watch] as number) + by
    }
  }
}
