import { createHash } from 'node:crypto'
import type { Database } from '../databases/index.js'
import type { Dialect, EngineName } from '../dialects/index.js'
import type { MakingStatement } from '../statements/index.js'

/** Something that a schema holds. */
export interface SchemaObject {
  readonly kind: 'function' | 'table' | 'view' | 'trigger' | 'foreign table'
  readonly name: string
  /** The relation that a trigger is on, as it is named in a statement; it may stand outside of the schema. */
  readonly on?: string | undefined
  /** What is said of it in the database; null where nothing is. */
  readonly comment: string | null
}

/** What comments of published objects begin with. */
const MARK = 'mellow abacus '

/** The comment that says what something was made by: it is the same for the same statements. */
function commentOf(texts: readonly string[]): string {
  const hash = createHash('sha256')
  for (const text of texts) hash.update(text).update('\0')
  return `${MARK}${hash.digest('hex').slice(0, 32)}`
}

/** True for what was published. */
export function isOurs({ comment }: SchemaObject): boolean {
  return comment?.startsWith(MARK) === true
}

const QUERIES: Readonly<Record<EngineName, (schema: string) => string>> = {
  postgresql: (schema) => `
select case when c.relkind = 'r' then 'table' when c.relkind = 'v' then 'view' when c.relkind = 'f' then 'foreign table' else 'other' end as kind,
  c.relname as name, obj_description(c.oid, 'pg_class') as comment, null as on_relation
from pg_class c join pg_namespace n on n.oid = c.relnamespace
where n.nspname = ${schema} and c.relkind in ('r', 'v', 'm', 'f', 'p', 'S')
union all
select 'function', p.proname, obj_description(p.oid, 'pg_proc'), null
from pg_proc p join pg_namespace n on n.oid = p.pronamespace where n.nspname = ${schema}
union all
select 'trigger', t.tgname, obj_description(t.oid, 'pg_trigger') || case when t.tgenabled = 'D' then ' disabled' else '' end, quote_ident(m.nspname) || '.' || quote_ident(c.relname)
from pg_trigger t join pg_proc p on p.oid = t.tgfoid join pg_namespace n on n.oid = p.pronamespace
join pg_class c on c.oid = t.tgrelid join pg_namespace m on m.oid = c.relnamespace
where n.nspname = ${schema} and not t.tgisinternal`,
  duckdb: (schema) => `
select 'table' as kind, table_name as name, comment from duckdb_tables() where schema_name = ${schema} and database_name = current_database()
union all
select 'view', view_name, comment from duckdb_views() where schema_name = ${schema} and database_name = current_database() and not internal
union all
select distinct 'function', function_name, comment from duckdb_functions() where schema_name = ${schema} and database_name = current_database() and not internal`,
}

/** Everything that a schema holds. */
export async function objectsIn(database: Database, schema: string): Promise<SchemaObject[]> {
  const rows = await database.rows(QUERIES[database.dialect.name](textOf(schema)))
  return rows.map(
    (row) => ({ kind: row.kind, name: row.name, comment: row.comment, on: row.on_relation ?? undefined }) as SchemaObject,
  )
}

/** True where there is a schema of this name. */
export async function hasSchema(database: Database, schema: string): Promise<boolean> {
  const rows = await database.rows(`select 1 as one from information_schema.schemata where schema_name = ${textOf(schema)}`)
  return rows.length > 0
}

/** The statement that takes something away. */
export function dropping({ dialect }: Database, schema: string, object: Pick<SchemaObject, 'kind' | 'name' | 'on'>): string {
  return `drop ${objectText(dialect, schema, object)}`
}

/** An object of the schema as statements name it. */
function objectText(dialect: Dialect, schema: string, { kind, name, on }: Pick<SchemaObject, 'kind' | 'name' | 'on'>): string {
  if (kind === 'trigger') return `trigger ${dialect.quote(name)} on ${on}`
  const word = kind === 'function' && dialect.name === 'duckdb' ? 'macro' : kind
  return `${word} ${dialect.quote(schema)}.${dialect.quote(name)}`
}

/** The statement that says of something what it was made by. */
export function commenting(
  { dialect }: Database,
  schema: string,
  object: Pick<SchemaObject, 'kind' | 'name' | 'on'>,
  comment: string,
): string {
  return `comment on ${objectText(dialect, schema, object)} is ${textOf(comment)}`
}

/** A text as it is written in a statement. */
export function textOf(text: string): string {
  return `'${text.replaceAll("'", "''")}'`
}

/** An object of the schema with all statements that make it. */
export interface WantedObject extends SchemaObject {
  readonly comment: string
  readonly texts: readonly string[]
}

/** Puts statements together by what they make. */
export function wantedObjects(statements: readonly MakingStatement[]): WantedObject[] {
  const texts = new Map<string, Pick<SchemaObject, 'kind' | 'name' | 'on'> & { texts: string[]; basis: string[] }>()
  for (const { kind, name, text, on, standsOn = [] } of statements) {
    const made = kind === 'rows' ? 'table' : kind
    const key = `${made} ${name}`
    const found = texts.get(key) ?? { kind: made, name, on, texts: [], basis: [] }
    found.texts.push(text)
    found.basis.push(...standsOn)
    texts.set(key, found)
  }
  return [...texts.values()].map(({ basis, ...one }) => ({ ...one, comment: commentOf([...one.texts, ...basis]) }))
}
