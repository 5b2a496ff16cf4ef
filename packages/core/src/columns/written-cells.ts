import { type BlockList, chunkOf, type StoredCells, type StoredChunk } from './block-list.js'
import type { DictionaryBlock, TextDictionary } from './text-dictionary.js'

/** A chunk with its number. */
export interface NumberedChunk {
  readonly index: number
  readonly chunk: StoredChunk
}

/** The cells of a column as they are written to a file: chunks, and what goes with all of them. */
export class WrittenCells {
  readonly #blocks: BlockList
  readonly #texts: TextDictionary | null
  readonly #misfits: () => ReadonlyMap<number, string>
  readonly #begin: () => void

  /** @param begin - reads what goes with the chunks of a column that comes from a file itself */
  constructor(blocks: BlockList, texts: TextDictionary | null, misfits: () => ReadonlyMap<number, string>, begin: () => void) {
    this.#blocks = blocks
    this.#texts = texts
    this.#misfits = misfits
    this.#begin = begin
  }

  /** All its chunks. */
  all(): NumberedChunk[] {
    return this.#chunks(this.#blocks.everyChunk())
  }

  /** Chunks of blocks that have changed since `markSaved`, or since the column was made. */
  unsaved(): NumberedChunk[] {
    return this.#chunks(this.#blocks.touchedChunks())
  }

  #chunks(indexes: readonly number[]): NumberedChunk[] {
    const textsOf = (block: DictionaryBlock): readonly string[] => this.#texts?.decode(block).values ?? []
    return indexes.map((index) => ({ index, chunk: chunkOf(this.#blocks.blocksOf(index), textsOf) }))
  }

  /** The list of different texts, and the kept texts of misfits. */
  side(): Pick<StoredCells, 'texts' | 'misfits'> {
    this.#begin()
    return { texts: () => this.#texts?.all() ?? [], misfits: this.#misfits }
  }

  /** False until all of it was written to a file once. */
  get isSaved(): boolean {
    return this.#blocks.isSaved
  }

  /** Everything of it is written to a file. */
  markSaved(): void {
    this.#blocks.markSaved()
  }
}
