import type { ReadRows } from '@mellow-abacus/files'
import { type ColumnView, counted, isSameName, printName, type TableView } from 'mellow-abacus'
import { fileColumns, matchedRows, textOf } from './column-drift.js'

/** How the rows of a file have moved against those of the table that was read from it before. */
export interface RowDrift {
  /** Numbers of the rows of the table that the file has no more. */
  readonly gone: readonly number[]
  /** Rows of the file, from 0, whose key another row before them has. */
  readonly repeated: readonly number[]
  /** True where the rows that both have stand in another order in the file. */
  readonly isReordered: boolean
  /** Columns of the table's own that hold values, where rows are matched by their place alone. */
  readonly besides: readonly string[]
}

/**
 * Compares the rows of a table with those of a file.
 *
 * @param nameOf - what a column is called in the file, as far as that was said
 */
export function rowDrift(table: TableView, read: ReadRows, nameOf: (column: ColumnView) => string): RowDrift {
  const pairs = matchedRows(table, read, nameOf)
  const matched = new Set(pairs.map(([row]) => row))
  const gone = Array.from({ length: table.rowCount }, (_, row) => row).filter((row) => !matched.has(row))
  const inFile = [...pairs].sort(([, a], [, b]) => a - b).map(([row]) => row)
  const isReordered = inFile.some((row, index) => index > 0 && row < (inFile[index - 1] as number))
  const keys = keysIn(table, read, nameOf)
  return {
    gone: gone.map((row) => row + 1),
    repeated: keys === null ? [] : repeatedIn(keys),
    isReordered,
    besides: keys === null ? ownColumns(table) : [],
  }
}

/** The key of each row of the file; null where the table has none, or the file lacks a column of it. */
function keysIn(table: TableView, read: ReadRows, nameOf: (column: ColumnView) => string): string[] | null {
  const columns = (table.properties.key ?? []).map((name) => {
    const wanted = nameOf(table.column(name))
    return read.columns.find((one) => isSameName(one.name, wanted))?.column?.toJSON()
  })
  if (columns.length === 0 || columns.some((column) => column === undefined)) return null
  return Array.from({ length: read.rowCount }, (_, row) => JSON.stringify(columns.map((column) => textOf(column?.[row]))))
}

function repeatedIn(keys: readonly string[]): number[] {
  const seen = new Set<string>()
  return [...keys.keys()].filter((row) => {
    const key = keys[row] as string
    if (seen.has(key)) return true
    seen.add(key)
    return false
  })
}

function ownColumns(table: TableView): string[] {
  const known = new Set(fileColumns(table).map(({ name }) => name))
  return table.columns
    .filter(({ name, formula, properties }) => formula === null && properties.stamp === undefined && !known.has(name))
    .filter((column) => column.summary().values > 0)
    .map(({ name }) => name)
}

/** Rows that are listed by name. */
const MOST_NAMED = 5

/** What has moved, for the reader; nothing where all is the same. */
export function rowDriftText(
  table: TableView,
  read: ReadRows,
  { gone, repeated, isReordered, besides }: RowDrift,
  { gone: fate, repeated: copies, order }: { readonly gone?: string; readonly repeated?: string; readonly order?: string },
  book: string,
): string {
  const name = printName(table.name)
  const lines: string[] = []
  if (gone.length > 0) {
    const rows = `${counted(gone.length, 'row')} that the file has no more: ${listed(gone.map((row) => rowName(table, row)))}`
    lines.push(fate === 'keep' ? `${rows}; kept` : `${rows}; ${gone.length === 1 ? 'it goes' : 'they go'} (to keep: --gone keep)`)
  }
  if (repeated.length > 0) {
    const key = (table.properties.key ?? []).map((one) => printName(one)).join(', ')
    const rows = `${counted(repeated.length, 'row')} of the file with a ${key} that a row before has: ${listed(repeated.map((row) => `row ${row + 1}, ${keyText(table, read, row)}`))}`
    lines.push(copies === 'drop' ? `${rows}; left out` : `${rows}; rows of their own (to leave out: --repeated drop)`)
  }
  if (isReordered && order !== 'file')
    lines.push(
      'rows stand in another order in the file, and stay as they are here, which functions of neighbouring rows go by (to take it: --order file)',
    )
  if (besides.length > 0)
    lines.push(
      `rows are matched by their place, so what was typed in ${besides.map((one) => printName(one)).join(', ')} may stand beside another row (by a key: mellow describe ${book} ${name} --key <column>)`,
    )
  return lines.map((line) => `${name}: ${line}\n`).join('')
}

function listed(names: readonly string[]): string {
  const more = names.length - MOST_NAMED
  return `${names.slice(0, MOST_NAMED).join('; ')}${more > 0 ? `; and ${more} more` : ''}`
}

/** A row by its label or its key, where the table has one. */
function rowName(table: TableView, row: number): string {
  const { label, key } = table.properties
  const columns = label === null ? (key ?? []) : [label]
  const id = table.idAt(row)
  const values = columns.map((name) => (id === undefined ? '' : String(table.column(name).value(id) ?? 'blank')))
  return values.length === 0 ? `row ${row}` : `row ${row}, ${values.join(' ')}`
}

function keyText(table: TableView, read: ReadRows, row: number): string {
  const key = table.properties.key ?? []
  return key
    .map((name) => textOf(read.columns.find((one) => isSameName(one.name, name))?.column?.toJSON()[row]) ?? 'blank')
    .join(' ')
}
