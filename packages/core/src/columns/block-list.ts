import type { StoredStatistics } from './column-statistics.js'
import type { DictionaryBlock } from './text-dictionary.js'
import { BLOCK_ROWS, BLOCK_SHIFT, type NumberValues, type Vector } from './vectors.js'

/** A block as a column keeps it. */
export type KeptBlock = Vector | DictionaryBlock

/** Blocks of a column that are written and read together. */
export const CHUNK_BLOCKS = 4

/** Several blocks of a column one after the other, as they are written to a file; one entry a slot. */
export type StoredChunk =
  | { readonly kind: 'number'; readonly values: NumberValues; readonly status: Uint8Array }
  | { readonly kind: 'boolean'; readonly values: Uint8Array; readonly status: Uint8Array }
  | { readonly kind: 'codes'; readonly values: DictionaryBlock['codes']; readonly status: Uint8Array }
  | { readonly kind: 'text'; readonly values: readonly string[]; readonly status: Uint8Array }

/** Where the blocks of a column come from that was written to a file. */
export interface StoredCells {
  /** The chunk of a number; undefined where it was never written, when it is blank. */
  chunk(index: number): StoredChunk | undefined
  /** The list of different texts that codes are places in. */
  texts(): readonly string[]
  /** Kept texts of misfits by slot. */
  misfits(): Iterable<readonly [slot: number, text: string]>
}

/** What is known of a column without its blocks. */
export interface ColumnHead {
  readonly slotCount: number
  /** Occupied slots by status byte. */
  readonly counts: readonly number[]
  readonly numberTexts: number
  /** Counts and ends of its blocks, where they were asked for. */
  readonly statistics?: StoredStatistics
}

/** The blocks of a column. Those of a column that comes from a file are read when they are first touched. */
export class BlockList {
  #blocks: (KeptBlock | undefined)[] = []
  /** Whether the list itself is another one's too. */
  #sharesList = false
  /** How many of the first blocks were another list's too when the list was shared, and which of them are own by now. */
  #shared = 0
  readonly #own: Set<number> = new Set()
  readonly #makeEmpty: () => KeptBlock
  #stored: StoredCells | null = null
  /** Whether each block has changed since it was last written to a file. */
  #touched: boolean[] = []
  /** False until all of it was written once: what a file holds of a column of this id is then of another storage. */
  isSaved = false

  /** @param makeEmpty - a block without values */
  constructor(makeEmpty: () => KeptBlock) {
    this.#makeEmpty = makeEmpty
  }

  get length(): number {
    return this.#blocks.length
  }

  /** Takes the place of blocks that are in a file. */
  restore(blockCount: number, stored: StoredCells): void {
    this.#blocks.length = blockCount
    this.#stored = stored
    this.isSaved = true
  }

