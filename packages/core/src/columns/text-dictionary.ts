import { isNumberText } from './number-text.js'
import { BLOCK_ROWS, type TextVector } from './vectors.js'

/** A block of texts as places in the list of a column's different texts: one, two or four bytes a row. */
export interface DictionaryBlock {
  readonly kind: 'codes'
  codes: Uint8Array | Uint16Array | Uint32Array
  status: Uint8Array
}

/** Such a block with the list its places are of. */
export interface EncodedTexts extends DictionaryBlock {
  readonly texts: readonly string[]
}

/** Different texts are listed up to here; a column with more of them has too few repeated ones. */
const MOST_TEXTS = 1 << 20
/** New texts of a full block from which it is better kept as it is. */
const MANY_NEW = BLOCK_ROWS / 2
/** Blocks in a row that were kept as they are, after which no further one is tried. */
const MOST_TRIES = 4

/** The different texts of a column, each with its place. Place 0 is the empty text, which stands wherever there is none. */
export class TextDictionary {
  readonly #texts: string[] = ['']
  readonly #places: Map<string, number> = new Map([['', 0]])
  /** Whether the text at a place stands for a number, as far as that was asked. */
  readonly #isNumber: boolean[] = []
  #failures = 0

  /** How many different texts were listed. */
  get size(): number {
    return this.#texts.length
  }

  /** False once texts have turned out to repeat too seldom. */
  get isWorthwhile(): boolean {
    return this.#failures < MOST_TRIES && this.#texts.length < MOST_TEXTS
  }

  /** All listed texts by place. */
  all(): readonly string[] {
    return this.#texts
  }

  /** Takes a list over, in place of the empty one. */
  takeAll(texts: readonly string[]): void {
    for (const text of texts) this.placeOf(text)
  }

  /** The text at a place. */
  textAt(place: number): string {
    return this.#texts[place] as string
  }

  /** How many texts of a block stand for a number. */
  countNumbers({ codes }: DictionaryBlock, rowCount: number): number {
    let count = 0
    for (let row = 0; row < rowCount; row++) {
      const place = codes[row] as number
      const isNumber = this.#isNumber[place] ?? this.#lookAt(place)
      if (isNumber) count++
    }
    return count
  }

  #lookAt(place: number): boolean {
    const isNumber = isNumberText(this.#texts[place] as string)
    this.#isNumber[place] = isNumber
    return isNumber
  }

  /** The place of a text, which is listed if it is new. */
  placeOf(text: string): number {
    let place = this.#places.get(text)
    if (place === undefined) {
      place = this.#texts.push(text) - 1
      this.#places.set(text, place)
    }
    return place
  }

  /** A block of texts as places; null where most of them are new. */
  encode({ values, status }: TextVector): DictionaryBlock | null {
    const before = this.#texts.length
    const codes = new Uint32Array(values.length)
    for (let row = 0; row < values.length; row++) {
      codes[row] = this.placeOf(values[row] as string)
      if (this.#texts.length - before <= MANY_NEW) continue
      this.#failures++
      this.#forgetFrom(before)
      return null
    }
    this.#failures = 0
    const highest = this.#texts.length - 1
    return {
      kind: 'codes',
      codes: highest < 256 ? new Uint8Array(codes) : highest < 65_536 ? new Uint16Array(codes) : codes,
      status,
    }
  }

  #forgetFrom(size: number): void {
    for (const text of this.#texts.splice(size)) this.#places.delete(text)
    this.#isNumber.length = Math.min(this.#isNumber.length, size)
  }

  /** A block as texts. */
  decode({ codes, status }: DictionaryBlock): TextVector {
    const values = new Array<string>(codes.length)
    for (let row = 0; row < codes.length; row++) values[row] = this.#texts[codes[row] as number] as string
    return { kind: 'text', values, status, clean: false }
  }

  /** About what the texts listed take, with their list and its index. */
  byteLength(): number {
    let bytes = 0
    for (const text of this.#texts) bytes += bytesOfText(text) + BYTES_OF_PLACE
    return bytes
  }
}

/** What a listed text takes besides itself: its place in the list and in the index. */
const BYTES_OF_PLACE = 48
/** What a text takes besides its units. */
const BYTES_OF_HEADER = 16

/** About what a text takes: one byte a unit where all are below 256, else two, in words of eight. */
function bytesOfText(text: string): number {
  const bytes = /[^\0-\xff]/.test(text) ? text.length * 2 : text.length
  return BYTES_OF_HEADER + Math.ceil(bytes / 8) * 8
}

/** Writes a place into a block, with wider places if it needs them. */
export function putCode(block: DictionaryBlock, row: number, place: number): void {
  const { codes } = block
  const most = codes instanceof Uint8Array ? 0xff : codes instanceof Uint16Array ? 0xffff : 0xffff_ffff
  if (place > most) block.codes = place <= 0xffff ? Uint16Array.from(codes) : Uint32Array.from(codes)
  block.codes[row] = place
}

/** A copy of a block with room for `rowCount` rows; the rows added are blank. */
export function resizeCodes({ codes, status }: DictionaryBlock, rowCount: number): DictionaryBlock {
  const wider = new (codes.constructor as new (length: number) => DictionaryBlock['codes'])(rowCount)
  wider.set(codes.subarray(0, rowCount))
  const longer = new Uint8Array(rowCount).fill(1)
  longer.set(status.subarray(0, rowCount))
  return { kind: 'codes', codes: wider, status: longer }
}

/** About what texts beside the list take: a reference each, and what at most 64 sampled ones take. */
export function sampledTextBytes(values: readonly string[]): number {
  const step = Math.max(1, Math.floor(values.length / 64))
  let bytes = 0
  let sampled = 0
  for (let at = 0; at < values.length; at += step) {
    // One and the same empty text stands wherever there is none.
    if (values[at] !== '') bytes += bytesOfText(values[at] as string)
    sampled++
  }
  return values.length * 8 + Math.round((bytes * values.length) / Math.max(1, sampled))
}
