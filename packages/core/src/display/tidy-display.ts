import type { ReadonlyColumn } from '../columns/index.js'
import { compileNumberPattern, printNumber, type Scalar } from '../values/index.js'
import { type Displayed, displayOf } from './display.js'

/** A column with its cells, as far as showing them goes. */
export interface DisplayedCells extends Displayed {
  readonly calculated: boolean
  readonly storage: ReadonlyColumn | undefined
}

/** Significant digits of the typical value that are shown. */
const SHOWN_DIGITS = 6
/** Decimals that what was typed or read may have without being taken for noise. */
const TYPED_DECIMALS = 4
/** Beyond so many decimals numbers are shown as they are. */
const MOST_DECIMALS = 12
/** Slots looked at besides those of the rows shown: the first ones, so that a workbook in a file need not read all. */
const SAMPLED = 1024

/**
 * How the cells of a column are shown to people where nothing is said about it: numbers with the same decimals in the whole
 * column, as many as show six significant digits of the typical value (the median of the absolute values), and no more than
 * the values have. What was typed or read keeps all its decimals, up to four. Percent has one decimal. It is a matter of showing alone.
 *
 * @param slots - the rows that are shown
 * @returns null where the column is to be shown in a way there is not
 */
export function tidyDisplayOf(column: DisplayedCells, slots: Int32Array, locale: string): ((value: Scalar) => string) | null {
  const { type, properties } = column
  const decimals = tidyDecimalsOf(column, slots)
  if (decimals === undefined || properties.decimals !== undefined) return displayOf(column, locale)
  if (properties.display !== undefined) return displayOf({ type, properties: { display: properties.display, decimals } }, locale)
  const print = compileNumberPattern(decimals === 0 ? '0' : `0.${'0'.repeat(decimals)}`, 'en')
  return print === null ? null : (value) => (typeof value === 'number' ? print.print(value) : String(value))
}

/**
 * The decimals that the numbers of a column are shown with: those said of it, or the tidy ones of `tidyDisplayOf`.
 *
 * @returns undefined for numbers shown as they are, and for anything else than numbers
 */
export function tidyDecimalsOf(column: DisplayedCells, slots: Int32Array): number | undefined {
  const { type, properties } = column
  if (type !== 'number' && type !== 'integer') return undefined
  if (properties.decimals !== undefined) return properties.decimals
  if (properties.display !== undefined) return properties.display === 'percent' ? 1 : undefined
  return tidyDecimals(column, slots) ?? undefined
}

/** Decimals for a whole column; null for numbers shown as they are. */
function tidyDecimals({ storage, calculated }: DisplayedCells, slots: Int32Array): number | null {
  if (storage === undefined) return null
  const sizes: number[] = []
  const look = (slot: number): void => {
    const cell = storage.read(slot)
    if (typeof cell === 'number') sizes.push(Math.abs(cell))
  }
  for (const slot of slots) look(slot)
  const first = Math.min(SAMPLED, storage.valueCount + storage.blankCount + storage.faultCount())
  for (let slot = 0; slot < first; slot++) look(slot)
  return tidyDecimalsFor(sizes, calculated) ?? null
}

/**
 * Decimals that some numbers are shown with, where nothing is said of them.
 *
 * @param sizes - their absolute values; put in order
 * @param calculated - whether they were calculated: what was typed or read keeps its decimals
 * @returns undefined for numbers shown as they are
 */
export function tidyDecimalsFor(sizes: number[], calculated: boolean): number | undefined {
  const had = mostDecimals(sizes)
  if (had === 0 || (!calculated && had <= TYPED_DECIMALS)) return had === 0 ? undefined : had
  const typical = sizes.sort((a, b) => a - b)[sizes.length >> 1] || (sizes.at(-1) as number)
  const room = Math.max(0, SHOWN_DIGITS - (Math.floor(Math.log10(typical)) + 1))
  // What a sum of decimals has behind all that is shown is no reason for zeros.
  return room > MOST_DECIMALS ? undefined : mostDecimals(sizes.map((size) => Number(size.toFixed(room))))
}

function mostDecimals(sizes: readonly number[]): number {
  return sizes.reduce((most, size) => Math.max(most, decimalsOf(size)), 0)
}

/** Decimals of the shortest text that reads back as a number. */
function decimalsOf(size: number): number {
  const [digits = '', exponent = '0'] = printNumber(size).split('e')
  const point = digits.indexOf('.')
  return Math.max(0, (point < 0 ? 0 : digits.length - point - 1) - Number(exponent))
}
