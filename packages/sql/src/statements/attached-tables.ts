import type { ColumnId, DatabaseSource, DefinedColumn, DefinedTable, Definitions } from 'mellow-abacus/model'
import { type Dialect, numberOfFault } from '../dialects/index.js'
import type { SourceColumn, SourceOfTable } from '../formulas/index.js'
import { fittingValue, type RelationFacts, readingOf, relationText, type SourceReading, sourceForm } from '../sources/index.js'

/** A table that has a sample of the rows of a relation. */
export type AttachedTable = DefinedTable & { readonly source: DatabaseSource<ColumnId> }

/** True for a table that has a sample of the rows of a relation. */
export function isAttached(table: DefinedTable): table is AttachedTable {
  return table.source !== null
}

/** A column that is read where the database has it. */
interface ReadColumn {
  readonly of: string
  readonly reading: SourceReading
  readonly isFull: boolean
  readonly isInteger: boolean
  /** How it is stored where it tells rows apart. */
  readonly stored: string
  /** What every row has to meet. */
  readonly mustMeet: string | null
}

/**
 * A table whose rows are those of a relation: they stay where they are.
 *
 * @param relation - what the database says of it now
 * @param isForLater - whether it is read for rows that may come to hold anything
 */
export function attachedTable(
  { tables, surroundings }: Definitions,
  table: AttachedTable,
  relation: RelationFacts,
  dialect: Dialect,
  isForLater = false,
): SourceOfTable {
  const read = new Map<number, ReadColumn>()
  const lacks = new Map<number, string>()
  for (const column of table.columns) {
    if (column.expression !== null) continue
    const found = readColumn(table, column, relation, dialect, surroundings.zone, isForLater)
    if (typeof found === 'string') lacks.set(column.id, found)
    else read.set(column.id, found)
  }
  const namesOf = (ids: readonly number[]): string[] => ids.flatMap((id) => read.get(id)?.of ?? [])
  const isUnique = (ids: readonly number[]): boolean => {
    const names = namesOf(ids)
    return relation.unique.some((list) => list.every((name) => names.includes(name)))
  }
  const linked = tables.flatMap(({ links }) => links.filter(({ to }) => to === table.name).map((link) => link.keys))
  const keys = (table.key ?? []).flatMap((id) => read.get(id) ?? [])
  const isWhole = keys.length === table.key?.length
  return {
    from: `${relationText(dialect, relation.path)} as s`,
    rowCount: relation.rows ?? table.source.rows,
    rowKey: isWhole ? keys.map(({ reading }) => reading.value) : [],
    storedKey: isWhole ? keys.map(({ stored }) => stored) : [],
    unique: linked.filter(isUnique),
    lacks,
    columns: new Map([...read].map(([id, one]) => [id, sourceColumn(dialect, one)])),
  }
}

/** How a column is read; a text says why it is not. */
function readColumn(
  { source }: AttachedTable,
  { id, type }: DefinedColumn,
  { path, columns }: RelationFacts,
  dialect: Dialect,
  zone: string,
  isForLater: boolean,
): ReadColumn | string {
  const attached = source.columns.find(({ column }) => column === id)
  const place = path.join('.')
  if (attached === undefined)
    return `its values were typed in the workbook, beside a sample of ${place}, and there are none for the other rows`
  const { of, as } = attached
  const found = columns.find(({ name }) => name === of)
  if (found === undefined) return `${place} has no column ${of} any more; attach the table again`
  const kind = dialect.kindOf(found.type)
  const plain = `s.${dialect.quote(of)}`
  const form = kind === null ? null : sourceForm(dialect, kind, plain, type, zone)
  const reading = form === null ? null : isForLater ? (form.always ?? form.usually) : readingOf(form, found.isUsual)
  if (form !== null && reading !== null) {
    const mustMeet = isForLater && form.always === null ? form.isUsual : null
    const stored = kind?.kind === 'whole' || kind?.kind === 'date' ? plain : reading.value
    return { of, reading, isFull: found.isFull && reading.fits === null, isInteger: type === 'integer', stored, mustMeet }
  }
  const was = found.type === as ? '' : `, which was ${as}`
  return `${place} has ${of} as ${found.type}${was}, and the workbook as ${type ?? 'nothing yet'}; attach the table again`
}

function sourceColumn(dialect: Dialect, { of, reading, isFull, isInteger, mustMeet }: ReadColumn): SourceColumn {
  const { fits, size } = reading
  const value = fittingValue(reading)
  // Whole numbers need not become binary64 and whole numbers again.
  const shown = isInteger && fits === null ? `cast(s.${dialect.quote(of)} as ${dialect.types.integer})` : null
  if (fits === null) return { value, fault: null, isFull, size, shown, mustMeet }
  const isMisfit = `s.${dialect.quote(of)} is not null and not (${fits})`
  const fault = `case when ${isMisfit} then ${numberOfFault('misfit')} end`
  return { value, fault, isFull, size, shown }
}
