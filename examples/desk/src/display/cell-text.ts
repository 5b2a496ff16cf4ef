import { CellFault, type ColumnView, displayNumber, displayOf, type Scalar, type ShownValue } from 'mellow-abacus'

/** A cell as the page shows it: text, and whether it is blank or an error. */
export interface CellText {
  readonly text: string
  readonly kind: 'value' | 'blank' | 'error' | 'misfit'
}

/** How numbers of a column are shown: it is for the eye and never changes a value. */
export interface NumberLook {
  readonly display?: string | undefined
  /** As they are, where nothing is said. */
  readonly decimals?: number | undefined
}

/** How a cell is shown. */
export function cellText(value: ShownValue | undefined, look: NumberLook): CellText {
  if (value === null || value === undefined) return { text: '', kind: 'blank' }
  if (value instanceof CellFault)
    return value.text === undefined ? { text: `!${value.code}`, kind: 'error' } : { text: value.text, kind: 'misfit' }
  if (value === '') return { text: '""', kind: 'value' }
  return { text: typeof value === 'number' ? numberText(value, look) : String(value), kind: 'value' }
}

/** All of a value: what a reader asks for who rests on a cell. */
export function fullText(value: ShownValue | undefined): string {
  return typeof value === 'number' ? displayNumber(value) : cellText(value, {}).text
}

/** A number as its column shows it, or to 15 digits when nothing is said. */
export function numberText(value: number, { display, decimals }: NumberLook): string {
  if (display === undefined && decimals === undefined) return displayNumber(value)
  const key = `${decimals ?? ''} ${display ?? ''}`
  const known = printers.get(key)
  if (known !== undefined) return known(value)
  const properties = { ...(display !== undefined && { display }), ...(decimals !== undefined && { decimals }) }
  const print = displayOf({ type: 'number', properties }, 'en') ?? ((one: Scalar) => String(one))
  printers.set(key, print)
  return print(value)
}

const printers = new Map<string, (value: Scalar) => string>()

/** True for columns whose cells are set to the right. */
export function isNumeric(column: ColumnView): boolean {
  return column.type === 'number' || column.type === 'integer'
}
