import type { SlimView } from 'mellow-abacus'
import { atOneMoment, type Database, DatabaseFault } from '../databases/index.js'
import { NoForm } from '../dialects/index.js'
import type { RelationFacts } from '../sources/index.js'
import {
  type ApproximateColumn,
  type MakingStatement,
  type ModelSql,
  type ModelSqlOptions,
  modelSql,
  refusedText,
} from '../statements/index.js'
import { relationsNow } from './attached-relations.js'
import {
  commenting,
  dropping,
  hasSchema,
  isOurs,
  objectsIn,
  type SchemaObject,
  textOf,
  type WantedObject,
  wantedObjects,
} from './in-schema.js'
import { settingsStatements } from './kept-settings.js'
import { PublishRefusal } from './refusal.js'

/** How a model is published. */
export interface PublishOptions {
  /** What the workbook is called: a schema holds the model of one. */
  readonly book: string
  /** The schema that everything is made in, and nothing outside of it; `mellow` unless given. */
  readonly schema?: string
  /** Says what would be done, and does nothing. */
  readonly preview?: boolean
  /** Formulas that are left out, and with them what reads them. */
  readonly leaveOut?: readonly string[]
  /** Columns, tallies and named values that are kept in tables, and refreshed when rows have changed. */
  readonly kept?: readonly string[]
  /** A column of sources that says when a row was last changed. */
  readonly since?: string | null
  /** True to have triggers on the sources note which rows change, which is consent to touch these tables. */
  readonly triggers?: boolean
  /** Takes over a schema that holds the model of another workbook. */
  readonly replaces?: boolean
}

/** Something that publishing makes, makes anew, leaves as it is or takes away. */
export interface PublishStep {
  readonly what: 'made' | 'changed' | 'kept' | 'removed'
  readonly kind: SchemaObject['kind']
  readonly name: string
}

/** What publishing did. */
export interface Published {
  readonly address: string
  readonly schema: string
  readonly steps: readonly PublishStep[]
  /** The statements that were run, or would be. */
  readonly statements: readonly string[]
  readonly approximate: readonly ApproximateColumn[]
  /** What was left out, as asked or because it reads what was. */
  readonly leftOut: readonly string[]
  /** What is kept, as asked and because what was asked for reads it. */
  readonly kept: readonly string[]
}

/** The table that says whose model a schema holds. */
export const OWNER = 'model!'

/**
 * Publishes the model of a workbook: its rows as tables and its formulas as views, in one schema and one transaction. Publishing
 * again changes only what has become different.
 *
 * @throws PublishRefusal where a formula has no form in the engine, where the schema is someone else's, or while another publisher
 * is at work; nothing is changed then
 */
export async function publish(book: SlimView, database: Database, options: PublishOptions): Promise<Published> {
  const schema = options.schema ?? 'mellow'
  await refuseCatalogName(database, schema)
  const relations = await relationsNow(book, database)
  const { leaveOut = [], kept = [], since = null, triggers = false } = options
  refuseNoSince(relations, since)
  if (triggers) await refuseNoTriggers(database, relations)
  const model = modelOrRefusal(book, database, { schema, leaveOut, relations, kept, since, triggers })
  refuseFormulas(model, database)
  const settings = kept.length === 0 ? [] : settingsStatements(database.dialect, schema, { kept, since, triggers })
  const { approximate, leftOut } = model
  const named = { address: database.address, schema, approximate, leftOut, kept: model.kept }
  return atOneMoment(database, async () => {
    await takeTurn(database, schema)
    return { ...named, ...(await bringInto(database, schema, [...settings, ...model.statements], options)) }
  })
}

/**
 * Has a schema hold what statements make, and nothing else of ours; within a transaction, and in one's turn.
 *
 * @throws PublishRefusal where the schema is someone else's
 */
