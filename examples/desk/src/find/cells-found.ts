import type { BookSession, ColumnFacts, SessionValue, TableFacts } from '@mellow-abacus/session'
import { printName } from 'mellow-abacus/display'

/** A cell in which something was found. */
interface FoundCell {
  readonly table: string
  readonly column: string
  readonly row: number
  readonly value: SessionValue
  /** What the row is called by, or its first cell. */
  readonly of: SessionValue
}

/** What was found in the cells of a table. */
export interface FoundCells {
  readonly table: string
  /** The condition that is true of the rows. */
  readonly where: string
  /** How many rows there are. */
  readonly rows: number
  readonly first: readonly FoundCell[]
}

/** Letters from which cells are looked through. */
export const LEAST_LETTERS = 2
/** Rows of each table that are listed. */
const MOST_LISTED = 4
/** Columns that are looked through at once. */
const MOST_COLUMNS = 60

/**
 * The condition that is true of rows with a text in a cell: within texts, whatever their case, and as a whole among numbers and
 * dates; null where no column can hold it.
 */
export function holdsText(columns: readonly ColumnFacts[], sought: string): string | null {
  const parts = columns.slice(0, MOST_COLUMNS).flatMap((column) => {
    const condition = conditionOn(column, sought)
    return condition === null ? [] : [`(${printName(column.name)} is not error and ${condition})`]
  })
  return parts.length === 0 ? null : parts.join(' or ')
}

function conditionOn({ name, type }: ColumnFacts, sought: string): string | null {
  const column = printName(name)
  if (type === 'text') return `contains(lower(${column}), '${sought.toLowerCase().replaceAll("'", "''")}')`
  if (type === 'number' || type === 'integer') return /^-?\d+(\.\d+)?$/.test(sought) ? `${column} = ${sought}` : null
  if (type === 'date') return /^\d{4}-\d\d-\d\d$/.test(sought) && isDay(sought) ? `${column} = @${sought}` : null
  return null
}

/** True for a day that there is. */
function isDay(text: string): boolean {
  const time = Date.parse(`${text}T00:00:00Z`)
  return !Number.isNaN(time) && new Date(time).toISOString().startsWith(text)
}

/** Looks through the cells of a table; null where nothing is found. */
export async function cellsFound(session: BookSession, table: TableFacts, sought: string): Promise<FoundCells | null> {
  const columns = table.columns.filter(({ properties }) => properties.hidden !== true)
  const where = holdsText(columns, sought)
  if (where === null || table.rows === 0) return null
  const { matched, rows } = await session.query({
    table: table.name,
    where,
    columns: columns.map(({ name }) => name),
    limit: MOST_LISTED,
  })
  if (matched === 0) return null
  const called = table.label ?? columns[0]?.name ?? ''
  const first = rows.flatMap(({ id, cells }): FoundCell[] => {
    const column = columns.find(({ name }) => isIn(cells[name] ?? null, sought))
    return column === undefined
      ? []
      : [{ table: table.name, column: column.name, row: id, value: cells[column.name] ?? null, of: cells[called] ?? null }]
  })
  return { table: table.name, where, rows: matched, first }
}

function isIn(value: SessionValue, sought: string): boolean {
  if (typeof value === 'number') return value === Number(sought)
  return typeof value === 'string' && value.toLowerCase().includes(sought.toLowerCase())
}
