import { CellFault, type ColumnView, displayNumber, type ShownValue } from 'mellow-abacus'

/** A cell as the page shows it: text, and whether it is blank or an error. */
export interface CellText {
  readonly text: string
  readonly kind: 'value' | 'blank' | 'error' | 'misfit'
}

/** How a cell is shown: decimals are for the eye and never change the value. */
export function cellText(value: ShownValue | undefined, decimals: number | undefined): CellText {
  if (value === null || value === undefined) return { text: '', kind: 'blank' }
  if (value instanceof CellFault)
    return value.text === undefined ? { text: `!${value.code}`, kind: 'error' } : { text: value.text, kind: 'misfit' }
  if (value === '') return { text: '""', kind: 'value' }
  return { text: typeof value === 'number' ? numberText(value, decimals) : String(value), kind: 'value' }
}

/** A number with so many decimals, or to 15 digits when nothing is said. */
export function numberText(value: number, decimals: number | undefined): string {
  return decimals === undefined ? displayNumber(value) : formatFor(decimals).format(value)
}

const formats = new Map<number, Intl.NumberFormat>()

function formatFor(decimals: number): Intl.NumberFormat {
  const known = formats.get(decimals)
  if (known !== undefined) return known
  const format = new Intl.NumberFormat('en', {
    minimumFractionDigits: decimals,
    maximumFractionDigits: decimals,
    useGrouping: false,
  })
  formats.set(decimals, format)
  return format
}

/** True for columns whose cells are set to the right. */
export function isNumeric(column: ColumnView): boolean {
  return column.type === 'number' || column.type === 'integer'
}
