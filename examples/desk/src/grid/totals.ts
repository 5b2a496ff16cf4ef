import { type ColumnView, displayScalar, type Scalar, type Summary } from 'mellow-abacus'
import { isNumeric, type NumberLook, numberText } from '../display/cell-text'

/** What the totals line can show. */
export const TOTALS = ['sum', 'mean', 'smallest', 'largest', 'filled'] as const

/** One of them. */
export type Total = (typeof TOTALS)[number]

/** The totals line's cell of a column; empty where that total means nothing. */
export function totalText(total: Total, column: ColumnView, summary: Summary, look: NumberLook): string {
  if (total === 'filled') return `${summary.values.toLocaleString('en')} of ${summary.rows.toLocaleString('en')}`
  if (summary.fault !== null && hasTotals(column)) return `!${summary.fault}`
  if (total === 'sum' || total === 'mean') {
    const value = total === 'sum' ? summary.sum : summary.mean
    return value === null || !isNumeric(column) ? '' : numberText(value, look)
  }
  const value = total === 'smallest' ? summary.min : summary.max
  if (value === null || !hasTotals(column)) return ''
  return typeof value === 'number' && isNumeric(column) ? numberText(value, look) : dateText(value, column)
}

function hasTotals(column: ColumnView): boolean {
  return column.type !== 'text' && column.type !== 'boolean' && column.type !== null
}

function dateText(value: Scalar, column: ColumnView): string {
  return displayScalar(value, column.type ?? 'text')
}
