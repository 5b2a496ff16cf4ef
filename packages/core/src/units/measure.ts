import { isCurrency } from './currencies.js'
import { isWord, symbolCode } from './spellings.js'
import { isPlainSymbol, type Unit } from './unit.js'
import { unitTables } from './unit-tables.js'

/** What is measured, as powers of base quantities, and how large the unit is among those of its kind. */
export interface Measure {
  /** Powers by base quantity: `time`, `mass`, a currency such as `¤EUR`, a word that is no unit such as `word:frame`. */
  readonly kind: ReadonlyMap<string, number>
  /** One of the unit in base units. */
  readonly size: number
  /** What zero of the unit is in base units: 273.15 for °C. */
  readonly zero: number
}

/** Base quantities in the order of the package; a plane angle is a plain number, as in the SI. */
const BASES = ['length', 'time', 'mass', null, 'temperature', 'charge', 'luminous intensity'] as const

const NONE: Measure = { kind: new Map(), size: 1, zero: 0 }
const known = new Map<string, Measure>()

/** What a unit measures; null while nothing is known of units because what knows them is not loaded. */
export function measureOf({ factors, isDifference }: Unit): Measure | null {
  if (factors.length === 1 && factors[0]?.power === 1) {
    const own = measureOfSymbol(factors[0].symbol)
    return own === null || isDifference !== true ? own : { ...own, zero: 0 }
  }
  const kind = new Map<string, number>()
  let size = 1
  for (const { symbol, power } of factors) {
    const own = measureOfSymbol(symbol)
    if (own === null) return null
    for (const [base, of] of own.kind) kind.set(base, (kind.get(base) ?? 0) + of * power)
    size *= own.size ** power
  }
  for (const [base, power] of kind) if (Math.abs(power) < 1e-9) kind.delete(base)
  return { kind, size, zero: 0 }
}

/** True when two measures are of one kind. */
export function isSameKind({ kind: left }: Measure, { kind: right }: Measure): boolean {
  return left.size === right.size && [...left].every(([base, power]) => Math.abs((right.get(base) ?? 0) - power) < 1e-9)
}

/** True when two sizes are the same but for rounding. */
export function isSameSize(left: number, right: number): boolean {
  return Math.abs(left - right) <= 1e-12 * Math.abs(right)
}

function measureOfSymbol(symbol: string): Measure | null {
  const code = symbolCode(symbol)
  const found = known.get(code)
  if (found !== undefined) return found
  const made = newMeasure(symbol, code)
  if (made !== null) known.set(code, made)
  return made
}

function newMeasure(symbol: string, code: string): Measure | null {
  if (symbol.startsWith('{') || (isPlainSymbol(symbol) && code !== '%' && !code.includes('*') && !code.includes('['))) return NONE
  if (isCurrency(code)) return { kind: new Map([[`¤${code}`, 1]]), size: 1, zero: 0 }
  const word: Measure = { kind: new Map([[`word:${code}`, 1]]), size: 1, zero: 0 }
  if (isWord(code)) return word
  const tables = unitTables()
  if (tables === null) return null
  const { unit, retMsg } = tables.getSpecifiedUnit(code, 'validate', false)
  // A code that was guessed at is not what is written.
  if (unit === null || retMsg.length > 0) return word
  const kind = new Map<string, number>()
  for (const [index, power] of (unit.dim_?.dimVec_ ?? []).entries()) {
    const base = BASES[index] ?? null
    if (base !== null && power !== 0) kind.set(base, power)
  }
  if (unit.cnv_ === null) return { kind, size: unit.magnitude_, zero: 0 }
  // Temperatures have a zero of their own; what is a logarithm is left as a word, since no factor converts it.
  const zero = tables.convertUnitTo(code, 0, 'K').toVal
  const one = tables.convertUnitTo(code, 1, 'K').toVal
  return zero === null || one === null ? word : { kind, size: unit.magnitude_, zero }
}