export async function bringInto(
  database: Database,
  schema: string,
  made: readonly MakingStatement[],
  options: Pick<PublishOptions, 'book' | 'preview' | 'replaces'>,
): Promise<Pick<Published, 'steps' | 'statements'>> {
  const isThere = await hasSchema(database, schema)
  const found = isThere ? await objectsIn(database, schema) : []
  await refuseOthers(database, schema, found, options)
  const { steps, statements } = changesBetween(database, schema, found, wantedObjects(made), { isThere, book: options.book })
  if (options.preview === true) return { steps, statements }
  for (const statement of statements) await run(database, statement)
  if (options.replaces === true && isThere)
    await run(database, `update ${ownerTable(database, schema)} set book = ${textOf(options.book)}`)
  return { steps, statements }
}

function modelOrRefusal(book: SlimView, { dialect }: Database, options: ModelSqlOptions): ModelSql {
  try {
    return modelSql(book, dialect, options)
  } catch (error) {
    throw error instanceof NoForm ? new PublishRefusal(error.message) : error
  }
}

function refuseFormulas({ refused }: ModelSql, { dialect }: Database): void {
  if (refused.length === 0) return
  throw new PublishRefusal(refusedText(refused, dialect, ' Nothing was published.'), refused)
}

function refuseNoSince(relations: ReadonlyMap<string, RelationFacts>, since: string | null): void {
  if (since === null || [...relations.values()].some(({ columns }) => columns.some(({ name }) => name === since))) return
  throw new PublishRefusal(`no source has a column ${since}. Nothing was published.`)
}

/** Triggers note what is done to a table of the database itself; to a view, a partition or a table of elsewhere they do not. */
async function refuseNoTriggers(database: Database, relations: ReadonlyMap<string, RelationFacts>): Promise<void> {
  if (!database.dialect.hasTriggers) return
  for (const { path } of relations.values()) {
    const [schema, name] = path as [string, string]
    const [row] = await database.rows(
      `select c.relkind = 'r' and not c.relhassubclass and not c.relispartition as plain from pg_class c join pg_namespace n on n.oid = c.relnamespace where n.nspname = ${textOf(schema)} and c.relname = ${textOf(name)}`,
    )
    if (row?.plain !== true)
      throw new PublishRefusal(
        `${path.join('.')} is no plain table of the database, so triggers would miss changes. Leave --triggers out, or say with --since which column tells when a row was changed. Nothing was published.`,
      )
  }
}

/** In a DuckDB file that is called as a schema in it, neither we nor others could name what is in the schema. */
async function refuseCatalogName(database: Database, schema: string): Promise<void> {
  if (database.dialect.name !== 'duckdb') return
  const [row] = await database.rows('select current_database() as name')
  if (String(row?.name).toLowerCase() !== schema.toLowerCase()) return
  throw new PublishRefusal(
    `${database.address} goes by the name ${row?.name} itself, so that nothing in a schema ${schema} could be named. Publish to another with --schema.`,
  )
}

/** Lets one publisher of a schema work at a time. */
export async function takeTurn(database: Database, schema: string): Promise<void> {
  // DuckDB lets one process at a time have the file.
  if (database.dialect.name !== 'postgresql') return
  const [row] = await database.rows(
    `select pg_try_advisory_xact_lock(hashtextextended(${textOf(`mellow abacus ${schema}`)}, 0)) as mine`,
  )
  if (row?.mine !== true) throw new PublishRefusal(`another publisher is at work on schema ${schema}. Nothing was published.`)
}

function ownerTable({ dialect }: Database, schema: string): string {
  return `${dialect.quote(schema)}.${dialect.quote(OWNER)}`
}

async function refuseOthers(
  database: Database,
  schema: string,
  found: readonly SchemaObject[],
  options: Pick<PublishOptions, 'book' | 'replaces'>,
): Promise<void> {
  if (found.length === 0) return
  if (!found.some(({ kind, name, comment }) => kind === 'table' && name === OWNER && comment !== null))
    throw new PublishRefusal(
      `schema ${schema} is there already and is not one that a workbook was published to. Publish to another with --schema.`,
    )
  await refuseOtherOwner(database, schema, options)
}

/**
 * Refuses a schema that holds the model of another workbook.
 *
 * @throws PublishRefusal
 */
