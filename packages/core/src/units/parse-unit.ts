import { RAISED } from './print-unit.js'
import { powerOf, productOf, quotientOf, type Unit } from './unit.js'

const known = new Map<string, Unit | null>()
/** So many units are remembered; a book has far fewer. */
const MOST_KNOWN = 1000

/**
 * Reads a unit as people and UCUM write it: `kg`, `m/s²`, `m/s2`, `kg·m/s^2`, `kg per hive`, `EUR/(h·frame)`. What cannot be read is
 * a unit all the same, one of which nothing is known but its spelling; an empty text is none.
 */
export function parseUnit(text: string): Unit | null {
  const found = known.get(text)
  if (found !== undefined) return found
  const written = text.normalize('NFC').trim()
  const unit = written === '' ? null : { ...(productIn(written) ?? { factors: [{ symbol: written, power: 1 }] }), written }
  if (known.size >= MOST_KNOWN) known.clear()
  known.set(text, unit)
  return unit
}

/** One sign, word, bracket, `{…}` or `[…]` of a unit. */
const PART =
  /\s+per\s+|\s*[·⋅.*×/]\s*|[()]|(?:\{[^{}]*\}|\[[^[\]]*\]|[\p{L}\p{Sc}%‰°℃℉′″'_µ])+|\^\(?-?\d+(?:\/\d+)?\)?|[⁻⁺]?[⁰¹²³⁴⁵⁶⁷⁸⁹]+|-?\d+/guy

function productIn(text: string): Unit | null {
  const parts: string[] = []
  PART.lastIndex = 0
  while (PART.lastIndex < text.length) {
    const part = PART.exec(text)
    if (part === null) return null
    parts.push(part[0].trim())
  }
  const reader = new Reader(parts)
  const unit = reader.product()
  return unit === null || !reader.isDone ? null : unit
}

class Reader {
  readonly #parts: readonly string[]
  #at = 0

  constructor(parts: readonly string[]) {
    this.#parts = parts
  }

  get isDone(): boolean {
    return this.#at === this.#parts.length
  }

  /** A product, left to right as in UCUM: `a/b.c` is `(a/b)·c`. */
  product(): Unit | null {
    let unit: Unit | null = { factors: [] }
    let sign = '·'
    // UCUM begins with a stroke where nothing stands above it.
    if (this.#parts[this.#at] === '/') {
      sign = '/'
      this.#at++
    }
    for (;;) {
      const power = this.#power()
      if (unit === null || power === null) return null
      unit = sign === '/' || sign === 'per' ? quotientOf(unit, power) : productOf(unit, power)
      const next = this.#parts[this.#at]
      if (next === undefined || next === ')') return unit
      if (!/^(?:[·⋅.*×/]|per)$/.test(next)) return null
      sign = next
      this.#at++
    }
  }

  #power(): Unit | null {
    const base = this.#base()
    const next = this.#parts[this.#at]
    if (base === null || next === undefined) return base
    const exponent = exponentIn(next)
    if (exponent === null) return base
    // A figure behind capitals is a part of the word: CO2, H1.
    if (/^-?\d/.test(next) && !/^\p{Ll}+$/u.test(this.#parts[this.#at - 1] ?? '') && this.#parts[this.#at - 1] !== ')')
      return null
    this.#at++
    return powerOf(base, exponent)
  }

  #base(): Unit | null {
    const part = this.#parts[this.#at]
    if (part === undefined) return null
    this.#at++
    if (part === '1') return { factors: [] }
    if (part === '(') {
      const inner = this.product()
      if (inner === null || this.#parts[this.#at] !== ')') return null
      this.#at++
      return inner
    }
    return /^[\p{L}\p{Sc}%‰°℃℉′″'_µ{[]/u.test(part) ? { factors: [{ symbol: part, power: 1 }] } : null
  }
}

/** The exponent that a part of a unit is, or null. */
function exponentIn(part: string): number | null {
  if (/^-?\d+$/.test(part)) return Number(part)
  if (part.startsWith('^')) {
    const [top, bottom = '1'] = part.replace(/[\^()]/g, '').split('/')
    return Number(top) / Number(bottom)
  }
  if (!/^[⁻⁺]?[⁰¹²³⁴⁵⁶⁷⁸⁹]+$/.test(part)) return null
  return Number([...part].map((one) => (one === '⁻' ? '-' : one === '⁺' ? '' : String(RAISED.indexOf(one)))).join(''))
}
