import { isSameName, type ValueType } from 'mellow-abacus'
import type { AttachedColumn, DatabaseSource } from 'mellow-abacus/model'
import { type Database, type DatabaseRow, readAtOneMoment } from '../databases/index.js'
import { type ColumnCounts, countRows, type ReadColumn, refuseSharedKeys } from './count-rows.js'
import { SourceFault } from './describe-relation.js'
import { type RelationFacts, relationText } from './relation.js'
import { fittingValue, type SourceForm, sourceForm } from './source-form.js'

/** How a sample is taken. */
export interface SampleOptions {
  /** About how many rows; all where there are no more. */
  readonly most: number
  /** The columns that tell rows apart and are their order; null for the first key that the database has. */
  readonly key: readonly string[] | null
  /** The zone in which moments are date-times. */
  readonly zone: string
}

/** A cell as operations take it. */
export type SampledCell = string | number | boolean | null | { readonly misfit: string }

/** A column with its cells in the sample. */
export interface SampledColumn extends AttachedColumn<string> {
  readonly type: ValueType
  readonly cells: readonly SampledCell[]
}

/** Rows of a relation, with what holds of all of them. */
export interface SourceSample {
  readonly relation: RelationFacts & { readonly rows: number }
  readonly columns: readonly SampledColumn[]
  readonly rowCount: number
  /** Null where nothing tells the rows apart. */
  readonly key: readonly string[] | null
  /** Columns that are not taken, with the reason. */
  readonly leftOut: readonly { readonly name: string; readonly reason: string }[]
}

/**
 * Takes a sample of the rows of a relation, in the order of its key, and counts what the sample may not show.
 *
 * @throws SourceFault for a key that does not tell rows apart, and where nothing of the relation can be read
 */
export function takeSample(database: Database, relation: RelationFacts, options: SampleOptions): Promise<SourceSample> {
  return readAtOneMoment(database, () => sampleNow(database, relation, options))
}

async function sampleNow(database: Database, relation: RelationFacts, { most, key, zone }: SampleOptions): Promise<SourceSample> {
  const leftOut: { name: string; reason: string }[] = []
  const columns = readable(database, relation, zone, leftOut)
  const { rows, columns: counts } = await countRows(database, relation, columns)
  const taken = columns.flatMap((one) => taking(database, relation, one, counts.get(one.of) as ColumnCounts, zone, leftOut))
  if (taken.length === 0) throw new SourceFault(`${relation.path.join('.')} has no column that a workbook can hold.`)
  const known = key ?? keyAmong(relation, taken)
  for (const name of known ?? []) {
    if (!taken.some(({ of }) => of === name))
      throw new SourceFault(`${relation.path.join('.')} has no column ${name} that could be part of the key.`)
  }
  if (known !== null) await refuseSharedKeys(database, relation, known)
  const sampled = await database.rows(sampleQuery(database, relation, taken, known, most / Math.max(1, rows)))
  return {
    relation: { ...relation, rows },
    columns: taken.map(({ of, form }, index) => {
      const { type, isFull } = relation.columns.find((one) => one.name === of) as RelationFacts['columns'][number]
      const { blanks, zeros, misfits, unusual } = counts.get(of) as ColumnCounts
      const isUsual = form.isUsual === null || unusual === 0
      const found = form.type === 'text' ? { zeros: 0, misfits: 0 } : { zeros, misfits }
      const facts = { column: of, of, as: type, isFull, isUsual, blanks, ...found }
      return { ...facts, type: form.type, cells: sampled.map((row) => cellOf(row, index, form)) }
    }),
    rowCount: sampled.length,
    key: known,
    leftOut,
  }
}

/** What a table remembers of where its sample is from: the `source` of an operation `change-table`. */
export function sourceOfSample({ keptAddress }: Database, { relation, columns }: SourceSample): DatabaseSource<string> {
  return {
    database: keptAddress,
    relation: relation.path,
    rows: relation.rows,
    columns: columns.map(({ type: _, cells: __, ...facts }) => facts),
    unique: relation.unique,
  }
}

/** The columns that have a reading; names that differ by capital letters alone are one here. */
function readable(
  { dialect }: Database,
  { columns }: RelationFacts,
  zone: string,
  leftOut: { name: string; reason: string }[],
): ReadColumn[] {
  const read: ReadColumn[] = []
  for (const { name, type } of columns) {
    const kind = dialect.kindOf(type)
    const same = read.find(({ of }) => isSameName(of, name))
    const form = kind === null ? null : sourceForm(dialect, kind, `s.${dialect.quote(name)}`, null, zone)
    if (same !== undefined) leftOut.push({ name, reason: `its name is that of ${same.of}` })
    else if (form === null) leftOut.push({ name, reason: `a workbook has nothing like ${type}` })
    else read.push({ of: name, form })
  }
  return read
}

/** A column as it is taken: whole numbers that are too large to be numbers here are texts. */
function taking(
  { dialect }: Database,
  { columns }: RelationFacts,
  { of, form }: ReadColumn,
  { unusual }: ColumnCounts,
  zone: string,
  leftOut: { name: string; reason: string }[],
): ReadColumn[] {
  if (unusual === 0 || form.always !== null) return [{ of, form }]
  const kind = dialect.kindOf(columns.find(({ name }) => name === of)?.type ?? '')
  const text = kind === null ? null : sourceForm(dialect, kind, `s.${dialect.quote(of)}`, 'text', zone)
  if (text !== null) return [{ of, form: text }]
  leftOut.push({ name: of, reason: 'it has values that are no numbers of a workbook' })
  return []
}

/** The first key of the database of which all columns are taken and have values. */
function keyAmong({ unique, columns }: RelationFacts, taken: readonly ReadColumn[]): readonly string[] | null {
  const isFull = (name: string): boolean => columns.find((one) => one.name === name)?.isFull === true
  return unique.find((list) => list.every((name) => isFull(name) && taken.some(({ of }) => of === name))) ?? null
}

function sampleQuery(
  { dialect }: Database,
  { path }: RelationFacts,
  columns: readonly ReadColumn[],
  key: readonly string[] | null,
  share: number,
): string {
  const list = columns.flatMap(({ of, form }, index) => {
    const quoted = `s.${dialect.quote(of)}`
    const reading = form.always ?? form.usually
    const value = fittingValue(reading)
    const isWritten = form.type === 'date' || form.type === 'datetime'
    const shown = `${isWritten ? dialect.asText(value) : value} as c${index}`
    if (reading.fits === null) return [shown]
    return [shown, `case when not (${reading.fits}) then ${dialect.asText(quoted)} end as m${index}`]
  })
  const where = share < 1 ? ` where random() < ${share}` : ''
  const order = (key ?? []).map((name) => columns.find(({ of }) => of === name)?.form.usually.value)
  const ordered = order.length === 0 ? '' : ` order by ${order.join(', ')}`
  return `select ${list.join(', ')} from ${relationText(dialect, path)} as s${where}${ordered}`
}

function cellOf(row: DatabaseRow, index: number, form: SourceForm): SampledCell {
  const misfit = row[`m${index}`]
  if (misfit !== null && misfit !== undefined) return { misfit: String(misfit) }
  const value = row[`c${index}`] as string | number | boolean | null
  return form.type === 'datetime' && value !== null ? String(value).replace(' ', 'T') : value
}
