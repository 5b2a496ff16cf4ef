import type { Database } from '../databases/index.js'
import type { EngineName } from '../dialects/index.js'
import { textLiteral } from '../values/index.js'
import { type RelationColumn, type RelationFacts, relationText } from './relation.js'

/** Thrown where a table or view cannot be taken as a source; the message says why. */
export class SourceFault extends Error {}

/** The most names that lead to a table: of a database, a schema and its own. */
const MOST_NAMES = 3

/**
 * The names that lead to a table or view: `schema.table`, each in double quotes where it has other signs.
 *
 * @throws SourceFault
 */
export function readRelation(text: string): string[] {
  const names = text.match(/"(?:[^"]|"")*"|[^."]+/g) ?? []
  if (names.length === 0 || names.length > MOST_NAMES || names.join('.') !== text)
    throw new SourceFault(`expected a table such as schema.table, received ${text}.`)
  return names.map((name) => (name.startsWith('"') ? name.slice(1, -1).replaceAll('""', '"') : name))
}

/** What an engine is asked. */
interface Queries {
  /** Where a relation is: its schema, its name, and what the other two are asked with. */
  where(path: string): string
  /** Its columns in their order. */
  columns(at: string): string
  /** Its keys, the primary one first. */
  keys(at: string): string
}

const QUERIES: Readonly<Record<EngineName, Queries>> = {
  postgresql: {
    where: (path) => `
select n.nspname as schema, c.relname as name, c.oid::bigint as at
from pg_class c join pg_namespace n on n.oid = c.relnamespace
where c.oid = to_regclass(${path}) and c.relkind in ('r', 'p', 'v', 'm', 'f')`,
    columns: (at) => `
select a.attname as name, a.attnotnull as filled,
  case when b.typtype = 'e' then 'enum' else format_type(b.oid, case when b.oid = a.atttypid then a.atttypmod else t.typtypmod end) end as type
from pg_attribute a join pg_type t on t.oid = a.atttypid
  join pg_type b on b.oid = case when t.typtype = 'd' then t.typbasetype else t.oid end
where a.attrelid = ${at} and a.attnum > 0 and not a.attisdropped order by a.attnum`,
    keys: (at) => `
select array(select a.attname::text from unnest(i.indkey[0:i.indnkeyatts - 1]) with ordinality as k (number, place)
  join pg_attribute a on a.attrelid = i.indrelid and a.attnum = k.number order by k.place) as names
from pg_index i
where i.indrelid = ${at} and i.indisunique and i.indisvalid and i.indimmediate and i.indpred is null and i.indexprs is null
order by i.indisprimary desc, i.indexrelid`,
  },
  duckdb: {
    where: (path) => `
select table_schema as schema, table_name as name, table_catalog as catalog,
  format('schema_name = ''{}'' and table_name = ''{}''', replace(table_schema, '''', ''''''), replace(table_name, '''', '''''')) as at
from information_schema.tables where table_catalog = current_database() and ${path}`,
    columns: (at) => `
select column_name as name, not is_nullable as filled, data_type as type
from duckdb_columns() where database_name = current_database() and ${at} order by column_index`,
    keys: (at) => `
select names from (
  select constraint_column_names as names, constraint_type <> 'PRIMARY KEY' as later
  from duckdb_constraints()
  where database_name = current_database() and ${at} and constraint_type in ('PRIMARY KEY', 'UNIQUE')
) order by later`,
  },
}

/**
 * What a database says of one of its tables or views.
 *
 * @param path - the names that lead to it
 * @throws SourceFault where there is none
 */
export async function describeRelation(database: Database, path: readonly string[]): Promise<RelationFacts> {
  const { dialect } = database
  const queries = QUERIES[dialect.name]
  const [found, ...others] = await database.rows(queries.where(placeIn(database, path)))
  if (found === undefined)
    throw new SourceFault(`${database.address} has no table or view ${path.join('.')} that can be seen from here.`)
  if (others.length > 0) throw new SourceFault(`${database.address} has several tables ${path.join('.')}; name the schema too.`)
  const at = String(found.at)
  const columns = (await database.rows(queries.columns(at))).map(
    ({ name, type, filled }): RelationColumn => ({
      name: String(name),
      type: String(type),
      isFull: filled === true,
      isUsual: false,
    }),
  )
  const unique = (await database.rows(queries.keys(at))).map(({ names }) => namesOf(names))
  const own = [String(found.schema), String(found.name)]
  // A schema that is called as its database has to be told from it.
  return { path: found.catalog === found.schema ? [String(found.catalog), ...own] : own, columns, unique, rows: null }
}

function placeIn({ dialect }: Database, path: readonly string[]): string {
  if (dialect.name === 'postgresql') return textLiteral(relationText(dialect, path))
  const [name, schema, catalog] = [...path].reverse()
  return [
    `table_name = ${textLiteral(name ?? '')}`,
    `table_schema = ${schema === undefined ? 'current_schema()' : textLiteral(schema)}`,
    ...(catalog === undefined ? [] : [`table_catalog = ${textLiteral(catalog)}`]),
  ].join(' and ')
}

/** A list as the drivers give it. */
function namesOf(list: unknown): string[] {
  const items = Array.isArray(list) ? list : (list as { readonly items: readonly unknown[] }).items
  return items.map(String)
}
