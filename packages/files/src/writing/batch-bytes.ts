import { printNumber } from 'mellow-abacus/storage'

const ZERO = 48
/** Whole numbers up to here are put out digit by digit with 32-bit arithmetic. */
const LARGEST_SMALL = 2 ** 31 - 1

/**
 * Collects cells as UTF-8 bytes. Numbers with few decimals, and texts in ASCII, are put out byte by byte: making a string of
 * each cell and encoding the whole takes twice as long (bench: calc).
 */
export class BatchBytes {
  #bytes: Uint8Array = new Uint8Array(1 << 20)
  #at = 0
  readonly #encoder = new TextEncoder()

  /** Makes room for so many bytes. */
  #reserve(more: number): void {
    if (this.#at + more <= this.#bytes.length) return
    const grown = new Uint8Array(Math.max(this.#bytes.length * 2, this.#at + more))
    grown.set(this.#bytes.subarray(0, this.#at))
    this.#bytes = grown
  }

  /** Adds one ASCII sign. */
  sign(code: number): void {
    this.#reserve(1)
    this.#bytes[this.#at++] = code
  }

  /** Adds a text. */
  text(text: string): void {
    const { length } = text
    // A UTF-16 unit takes at most three bytes.
    this.#reserve(length * 3)
    const bytes = this.#bytes
    const from = this.#at
    for (let index = 0; index < length; index++) {
      const unit = text.charCodeAt(index)
      if (unit > 127) {
        this.#at = from + this.#encoder.encodeInto(text, bytes.subarray(from)).written
        return
      }
      bytes[from + index] = unit
    }
    this.#at = from + length
  }

  /** Adds a finite number as the shortest text that reads back equal, exactly as `printNumber` has it. */
  number(value: number): void {
    const size = value < 0 ? -value : value
    if (size > LARGEST_SMALL) return this.text(printNumber(value))
    const whole = Math.floor(size)
    if (whole === size) {
      if (value < 0) this.sign(45)
      return this.#digits(whole, 1)
    }
    if (size < 1e-3 || size > 200_000) return this.text(printNumber(value))
    for (let decimals = 1, ten = 10; decimals <= 4; decimals++, ten *= 10) {
      const scaled = Math.round(size * ten)
      if (scaled / ten !== size) continue
      if (value < 0) this.sign(45)
      this.#digits(Math.floor(scaled / ten), 1)
      this.sign(46)
      return this.#digits(scaled % ten, decimals)
    }
    // More decimals than that: the shortest text is the engine's to find.
    this.text(String(value))
  }

  /** Adds a whole number below 2^31 with at least so many digits. */
  #digits(whole: number, least: number): void {
    this.#reserve(10)
    let rest = whole | 0
    let length = 1
    for (let limit = 10; limit <= rest && length < 10; limit *= 10) length++
    if (length < least) length = least
    const bytes = this.#bytes
    for (let place = this.#at + length - 1; place >= this.#at; place--) {
      const next = (rest / 10) | 0
      bytes[place] = ZERO + rest - next * 10
      rest = next
    }
    this.#at += length
  }

  /** What was collected since the last call; the bytes are written over by what is collected next. */
  take(): Uint8Array {
    const taken = this.#bytes.subarray(0, this.#at)
    this.#at = 0
    return taken
  }
}
