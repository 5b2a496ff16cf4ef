import type { Operation, ReadonlyColumn } from 'mellow-abacus'
import type { ReadRows } from './table-reader.js'

/** What makes a table of a file in a workbook, with the types that were found or said. */
export function tableOperations(table: string, read: ReadRows): Operation[] {
  const columns = read.columns.map(({ name, column }) => ({ name, ...(column !== null && { type: column.type }) }))
  return [
    { op: 'add-table', table, columns },
    { op: 'insert-rows', table, ...rowsOfFile(read) },
  ]
}

/** The rows of a file as an insertion takes them. */
export function rowsOfFile(read: ReadRows): {
  readonly block: Readonly<Record<string, ReadonlyColumn>>
  readonly count: number
} {
  const block = Object.fromEntries(read.columns.flatMap(({ name, column }) => (column === null ? [] : [[name, column]])))
  return { block, count: read.rowCount }
}