export async function refuseOtherOwner(
  database: Database,
  schema: string,
  options: Pick<PublishOptions, 'book' | 'replaces'>,
): Promise<void> {
  const [owner] = await database.rows(`select book from ${ownerTable(database, schema)}`)
  const other = String(owner?.book)
  if (other === options.book || options.replaces === true) return
  throw new PublishRefusal(
    `schema ${schema} holds the model of ${other}. Publish to another with --schema, or take it over with --replace.`,
  )
}

/** What has to be done so that a schema holds what is wanted. */
function changesBetween(
  database: Database,
  schema: string,
  found: readonly SchemaObject[],
  wanted: readonly WantedObject[],
  at: { readonly isThere: boolean; readonly book: string },
): { readonly steps: PublishStep[]; readonly statements: string[] } {
  const key = ({ kind, name }: Pick<SchemaObject, 'kind' | 'name'>): string => `${kind} ${name}`
  const there = new Map(found.map((one) => [key(one), one]))
  const asked = new Set(wanted.map(key))
  const taken = wanted.find((one) => there.has(key(one)) && !isOurs(there.get(key(one)) as SchemaObject))
  const other =
    taken ??
    wanted.find((one) =>
      found.some((two) => two.name === one.name && two.kind !== one.kind && one.kind !== 'function' && two.kind !== 'function'),
    )
  if (other !== undefined)
    throw new PublishRefusal(`schema ${schema} has a ${other.kind} ${other.name} of someone else. Nothing was published.`)
  const isSame = (one: WantedObject): boolean => there.get(key(one))?.comment === one.comment
  const gone = found.filter((one) => isOurs(one) && one.name !== OWNER && !asked.has(key(one)))
  // Views stand on tables and functions: where one of those changes, they are made anew.
  const isBaseChanged = wanted.some((one) => isBase(one) && there.has(key(one)) && !isSame(one)) || gone.some(isBase)
  const isKept = (one: WantedObject): boolean => isSame(one) && !(isBaseChanged && one.kind === 'view')
  const steps: PublishStep[] = []
  const drops: string[] = []
  const makes: string[] = []
  for (const one of [...found].sort((a, b) => ORDER[a.kind] - ORDER[b.kind])) {
    const same = wanted.find((two) => key(two) === key(one))
    if (!isOurs(one) || one.name === OWNER || (same !== undefined && isKept(same))) continue
    drops.push(dropping(database, schema, one))
    if (same === undefined) steps.push({ what: 'removed', kind: one.kind, name: one.name })
  }
  for (const one of wanted) {
    const what = !there.has(key(one)) ? 'made' : isKept(one) ? 'kept' : 'changed'
    steps.push({ what, kind: one.kind, name: one.name })
    if (isKept(one)) continue
    makes.push(...one.texts, commenting(database, schema, one, one.comment))
  }
  const begins = found.length === 0 ? beginnings(database, schema, at) : []
  return { steps, statements: [...begins, ...drops, ...makes] }
}

/** Triggers go before their functions, views before tables, and tables before functions. */
const ORDER: Readonly<Record<SchemaObject['kind'], number>> = { trigger: 0, view: 1, table: 2, 'foreign table': 2, function: 3 }

/** True for what views stand on. */
function isBase({ kind }: Pick<SchemaObject, 'kind'>): boolean {
  return kind === 'table' || kind === 'foreign table' || kind === 'function'
}

/** The statements that make the schema, and say whose model it holds. */
function beginnings(
  database: Database,
  schema: string,
  { isThere, book }: { readonly isThere: boolean; readonly book: string },
): string[] {
  const owner = { kind: 'table', name: OWNER } as const
  return [
    ...(isThere ? [] : [`create schema ${database.dialect.quote(schema)}`]),
    `create table ${ownerTable(database, schema)} (book text not null)`,
    `insert into ${ownerTable(database, schema)} values (${textOf(book)})`,
    commenting(database, schema, owner, 'mellow abacus: the workbook whose model this schema holds'),
  ]
}

async function run(database: Database, statement: string): Promise<void> {
  try {
    await database.run(statement)
  } catch (error) {
    const first = statement.split('\n')[0]?.slice(0, 120)
    throw new DatabaseFault(`${(error as Error).message} Nothing was published. It was at: ${first}`)
  }
}
