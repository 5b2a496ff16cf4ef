import type { QueryColumn } from 'mellow-abacus'

/** A column as far as its title goes. */
type Quantity = Pick<QueryColumn, 'unit' | 'properties'>

/** What stands at an axis of one quantity: `height h (m)`, from its heading or name, its symbol and its unit. */
export function quantityTitle(name: string, { unit, properties: { symbol, heading } }: Quantity): string {
  const called = heading ?? name
  const sign = symbol === undefined || symbol === called ? '' : ` ${symbol}`
  return `${called}${sign}${unit === null ? '' : ` (${unit})`}`
}

/** How numbers of a column stand at an axis and beside the pointer, as d3 writes formats. */
export function numberFormat({ properties: { display, decimals } }: QueryColumn): string {
  if (display === 'percent') return decimals === undefined ? ',.1~%' : `,.${decimals}%`
  if (decimals !== undefined) return `,.${decimals}f`
  return display?.startsWith('currency:') === true ? ',.2f' : ',.6~r'
}

/** How numbers stand at an axis; null for as many digits as its steps need. */
export function axisFormat({ properties: { display } }: QueryColumn): string | null {
  return display === 'percent' ? '~%' : null
}
