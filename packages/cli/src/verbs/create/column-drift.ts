import type { ReadRows } from '@mellow-abacus/files'
import { CellFault, type ColumnView, isSameName, printName, type TableView } from 'mellow-abacus'

/** How the columns of a file have moved against those of the table that was read from it before. */
export interface ColumnDrift {
  /** Columns of the table that the file has no more. */
  readonly gone: readonly ColumnView[]
  /** Columns that the file has and the table has not. */
  readonly fresh: ReadRows['columns']
  /** Names of columns that are gone, with the new ones that hold mostly the same. */
  readonly renamed: ReadonlyMap<string, string>
}

/** Share of equal values from which two columns are taken for one. */
const MOSTLY = 0.5

/**
 * Compares the source columns of a table with those of a file.
 *
 * @param nameOf - what a column is called in the file, as far as that was said
 */
export function columnDrift(table: TableView, read: ReadRows, nameOf: (column: ColumnView) => string): ColumnDrift {
  const sources = table.columns.filter((column) => column.formula === null)
  const gone = fileColumns(table).filter((column) => !read.columns.some(({ name }) => isSameName(name, nameOf(column))))
  const fresh = read.columns.filter(({ name }) => !sources.some((column) => isSameName(nameOf(column), name)))
  const renamed = new Map<string, string>()
  const pairs = gone.length === 0 || fresh.length === 0 ? [] : matchedRows(table, read, nameOf)
  for (const column of gone) {
    const shares = fresh
      .filter(({ name }) => ![...renamed.values()].includes(name))
      .map((other) => ({ name: other.name, share: equalShare(column, other, pairs) }))
    const best = shares.reduce((most, one) => (one.share > most.share ? one : most), { name: '', share: 0 })
    if (best.share >= MOSTLY) renamed.set(column.name, best.name)
  }
  return { gone, fresh, renamed }
}

/** The columns of a table that its file had; what the table has besides, stamps and notes of its own, stays whatever is read. */
export function fileColumns(table: TableView): ColumnView[] {
  const { source } = table.properties
  const known = source?.columns?.map((one) => (typeof one === 'string' ? one : one.column))
  return table.columns.filter(({ name, formula, properties }) =>
    known === undefined ? formula === null && properties.stamp === undefined : known.includes(name),
  )
}

/** Rows of the table and of the file that belong together: those of one key where the table has one, else those of one place. */
export function matchedRows(
  table: TableView,
  read: ReadRows,
  nameOf: (column: ColumnView) => string,
): [row: number, place: number][] {
  const keys = (table.properties.key ?? []).map((name) => table.column(name))
  const places = keys.map((key) => read.columns.find(({ name }) => isSameName(name, nameOf(key)))?.column)
  const count = Math.min(table.rowCount, read.rowCount)
  if (keys.length === 0 || places.some((column) => column == null)) return Array.from({ length: count }, (_, row) => [row, row])
  const own = keys.map((key) => key.values())
  // Several rows of one key are matched in their order.
  const rowsOf = new Map<string, number[]>()
  for (let row = 0; row < table.rowCount; row++) {
    const key = JSON.stringify(own.map((values) => textOf(values[row])))
    const rows = rowsOf.get(key)
    if (rows === undefined) rowsOf.set(key, [row])
    else rows.push(row)
  }
  for (const rows of rowsOf.values()) rows.reverse()
  const theirs = places.map((column) => column?.toJSON() ?? [])
  return Array.from({ length: read.rowCount }, (_, row) => row).flatMap((row): [number, number][] => {
    const match = rowsOf.get(JSON.stringify(theirs.map((values) => textOf(values[row]))))?.pop()
    return match === undefined ? [] : [[match, row]]
  })
}

/** The share of rows with a value in either column where both hold the same; 0 for columns of different types. */
function equalShare(
  column: ColumnView,
  { column: other }: ReadRows['columns'][number],
  pairs: readonly (readonly [number, number])[],
): number {
  if (other === null || other.type !== column.type) return 0
  const [own, theirs] = [column.values(), other.toJSON()]
  let [filled, equal] = [0, 0]
  for (const [row, place] of pairs) {
    const [left, right] = [textOf(own[row]), textOf(theirs[place])]
    if (left === null && right === null) continue
    filled++
    if (left === right) equal++
  }
  return filled === 0 ? 0 : equal / filled
}

/** A cell to compare by; null for a blank. */
export function textOf(cell: unknown): string | null {
  if (cell === null || cell === undefined) return null
  if (cell instanceof CellFault) return cell.text ?? cell.code
  return typeof cell === 'object' && 'misfit' in cell ? String(cell.misfit) : String(cell)
}

/** The option that says that a column has another name in the file, as it is typed in a shell. */
export function mapOption(from: string, to: string): string {
  const pair = `${from}=${to}`
  return `--map ${/^[\w=.-]+$/.test(pair) ? pair : `'${pair.replaceAll("'", "'\\''")}'`}`
}

/** What has moved, for the reader; nothing where all is the same. */
export function driftText(table: string, { gone, fresh, renamed }: ColumnDrift): string {
  const parts = [
    ...[...renamed].map(([from, to]) => `${printName(from)} looks like ${printName(to)} now (${mapOption(from, to)})`),
    ...gone.filter(({ name }) => !renamed.has(name)).map(({ name }) => `${printName(name)} is gone`),
    ...fresh.filter(({ name }) => ![...renamed.values()].includes(name)).map(({ name }) => `${printName(name)} is new`),
  ]
  return parts.length === 0 ? '' : `${printName(table)}: ${parts.join('; ')}\n`
}
