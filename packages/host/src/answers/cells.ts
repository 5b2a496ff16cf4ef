import { type SessionCells, sessionValue } from '@mellow-abacus/session'
import type { ColumnView } from 'mellow-abacus'
import { recordOf } from './carried.js'

/** The cells of a row in some columns. */
export function cellsOf(columns: readonly ColumnView[], id: number): SessionCells {
  return recordOf(columns.map((column) => [column.name, sessionValue(column.value(id) ?? null)]))
}
