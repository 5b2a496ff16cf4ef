import { type CellReading, type DeclaredType, readCell } from '@mellow-abacus/files'
import { type CellValue, nearestName, printName, type TableView, type WorkbookView } from 'mellow-abacus'
import { CommandRefusal, UsageFault } from '../shell/index.js'

/**
 * The row that a text names: its number now, `id:12`, or `label=Hive 7`.
 *
 * @throws CommandRefusal when there is none, or several
 */
export function rowOf(table: TableView, text: string): number {
  if (/^\d+$/.test(text)) {
    const id = table.idAt(Number(text))
    if (id !== undefined) return id
    throw new CommandRefusal(`${table.name} has ${table.rowCount} rows, so there is no row ${text}.`)
  }
  if (/^id:\d+$/.test(text)) {
    const id = Number(text.slice(3))
    if (table.hasRow(id)) return id
    throw new CommandRefusal(`${table.name} has no row with id ${id}.`)
  }
  const label = text.startsWith('label=') ? text.slice(6) : undefined
  if (label === undefined) throw new UsageFault(`a row is its number, id:12 or label=text, not ${JSON.stringify(text)}.`)
  return rowOfLabel(table, table.rowIds(), label)
}

function rowOfLabel(table: TableView, ids: readonly number[], label: string): number {
  const column = table.properties.label
  if (column === null)
    throw new CommandRefusal(
      `${table.name} has no label column. Give it one: mellow describe <book> ${table.name} --label <column>`,
    )
  const labels = table.column(column).values().map(String)
  const found = ids.filter((_, index) => labels[index] === label)
  const [first, second] = found
  if (first !== undefined && second === undefined) return first
  if (first !== undefined)
    throw new CommandRefusal(`${found.length} rows of ${table.name} are labelled ${JSON.stringify(label)}; use id:${first}.`)
  const near = nearestName(label, labels)
  const hint = near === undefined ? '' : ` Nearest: ${near}.`
  throw new CommandRefusal(`no row of ${table.name} is labelled ${JSON.stringify(label)}.${hint}`)
}

/**
 * A table that exists, or the only one where none is named.
 *
 * @throws UsageFault
 */
export function tableOf(book: WorkbookView, name: string | undefined): TableView {
  if (name !== undefined) return book.table(name)
  const [only, another] = book.tables
  if (only !== undefined && another === undefined) return book.table(only)
  if (only === undefined) throw new UsageFault('the workbook has no table yet. Read one: mellow import <book> <file>')
  throw new UsageFault(`say which table: ${book.tables.map(printName).join(', ')}.`)
}

/**
 * `name=value` taken apart.
 *
 * @throws UsageFault
 */
export function assignment(text: string): { readonly name: string; readonly value: string } {
  const match = /^(?:`((?:[^`]|``)+)`|([^=]+))=(.*)$/s.exec(text)
  if (match === null) throw new UsageFault(`expected name=value, such as mites=12, not ${JSON.stringify(text)}.`)
  return { name: (match[1]?.replaceAll('``', '`') ?? (match[2] as string)).trim(), value: match[3] as string }
}

/**
 * A value typed for a column: nothing is blank, `""` the empty text; the rest is read as a file with these options is. A column
 * without a type takes the one of the value.
 */
export function typedValue(text: string, declared: DeclaredType | null, reading: CellReading): CellValue {
  if (text === '') return null
  if (text === '""') return ''
  if (declared !== null) return readCell(text, declared, reading)
  const number = /^[+-]?0\d/.test(text) ? null : readCell(text, { type: 'number' }, reading)
  return typeof number === 'number' ? number : text
}
