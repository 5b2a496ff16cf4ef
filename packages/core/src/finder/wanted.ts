import { parseDateText, parseDateTimeText, parseNumberText, type ValueType } from '../values/index.js'

/** A value that is wanted in the row of an example, as it was given; null for a blank. */
export type WantedValue = number | string | boolean | null

/** Wanted values understood as values of one type; null where a blank is wanted. */
export interface Reading {
  readonly type: 'number' | 'text' | 'boolean' | 'date' | 'datetime'
  /** Numbers (days and milliseconds for dates), texts or truth values. */
  readonly values: readonly (number | string | boolean | null)[]
  /** For numbers, half of the last digit that was typed: what is nearer than that is what was meant. */
  readonly halves: readonly number[]
}

/** The ways to understand wanted values: text that looks like a number may be one, or be text. */
export function readingsOf(wanted: readonly WantedValue[]): Reading[] {
  const filled = wanted.filter((value) => value !== null)
  if (filled.length === 0) return []
  if (filled.every((value) => typeof value === 'number')) return [numbersOf(wanted)]
  if (filled.every((value) => typeof value === 'boolean')) return [plain('boolean', wanted)]
  const texts = wanted.map((value) => (value === null ? null : String(value)))
  const readings = [plain('text', texts)]
  const read = (parse: (text: string) => number): (number | null)[] | null => {
    const parsed = texts.map((text) => (text === null || text.trim() === '' ? null : parse(text.trim())))
    return parsed.some((value) => value !== null && !Number.isFinite(value)) ? null : parsed
  }
  // Digits with a zero before them are a code.
  if (read(parseNumberText) !== null && !texts.some((text) => text !== null && /^\s*[-+]?0\d/.test(text)))
    readings.push(numbersOf(texts))
  const days = read(parseDateText)
  if (days !== null) readings.push(plain('date', days))
  const moments = days === null ? read((text) => parseDateTimeText(text)) : null
  if (moments !== null) readings.push(plain('datetime', moments))
  if (texts.every((text) => text === null || /^(?:true|false)$/i.test(text)))
    readings.push(
      plain(
        'boolean',
        texts.map((text) => (text === null ? null : text.toLowerCase() === 'true')),
      ),
    )
  return readings
}

/** True when a value is the one that is wanted: numbers at the digits typed, and nothing where an empty text or nothing is. */
export function isWanted(reading: Reading, at: number, value: number | string | boolean | null): boolean {
  const wanted = reading.values[at] ?? null
  if (wanted === null || wanted === '') return value === null || value === ''
  if (value === null) return false
  if (typeof wanted === 'number' && typeof value === 'number') return isNear(value, wanted, reading.halves[at] ?? 0)
  return value === wanted
}

/** True when two numbers are the same at the digits typed. */
export function isNear(value: number, wanted: number, half: number): boolean {
  return Math.abs(value - wanted) <= half * (1 + 1e-9) + Math.abs(wanted) * 1e-12
}

function plain(type: ValueType & Reading['type'], values: Reading['values']): Reading {
  return { type, values, halves: values.map(() => 0) }
}

function numbersOf(wanted: readonly WantedValue[]): Reading {
  const texts = wanted.map((value) => (value === null ? null : String(value)))
  return {
    type: 'number',
    values: texts.map((text) => (text === null ? null : Number(text))),
    halves: texts.map((text) => (text === null ? 0 : 0.5 * 10 ** -decimalsOf(text))),
  }
}

/** How many decimals a number was typed with: 2 of `14.20`, −3 of `5e3`. */
function decimalsOf(text: string): number {
  const [digits = '', exponent = '0'] = text.toLowerCase().split('e')
  return (digits.split('.')[1]?.length ?? 0) - Number(exponent)
}
