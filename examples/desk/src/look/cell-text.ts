import type { ColumnFacts, SessionCells, SessionValue } from '@mellow-abacus/session'
import { displayNumber, displayOf, type Scalar, tidyDecimalsFor, type ValueType } from 'mellow-abacus/display'

/** A cell as the page shows it: text, and whether it is blank or an error. */
export interface CellText {
  readonly text: string
  readonly kind: 'value' | 'blank' | 'error' | 'misfit'
}

/** How values of a column are shown: it is for the eye and never changes a value. */
export interface Look {
  readonly type: ValueType | null
  readonly display?: string
  /** As they are, where nothing is said. */
  readonly decimals?: number
}

const MS_PER_DAY = 86_400_000

/** How a cell is shown. */
export function cellText(value: SessionValue | undefined, look: Look): CellText {
  if (value === null || value === undefined) return { text: '', kind: 'blank' }
  if (typeof value === 'object')
    return 'misfit' in value ? { text: value.misfit, kind: 'misfit' } : { text: `!${value.error}`, kind: 'error' }
  if (value === '') return { text: '""', kind: 'value' }
  return { text: printed(value, look), kind: 'value' }
}

/** All of a value: what someone asks for who rests on a cell. */
export function fullText(value: SessionValue | undefined): string {
  return typeof value === 'number' ? displayNumber(value) : cellText(value, { type: null }).text
}

function printed(value: number | string | boolean, { type, display, decimals }: Look): string {
  if (display === undefined && decimals === undefined) return typeof value === 'number' ? displayNumber(value) : String(value)
  if (type === 'date' || type === 'datetime') {
    const time = Date.parse(type === 'date' ? `${value}T00:00:00Z` : `${value}Z`)
    return printerOf({ type, ...(display !== undefined && { display }) })(type === 'date' ? time / MS_PER_DAY : time)
  }
  if (typeof value !== 'number') return String(value)
  return printerOf({
    type: 'number',
    ...(display !== undefined && { display }),
    ...(decimals !== undefined && { decimals }),
  })(value)
}

const printers = new Map<string, (value: Scalar) => string>()

function printerOf({ type, ...properties }: Look): (value: Scalar) => string {
  const key = JSON.stringify([type, properties])
  const known = printers.get(key)
  if (known !== undefined) return known
  const print = displayOf({ type, properties }, 'en') ?? ((one: Scalar) => String(one))
  printers.set(key, print)
  return print
}

/** True for columns whose cells are set to the right. */
export function isNumeric({ type }: Pick<ColumnFacts, 'type'>): boolean {
  return type === 'number' || type === 'integer'
}

/** How the cells of a column are shown: as it is said of it, or with as many decimals as its typical value asks for. */
export function lookOf(column: ColumnFacts, sample: readonly SessionCells[]): Look {
  const { display, decimals } = column.properties as { display?: string; decimals?: number }
  const isSaid = display !== undefined || decimals !== undefined
  const tidy = isSaid || column.type !== 'number' ? undefined : tidyDecimals(column, sample)
  const places = decimals ?? tidy ?? (display === 'percent' ? 1 : undefined)
  return { type: column.type, ...(display !== undefined && { display }), ...(places !== undefined && { decimals: places }) }
}

function tidyDecimals({ name, calculated }: ColumnFacts, sample: readonly SessionCells[]): number | undefined {
  const sizes = sample.flatMap((cells) => {
    const value = cells[name]
    return typeof value === 'number' ? [Math.abs(value)] : []
  })
  return sizes.length === 0 ? undefined : tidyDecimalsFor(sizes, calculated)
}

const COUNTS = new Intl.NumberFormat('en')
/** A count as it is read. */
export const counted = (count: number): string => COUNTS.format(count)
/** A count with what is counted. */
export const countedOf = (count: number, one: string, many = `${one}s`): string => `${counted(count)} ${count === 1 ? one : many}`
