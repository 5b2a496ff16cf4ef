import type { SlimView } from 'mellow-abacus'
import { atOneMoment, type Database, DatabaseFault } from '../databases/index.js'
import { NoForm } from '../dialects/index.js'
import {
  bringInto,
  OWNER,
  objectsIn,
  type Published,
  type PublishOptions,
  PublishRefusal,
  refuseOtherOwner,
  relationsNow,
  takeTurn,
} from '../publishing/index.js'
import type { RelationFacts } from '../sources/index.js'
import { type MakingStatement, type ModelSql, refusedText } from '../statements/index.js'
import type { ShardSettings } from './shard-settings.js'
import { type PlacedColumn, type ShardedModel, shardedModel } from './sharded-model.js'

/** How a model is published over several servers. */
export interface ShardedPublishOptions extends Pick<PublishOptions, 'book' | 'schema' | 'preview' | 'leaveOut' | 'replaces'> {
  readonly settings: ShardSettings
  /** Tables whose rows may all be brought to the coordinator. */
  readonly gather?: readonly string[]
}

/** What publishing over several servers did. */
export interface PublishedOverShards extends Published {
  readonly placed: readonly PlacedColumn[]
  /** The schema on the shards, and what was made of it there: nothing where it was there as it is. */
  readonly shardSchema: string
  readonly shardStatements: readonly string[]
  /** Schemas of before that are still there, since others have made something in or of them. */
  readonly leftBehind: readonly string[]
}

/** The table that says which schema the shards have. */
const VERSION = 'shards!'

/**
 * Publishes a model over several servers. Each shard gets a schema under a new name first; then the coordinator goes over to it, in
 * one transaction; then the old ones are taken away. Where anything fails before that, everything is as it was.
 *
 * @param open - connects to a shard by its address
 * @throws PublishRefusal as `publish`, and where a foreign server is missing, or a formula would bring all rows to one place
 */
export async function publishOverShards(
  book: SlimView,
  coordinator: Database,
  open: (address: string) => Promise<Database>,
  options: ShardedPublishOptions,
): Promise<PublishedOverShards> {
  const { settings, schema = 'mellow' } = options
  if (coordinator.dialect.name !== 'postgresql') throw new PublishRefusal('a model is spread over servers of PostgreSQL.')
  await refuseMissingServers(coordinator, settings)
  const shards: Database[] = []
  try {
    for (const { address } of settings.shards) shards.push(await open(address))
    return await withShards(book, coordinator, shards, { ...options, schema })
  } finally {
    for (const shard of shards) await shard.close()
  }
}

async function withShards(
  book: SlimView,
  coordinator: Database,
  shards: readonly Database[],
  options: ShardedPublishOptions & { readonly schema: string },
): Promise<PublishedOverShards> {
  const { schema, preview = false } = options
  const facts = await Promise.all(shards.map((shard) => relationsNow(book, shard, true, true)))
  const relations = together(facts, options.settings)
  const last = await versionOf(coordinator, schema)
  const write = (version: number): ShardedModel =>
    modelOrRefusal(book, coordinator, { ...options, relations, shardSchema: versioned(schema, version) })
  const now = write(last ?? 1)
  const isThere = last !== null && (await isWhole(shards, now.shard, options.book))
  const version = isThere ? last : (last ?? 0) + 1
  const model = isThere || last === null ? now : write(version)
  const shardSchema = versioned(schema, version)
  const made = isThere ? [] : model.shard.statements
  const settled = [...versionStatements(coordinator, schema, version), ...model.coordinator.statements]
  const named = {
    address: coordinator.address,
    schema,
    approximate: bothOf(model),
    leftOut: model.leftOut,
    kept: [],
    placed: model.placed,
    shardSchema,
  }
  const shardStatements = made.map(({ text }) => text)
  const owner = { book: options.book, ...(options.replaces !== undefined && { replaces: options.replaces }) }
  const done = await atOneMoment(coordinator, async () => {
    await takeTurn(coordinator, schema)
    if (preview) return bringInto(coordinator, schema, settled, { ...owner, preview })
    const begun: Database[] = []
    try {
      if (!isThere)
        for (const shard of shards) {
          begun.push(shard)
          await atOneMoment(shard, () => bringInto(shard, shardSchema, made, { book: options.book }))
        }
      return await bringInto(coordinator, schema, settled, owner)
    } catch (error) {
      for (const shard of begun) await takeAway(shard, shardSchema, options.book)
      throw error
    }
  })
  const leftBehind: string[] = []
  if (!preview && !isThere && last !== null)
    for (const shard of shards) {
      const before = versioned(schema, last)
      if (!(await takeAway(shard, before, options.book))) leftBehind.push(`${before} of ${shard.address}`)
    }
  return { ...named, ...done, shardStatements, leftBehind }
}

/**
 * Takes a schema of ours away, as far as it is there and ours; what others have made in it, or of it, keeps it there.
 *
 * @returns false where it is still there
 */
