import type { ColumnFacts, SessionValue } from '@mellow-abacus/session'
import { printName } from 'mellow-abacus/display'
import { cellText, counted, isNumeric, type Look } from '../look/cell-text'

/** A total that the beam can show under a column. */
export type Total = 'sum' | 'mean' | 'least' | 'greatest' | 'values' | 'different' | 'share' | 'none'

/** What a total is called. */
export const TOTAL_NAMES: Readonly<Record<Total, string>> = {
  sum: 'sum',
  mean: 'mean',
  least: 'smallest',
  greatest: 'largest',
  values: 'values',
  different: 'different values',
  share: 'share of true',
  none: 'nothing',
}

/** Units of which a sum says something: what is counted, weighed or measured piece by piece, and money. */
const ADDABLE = /^(?:[mkµ]?g|t|[mcdkµ]?[lL]|[mck]?m[²³]?|k?Wh|k?J|min|h|s|d|frames|jars|pieces|count|€|\$|£|EUR|USD|GBP)$/

/** The totals that a column can have. */
export function totalsOf(column: ColumnFacts): Total[] {
  if (isNumeric(column)) return ['sum', 'mean', 'least', 'greatest', 'values', 'none']
  if (column.type === 'boolean') return ['share', 'values', 'none']
  if (column.type === 'date' || column.type === 'datetime') return ['least', 'greatest', 'different', 'values', 'none']
  return ['different', 'values', 'none']
}

/** The total that a column has unless another is chosen: a sum only where its unit can be added up. */
export function usualTotal(column: ColumnFacts): Total {
  const { unit } = column
  const { display } = column.properties as { display?: string }
  if (column.type === 'boolean') return 'share'
  if (column.type === 'date' || column.type === 'datetime') return 'greatest'
  if (!isNumeric(column)) return 'different'
  if (display?.startsWith('currency:') === true) return 'sum'
  if (unit === null) return column.type === 'integer' && !column.calculated ? 'sum' : 'none'
  return ADDABLE.test(unit) ? 'sum' : 'mean'
}

/** The formula of a total; errors are left out, and counted beside it. */
export function totalFormula(total: Total, name: string): string {
  const column = printName(name)
  const good = `${column} where not (${column} is error)`
  switch (total) {
    case 'sum':
      return `sum(${good})`
    case 'mean':
      return `mean(${good})`
    case 'least':
      return `min(${good})`
    case 'greatest':
      return `max(${good})`
    case 'different':
      return `count_distinct(${good})`
    case 'share':
      return `count(where ${column}) per count(${good})`
    default:
      return `count(${good})`
  }
}

/** The formula that counts the errors of a column. */
export const errorsFormula = (name: string): string => `count(where ${printName(name)} is error)`

/** Significant digits of a mean: more say nothing below a column of values that are known to fewer. */
const MEAN_DIGITS = 4

function shortened(value: number, look: Look): Look {
  const digits = value === 0 ? 0 : Math.max(0, MEAN_DIGITS - 1 - Math.floor(Math.log10(Math.abs(value))))
  return { ...look, decimals: Math.min(look.decimals ?? digits, digits) }
}

/** A total as it is shown under its column. */
export function totalText(total: Total, value: SessionValue | undefined, look: Look, unit: string | null): string {
  if (total === 'none' || value === undefined) return ''
  if (total === 'different' || total === 'values') return typeof value === 'number' ? counted(value) : ''
  if (total === 'share') return typeof value === 'number' ? `${(100 * value).toFixed(0)} %` : ''
  const isPlain = total === 'sum' && look.display === undefined
  const shown = total === 'mean' && look.display === undefined && typeof value === 'number' ? shortened(value, look) : look
  const text = isPlain && typeof value === 'number' ? counted(value) : cellText(value, shown).text
  return unit === null || text === '' ? text : `${text} ${unit}`
}
