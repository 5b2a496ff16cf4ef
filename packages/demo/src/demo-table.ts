/** A cell of the demo: ISO 8601 text for dates, null for blank. */
export type DemoCell = number | string | boolean | null

/** A column of the demo, as a workbook would declare it. */
export interface DemoColumn {
  readonly name: string
  readonly type: 'number' | 'integer' | 'text' | 'boolean' | 'date'
  readonly unit?: string
  readonly decimals?: number
}

/** A table of the demo. */
export interface DemoTable {
  readonly name: string
  readonly columns: readonly DemoColumn[]
  readonly rows: readonly (readonly DemoCell[])[]
}

/** A demo table as CSV (RFC 4180): blank is an empty field. */
export function demoCsv(table: DemoTable): string {
  const quoted = (text: string): string => (/[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text)
  const line = (cells: readonly DemoCell[]): string => cells.map((cell) => (cell === null ? '' : quoted(String(cell)))).join(',')
  return `${[table.columns.map((column) => column.name), ...table.rows].map(line).join('\n')}\n`
}

/** An operation that puts a demo table into a workbook. */
export type DemoOperation =
  | { readonly op: 'add-table'; readonly table: string; readonly columns: readonly DemoColumn[] }
  | { readonly op: 'insert-rows'; readonly table: string; readonly block: Readonly<Record<string, readonly DemoCell[]>> }

/** The operations that put demo tables into a workbook. */
export function demoOperations(tables: readonly DemoTable[]): DemoOperation[] {
  return tables.flatMap(({ name, columns, rows }) => [
    { op: 'add-table' as const, table: name, columns },
    {
      op: 'insert-rows' as const,
      table: name,
      block: Object.fromEntries(columns.map((column, place) => [column.name, rows.map((row) => row[place] ?? null)])),
    },
  ])
}
