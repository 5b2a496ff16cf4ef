import { counted, type SlimView, type Surroundings } from 'mellow-abacus'
import { type ColumnId, type DatabaseSource, type DefinedTable, definitionsOf } from 'mellow-abacus/model'
import type { Database } from '../databases/index.js'
import { countRows, describeRelation, type RelationFacts, refuseSharedKeys, SourceFault, sourceForm } from '../sources/index.js'
import { PublishRefusal } from './refusal.js'

/** The database that tables of a workbook are attached to, as it is kept; null where none is. */
export function databaseOf(book: SlimView): string | null {
  return definitionsOf(book).tables.find(({ source }) => source !== null)?.source?.database ?? null
}

/**
 * What the database says now of the relations that tables are attached to.
 *
 * @param isCounted - whether all rows are looked at, to know what they hold
 * @param isElsewhere - true where the database is another one that has the same relations
 * @throws PublishRefusal for a table that is attached to another database, and for a relation that is gone, or whose rows are not as
 * they are taken to be
 */
export async function relationsNow(
  book: SlimView,
  database: Database,
  isCounted = true,
  isElsewhere = false,
): Promise<ReadonlyMap<string, RelationFacts>> {
  const { tables, surroundings } = definitionsOf(book)
  const found = new Map<string, RelationFacts>()
  for (const table of tables) {
    const { source } = table
    if (source === null) continue
    if (!isElsewhere && source.database !== database.keptAddress)
      throw new PublishRefusal(
        `${table.name} is attached to ${source.database}, and a model is published where its sources are. Publish to that, or attach the table to ${database.keptAddress}.`,
      )
    try {
      found.set(
        table.name,
        isCounted
          ? await relationNow(database, { ...table, source }, surroundings)
          : await describeRelation(database, source.relation),
      )
    } catch (error) {
      throw error instanceof SourceFault
        ? new PublishRefusal(`${table.name}: ${error.message} Nothing was ${isCounted ? 'published' : 'refreshed'}.`)
        : error
    }
  }
  return found
}

async function relationNow(
  database: Database,
  { columns, key, source }: DefinedTable & { readonly source: DatabaseSource<ColumnId> },
  { zone }: Surroundings,
): Promise<RelationFacts> {
  const { dialect } = database
  const relation = await describeRelation(database, source.relation)
  const read = source.columns.flatMap(({ column: id, of }) => {
    const type = columns.find((one) => one.id === id)?.type ?? null
    const kind = dialect.kindOf(relation.columns.find(({ name }) => name === of)?.type ?? '')
    const form = kind === null ? null : sourceForm(dialect, kind, `s.${dialect.quote(of)}`, type, zone)
    return form === null ? [] : [{ of, form }]
  })
  const { rows, columns: counts } = await countRows(database, relation, read)
  const unusual = new Map(read.map(({ of }) => [of, counts.get(of)?.unusual ?? 0]))
  for (const { of, form } of read) {
    const many = unusual.get(of) ?? 0
    if (many > 0 && form.always === null)
      throw new SourceFault(`${of} has ${counted(many, 'value')} now that a workbook has no number for. Attach the table again.`)
  }
  const names = (key ?? []).flatMap((id) => source.columns.find(({ column }) => column === id)?.of ?? [])
  if (names.length > 0 && names.every((name) => relation.columns.some((one) => one.name === name)))
    await refuseSharedKeys(database, relation, names)
  return { ...relation, rows, columns: relation.columns.map((one) => ({ ...one, isUsual: unusual.get(one.name) === 0 })) }
}
