import type { ColumnFacts, SessionCells } from '@mellow-abacus/session'
import type { CellValue, Operation } from 'mellow-abacus'
import { datesFirst, isPlainNumber, startText, typedValue } from './typed-value'

/** Cells as a block of text, as programs exchange them: tabs between the cells of a row, values in full. */
export function blockText(rows: readonly SessionCells[], columns: readonly string[]): string {
  const quoted = (text: string): string => (/[\t\n"]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text)
  return rows.map((cells) => columns.map((name) => quoted(startText(cells[name]))).join('\t')).join('\n')
}

/** The same as a table of HTML. */
export function blockHtml(rows: readonly SessionCells[], columns: readonly string[]): string {
  const escaped = (text: string): string => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;')
  const line = (cells: SessionCells): string =>
    `<tr>${columns.map((name) => `<td>${escaped(startText(cells[name]))}</td>`).join('')}</tr>`
  return `<table>${rows.map(line).join('')}</table>`
}

/**
 * What puts a block of texts into cells, from one cell on: rows that there are not yet are added at the end.
 *
 * @param ids - of the rows from the first one on, as they stand
 * @param mayDefine - whether columns without a type may be given one
 * @throws Error for a text that a column does not take, and for a column that is calculated
 */
export function pasteOperations(
  table: string,
  block: readonly (readonly string[])[],
  columns: readonly ColumnFacts[],
  ids: readonly number[],
  mayDefine: boolean,
): Operation[] {
  // A column without a type holds numbers only where all that comes into it are some.
  const isText = new Set(
    columns.filter(
      ({ type }, at) => type === null && !block.every((line) => (line[at] ?? '') === '' || isPlainNumber(line[at] ?? '')),
    ),
  )
  const value = (text: string, column: ColumnFacts): CellValue => {
    if (column.calculated) throw new Error(`${column.name} is calculated, so nothing can be pasted into it.`)
    const typed = typedValue(text, isText.has(column) ? { ...column, type: 'text' } : column)
    if ('refused' in typed) throw new Error(typed.refused)
    return typed.value
  }
  const width = Math.max(...block.map((line) => line.length))
  if (width > columns.length) throw new Error(`The block has ${width} columns, and from here on there are ${columns.length}.`)
  const record = (line: readonly string[]): [string, CellValue][] =>
    line.map((text, at) => [(columns[at] as ColumnFacts).name, value(text, columns[at] as ColumnFacts)])
  const cells = block
    .slice(0, ids.length)
    .flatMap((line, at) => record(line).map(([column, of]) => ({ row: ids[at] as number, column, value: of })))
  const rows = block.slice(ids.length).map((line) => Object.fromEntries(record(line)))
  const dates = mayDefine ? datesFirst(table, columns.slice(0, width), (at) => block.map((line) => line[at] ?? '')) : []
  return [
    ...dates,
    ...(cells.length > 0 ? [{ op: 'set-cells', table, cells } as Operation] : []),
    ...(rows.length > 0 ? [{ op: 'insert-rows', table, rows } as Operation] : []),
  ]
}
