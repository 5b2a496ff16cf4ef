import { NoForm } from '../dialects/index.js'

/** A server that has a part of the rows. */
export interface Shard {
  /** What the coordinator calls it: the name of a foreign server there. */
  readonly server: string
  /** Where it is reached to publish to it. */
  readonly address: string
}

/** How rows are spread over servers. */
export interface ShardSettings {
  readonly shards: readonly Shard[]
  /** The tables whose rows are spread, with the columns by which: rows that are equal in them are on the same server. All others are whole on each. */
  readonly tables: Readonly<Record<string, readonly string[]>>
}

/**
 * Reads how rows are spread.
 *
 * @throws NoForm naming what is not as it should be
 */
export function readShardSettings(json: unknown): ShardSettings {
  const { shards, tables } = (json ?? {}) as Record<string, unknown>
  if (!Array.isArray(shards) || shards.length === 0)
    throw new NoForm('"shards" lists the servers: [{ "server": …, "address": … }].')
  const read = shards.map((one: unknown): Shard => {
    const { server, address } = (one ?? {}) as Record<string, unknown>
    if (typeof server !== 'string' || typeof address !== 'string')
      throw new NoForm('each of "shards" has "server", the name of a foreign server, and "address".')
    return { server, address }
  })
  if (new Set(read.map(({ server }) => server)).size < read.length) throw new NoForm('two of "shards" have the same "server".')
  if (typeof tables !== 'object' || tables === null || Array.isArray(tables) || Object.keys(tables).length === 0)
    throw new NoForm('"tables" says by which columns the rows of a table are spread: { "harvests": "hive" }.')
  const spread = Object.entries(tables).map(([table, columns]: [string, unknown]) => {
    const list = Array.isArray(columns) ? columns : [columns]
    if (list.length === 0 || !list.every((one): one is string => typeof one === 'string'))
      throw new NoForm(`"tables", ${table}: expected a column, or a list of columns.`)
    return [table, list] as const
  })
  return { shards: read, tables: Object.fromEntries(spread) }
}
