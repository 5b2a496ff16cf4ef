import type { ColumnView } from 'mellow-abacus'
import { isNumeric } from '../display/cell-text'

/** Width of a column in pixels: its heading, and of texts what the first rows hold. */
export function widthOf(column: ColumnView): number {
  const texts = column.type === 'text' ? column.sample(40).map((value) => String(value ?? '').length) : []
  const longest = Math.min(28, Math.max(0, ...texts))
  const name = (column.properties.heading ?? column.name).length + (column.properties.unit?.length ?? 0)
  return Math.max(isNumeric(column) ? 84 : 112, 34 + Math.ceil(name * 8), 20 + longest * 7)
}