  /** Another list of the same blocks. The two share them until one changes: a block is copied before that. */
  fork(): BlockList {
    const fork = new BlockList(this.#makeEmpty)
    fork.#blocks = this.#blocks
    fork.#stored = this.#stored
    fork.#touched = Array.from({ length: this.#blocks.length }, () => true)
    for (const list of [this, fork]) {
      list.#sharesList = true
      list.#shared = this.#blocks.length
      list.#own.clear()
    }
    return fork
  }

  /** The list as this one's own, which others do not see change. */
  #ownList(): (KeptBlock | undefined)[] {
    if (this.#sharesList) this.#blocks = this.#blocks.slice()
    this.#sharesList = false
    return this.#blocks
  }

  /** A block; undefined beyond the end. */
  at(index: number): KeptBlock | undefined {
    return this.#blocks[index] ?? (index < this.#blocks.length ? this.#load(index) : undefined)
  }

  #load(index: number): KeptBlock {
    const chunk = this.#stored?.chunk(Math.floor(index / CHUNK_BLOCKS))
    if (chunk === undefined) {
      const empty = this.#makeEmpty()
      this.#blocks[index] = empty
      return empty
    }
    const first = index - (index % CHUNK_BLOCKS)
    for (let at = first; at < Math.min(first + CHUNK_BLOCKS, this.#blocks.length); at++)
      this.#blocks[at] ??= blockOf(chunk, (at - first) << BLOCK_SHIFT)
    return this.#blocks[index] as KeptBlock
  }

  /** Puts a block in place of another. */
  set(index: number, block: KeptBlock): void {
    this.#ownList()[index] = block
    this.#own.add(index)
  }

  /** Adds a block at the end. */
  push(block: KeptBlock): void {
    this.#touched[this.#ownList().push(block) - 1] = true
  }

  /**
   * Notes that a block is about to change.
   *
   * @returns whether a copy of it stands in its place now, since it was another list's too
   */
  touch(index: number): boolean {
    this.#touched[index] = true
    if (index >= this.#shared || this.#own.has(index)) return false
    const block = this.at(index)
    if (block !== undefined) this.set(index, copyOf(block))
    return true
  }

  /** All blocks, read where they were not yet. */
  all(): KeptBlock[] {
    return Array.from(this.#blocks, (_, index) => this.at(index) as KeptBlock)
  }

  /** The blocks that are in memory. */
  *loaded(): Generator<KeptBlock> {
    for (const block of this.#blocks) if (block !== undefined) yield block
  }

  /** Numbers of all chunks. */
  everyChunk(): number[] {
    return Array.from({ length: Math.ceil(this.#blocks.length / CHUNK_BLOCKS) }, (_, index) => index)
  }

  /** Chunks in which something has changed since they were last written. */
  touchedChunks(): number[] {
    const chunks = new Set<number>()
    for (const [index, isTouched] of this.#touched.entries()) if (isTouched === true) chunks.add(Math.floor(index / CHUNK_BLOCKS))
    return [...chunks]
  }

  /** The blocks of a chunk. */
  blocksOf(chunk: number): KeptBlock[] {
    const first = chunk * CHUNK_BLOCKS
    const count = Math.max(0, Math.min(CHUNK_BLOCKS, this.#blocks.length - first))
    return Array.from({ length: count }, (_, index) => this.at(first + index) as KeptBlock)
  }

  /** Everything is written. */
  markSaved(): void {
    this.#touched = []
    this.isSaved = true
  }
}

function copyOf(block: KeptBlock): KeptBlock {
  const status = block.status.slice()
  if (block.kind === 'codes') return { kind: 'codes', codes: block.codes.slice(), status }
  return { ...block, values: block.values.slice(), status } as Vector
}

/** One block of a chunk. The arrays are the block's own: no one else holds the chunk. */
function blockOf(chunk: StoredChunk, first: number): KeptBlock {
  const end = Math.min(chunk.status.length, first + BLOCK_ROWS)
  const status = chunk.status.slice(first, end)
  if (chunk.kind === 'codes') return { kind: 'codes', codes: chunk.values.slice(first, end), status }
  return { kind: chunk.kind, values: chunk.values.slice(first, end), status, clean: false } as Vector
}

/** Blocks as one chunk: numbers in the widest array among them, codes as texts where other blocks are texts. */
export function chunkOf(blocks: readonly KeptBlock[], textsOf: (block: DictionaryBlock) => readonly string[]): StoredChunk {
  const rows = blocks.reduce((sum, block, index) => sum + (index < blocks.length - 1 ? BLOCK_ROWS : block.status.length), 0)
  const status = new Uint8Array(rows).fill(1)
  for (const [index, block] of blocks.entries()) status.set(block.status, index << BLOCK_SHIFT)
  const kind = blocks.every((block) => block.kind === blocks[0]?.kind) ? blocks[0]?.kind : 'text'
  if (kind === 'text' || kind === undefined) {
    const values = new Array<string>(rows).fill('')
    for (const [index, block] of blocks.entries()) {
      const texts = block.kind === 'codes' ? textsOf(block) : (block.values as string[])
      for (let row = 0; row < texts.length; row++) values[(index << BLOCK_SHIFT) + row] = texts[row] as string
    }
    return { kind: 'text', values, status }
  }
  const arrays = blocks.map((block) => (block.kind === 'codes' ? block.codes : (block.values as NumberValues)))
  const widest = arrays.reduce((wide, one) => (one.BYTES_PER_ELEMENT > wide.BYTES_PER_ELEMENT ? one : wide))
  const values = new (widest.constructor as new (length: number) => NumberValues)(rows)
  for (const [index, array] of arrays.entries()) values.set(array, index << BLOCK_SHIFT)
  return { kind, values, status } as StoredChunk
}