async function takeAway(shard: Database, schema: string, book: string): Promise<boolean> {
  if (!(await isOurs(shard, schema, book))) return true
  const { quote } = shard.dialect
  try {
    await atOneMoment(shard, async () => {
      await bringInto(shard, schema, [], { book })
      await shard.run(`drop table ${quote(schema)}.${quote(OWNER)}; drop schema ${quote(schema)}`)
    })
    return true
  } catch (error) {
    if (error instanceof DatabaseFault) return false
    throw error
  }
}

/** True where a server has a schema of ours. */
async function isOurs(shard: Database, schema: string, book: string): Promise<boolean> {
  const found = await objectsIn(shard, schema)
  if (!found.some(({ kind, name }) => kind === 'table' && name === OWNER)) return false
  await refuseOtherOwner(shard, schema, { book })
  return true
}

/** True where all servers have everything of a model as it is. */
async function isWhole(shards: readonly Database[], { schema, statements }: ModelSql, book: string): Promise<boolean> {
  for (const shard of shards) {
    if (!(await isOurs(shard, schema, book))) return false
    const { steps } = await bringInto(shard, schema, statements, { book, preview: true })
    if (steps.some(({ what }) => what !== 'kept')) return false
  }
  return true
}

const versioned = (schema: string, version: number): string => `${schema}!${version}`

function versionStatements({ dialect: { quote } }: Database, schema: string, version: number): MakingStatement[] {
  const name = `${quote(schema)}.${quote(VERSION)}`
  return [
    { kind: 'table', name: VERSION, text: `create table ${name} (version integer not null)` },
    { kind: 'rows', name: VERSION, text: `insert into ${name} values (${version})` },
  ]
}

/** The number of the schema that the shards have; null where they have none. */
async function versionOf(coordinator: Database, schema: string): Promise<number | null> {
  const found = await objectsIn(coordinator, schema)
  if (!found.some(({ kind, name }) => kind === 'table' && name === VERSION)) return null
  const { quote } = coordinator.dialect
  const [row] = await coordinator.rows(`select version from ${quote(schema)}.${quote(VERSION)}`)
  return Number(row?.version)
}

function modelOrRefusal(
  book: SlimView,
  { dialect }: Database,
  {
    settings,
    schema,
    shardSchema,
    relations,
    leaveOut = [],
    gather = [],
  }: ShardedPublishOptions & {
    readonly schema: string
    readonly shardSchema: string
    readonly relations: ReadonlyMap<string, RelationFacts>
  },
): ShardedModel {
  let model: ShardedModel
  try {
    model = shardedModel(book, { dialect, schema, shardSchema, settings, relations, leaveOut, gather })
  } catch (error) {
    throw error instanceof NoForm ? new PublishRefusal(error.message) : error
  }
  if (model.refused.length > 0)
    throw new PublishRefusal(refusedText(model.refused, dialect, ' Nothing was published.'), model.refused)
  return model
}

function bothOf({ shard, coordinator }: ShardedModel): Published['approximate'] {
  return [...new Map([...shard.approximate, ...coordinator.approximate].map((one) => [one.address, one])).values()]
}

/** What several servers say of the same relations: what holds on all of them. */
function together(
  facts: readonly ReadonlyMap<string, RelationFacts>[],
  { tables }: ShardSettings,
): ReadonlyMap<string, RelationFacts> {
  const spread = new Set(Object.keys(tables).map((name) => name.toLowerCase()))
  const [first, ...others] = facts as [ReadonlyMap<string, RelationFacts>, ...ReadonlyMap<string, RelationFacts>[]]
  return new Map(
    [...first].map(([table, own]) => {
      const all = [own, ...others.map((one) => one.get(table) as RelationFacts)]
      const columns = own.columns.map((column) => {
        const same = all.map((one) => one.columns.find(({ name }) => name === column.name))
        if (same.some((one) => one?.type !== column.type))
          throw new PublishRefusal(
            `${own.path.join('.')} has not the same column ${column.name} on every server. Nothing was published.`,
          )
        return {
          ...column,
          isFull: same.every((one) => one?.isFull === true),
          isUsual: same.every((one) => one?.isUsual === true),
        }
      })
      const rows = all.map((one) => one.rows ?? 0)
      const isSpread = spread.has(table.toLowerCase())
      return [table, { ...own, columns, rows: isSpread ? rows.reduce((sum, one) => sum + one, 0) : Math.max(...rows) }] as const
    }),
  )
}

/** Refuses servers that the coordinator does not know; making them, and saying who one is there, is for who looks after it. */
async function refuseMissingServers(coordinator: Database, { shards }: ShardSettings): Promise<void> {
  const known = new Set((await coordinator.rows('select srvname as name from pg_foreign_server')).map(({ name }) => String(name)))
  const missing = shards.filter(({ server }) => !known.has(server))
  const [first] = missing
  if (first === undefined) return
  const names = missing.map(({ server }) => server).join(', ')
  throw new PublishRefusal(
    `${coordinator.address} knows no foreign server ${names}. Whoever looks after it makes one (create extension postgres_fdw; create server ${first.server} foreign data wrapper postgres_fdw options (host '…', dbname '…'); create user mapping for … server ${first.server}). Nothing was published.`,
  )
}
