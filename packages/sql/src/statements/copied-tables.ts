import { CellFault, type ShownValue, type SlimView } from 'mellow-abacus'
import type { DefinedColumn, DefinedTable, Definitions } from 'mellow-abacus/model'
import { type Dialect, numberOfFault } from '../dialects/index.js'
import type { SourceOfTable } from '../formulas/index.js'
import { eitherSize, type Magnitude, sizeOfNumber, textLiteral, UNBOUNDED, WHOLE } from '../values/index.js'

/** Rows of one statement that puts them in. */
const ROWS_A_STATEMENT = 500

/** The column that holds the order of the rows; no column of a workbook can be called so together with the others of its table. */
const ROW = 'row!'

/** A table of the workbook whose rows go along with the model. */
export interface CopiedTable {
  readonly name: string
  /** The statements that make it and put its rows in. */
  readonly statements: readonly string[]
  readonly source: SourceOfTable
}

/** What is known of the cells of a column. */
interface Cells {
  readonly column: DefinedColumn
  readonly values: readonly ShownValue[]
  readonly hasFaults: boolean
}

/**
 * Copies the cells of a table that no formula gives.
 *
 * @param nameOf - a table of the schema as it is named in a statement
 */
export function copiedTable(
  book: SlimView,
  definitions: Definitions,
  table: DefinedTable,
  dialect: Dialect,
  nameOf: (name: string) => string,
): CopiedTable {
  const view = book.table(table.name)
  const columns = table.columns
    .filter((column) => column.expression === null)
    .map((column): Cells => {
      const values = view.column(column.name).values()
      return { column, values, hasFaults: values.some((value) => value instanceof CellFault) }
    })
  const name = `${table.name}!rows`
  const quoted = nameOf(name)
  const count = view.rowIds().length
  const heads = [`${dialect.quote(ROW)} bigint primary key`]
  for (const { column, values, hasFaults } of columns) {
    heads.push(
      `${dialect.quote(column.name)} ${columnType(dialect, column)}${isFull({ column, values, hasFaults }) ? ' not null' : ''}`,
    )
    if (hasFaults) heads.push(`${dialect.quote(`${column.name}!fault`)} smallint`)
  }
  const statements = [`create table ${quoted} (\n  ${heads.join(',\n  ')}\n)`]
  for (let from = 0; from < count; from += ROWS_A_STATEMENT) {
    const rows: string[] = []
    for (let row = from; row < Math.min(count, from + ROWS_A_STATEMENT); row++) rows.push(`(${rowOf(columns, row).join(', ')})`)
    statements.push(`insert into ${quoted} values\n${rows.join(',\n')}`)
  }
  return { name, statements, source: sourceOf(definitions, table, columns, dialect, quoted) }
}

/** True where every row has a value; a table without rows has none that is known of. */
function isFull({ values, hasFaults }: Cells): boolean {
  return values.length > 0 && !hasFaults && !values.includes(null)
}

function columnType({ types, name }: Dialect, { type }: DefinedColumn): string {
  if (type === 'text' || type === null) return name === 'postgresql' ? `${types.text} collate "C"` : types.text
  return types[type]
}

function rowOf(columns: readonly Cells[], row: number): string[] {
  const cells = [String(row + 1)]
  for (const { column, values, hasFaults } of columns) {
    const value = values[row] ?? null
    cells.push(value === null || value instanceof CellFault ? 'null' : literalOf(value, column))
    if (hasFaults) cells.push(value instanceof CellFault ? String(numberOfFault(value.code)) : 'null')
  }
  return cells
}

function literalOf(value: string | number | boolean, { type }: DefinedColumn): string {
  if (typeof value === 'number') return type === 'integer' ? String(value) : `'${value}'`
  if (typeof value === 'boolean') return String(value)
  return textLiteral(type === 'datetime' ? value.replace('T', ' ') : value)
}

function sourceOf(
  definitions: Definitions,
  table: DefinedTable,
  columns: readonly Cells[],
  dialect: Dialect,
  quoted: string,
): SourceOfTable {
  const keys = definitions.tables.flatMap(({ links }) =>
    links.filter(({ to }) => to === table.name).map((link) => link.keys as readonly number[]),
  )
  return {
    from: `${quoted} as s`,
    rowCount: columns[0]?.values.length ?? 0,
    rowKey: [`s.${dialect.quote(ROW)}`],
    storedKey: [`s.${dialect.quote(ROW)}`],
    unique: keys.filter((key) => isUnique(key, columns)),
    lacks: new Map(),
    columns: new Map(
      columns.map(({ column, values, hasFaults }) => {
        const text = `s.${dialect.quote(column.name)}`
        return [
          column.id,
          {
            value: column.type === 'integer' ? `cast(${text} as float8)` : text,
            isFull: isFull({ column, values, hasFaults }),
            shown: column.type === 'integer' ? text : null,
            fault: hasFaults ? `cast(s.${dialect.quote(`${column.name}!fault`)} as int)` : null,
            size: column.type === 'integer' ? WHOLE : column.type === 'number' ? sizeOfValues(values) : UNBOUNDED,
          },
        ]
      }),
    ),
  }
}

/** The rows are copied as they are, so what is known of these numbers is known for as long as the copy stands. */
function sizeOfValues(values: readonly ShownValue[]): Magnitude {
  let size = sizeOfNumber(0)
  for (const value of values) if (typeof value === 'number') size = eitherSize(size, sizeOfNumber(value))
  return size
}

/** True where no two rows have the same key; only keys of copied columns are looked at. */
function isUnique(key: readonly number[], columns: readonly Cells[]): boolean {
  const cells = key.map((id) => columns.find(({ column }) => (column.id as number) === id))
  if (cells.some((one) => one === undefined)) return false
  const seen = new Set<string>()
  const count = cells[0]?.values.length ?? 0
  for (let row = 0; row < count; row++) {
    const values = cells.map((one) => one?.values[row] ?? null)
    if (values.some((value) => value === null || value instanceof CellFault)) continue
    const text = JSON.stringify(values)
    if (seen.has(text)) return false
    seen.add(text)
  }
  return true
}
