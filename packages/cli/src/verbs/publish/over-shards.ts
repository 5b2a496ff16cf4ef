import { readFileSync } from 'node:fs'
import {
  NoForm,
  type PlacedColumn,
  type PublishedOverShards,
  publishOverShards,
  readShardSettings,
  type ShardedPublishOptions,
  type ShardSettings,
} from '@mellow-abacus/sql'
import type { WorkbookView } from 'mellow-abacus'
import { openAddress } from '../../reading/index.js'
import { readReason, UsageFault } from '../../shell/index.js'
import { withDatabase } from './with-database.js'

/** What `mellow publish` is told of several servers, and what does not go with them. */
export interface ShardArguments {
  readonly to: string
  readonly shards?: string
  readonly gather?: readonly string[]
  readonly kept?: readonly string[]
  readonly output?: string
}

/**
 * How rows are spread; null where they are not.
 *
 * @throws UsageFault for a file that does not say it, and for what does not go with it
 */
export function settingsOf({ shards, gather = [], kept = [], output }: ShardArguments): ShardSettings | null {
  if (shards === undefined) {
    if (gather.length > 0) throw new UsageFault('--gather is for rows that are spread: say how with --shards.')
    return null
  }
  if (kept.length > 0) throw new UsageFault('what is kept stands on one server: leave --kept or --shards out.')
  if (output !== undefined)
    throw new UsageFault('statements for several servers are shown by --preview, and not written to a file.')
  try {
    return readShardSettings(JSON.parse(readFileSync(shards, 'utf8')))
  } catch (error) {
    const reason = error instanceof NoForm || error instanceof SyntaxError ? error.message : readReason(error)
    throw new UsageFault(`cannot read ${shards}: ${reason}`)
  }
}

/** Publishes over several servers. */
export function overShards(
  book: WorkbookView,
  settings: ShardSettings,
  options: Omit<ShardedPublishOptions, 'settings'>,
  { to, gather = [] }: ShardArguments,
): Promise<PublishedOverShards> {
  return withDatabase(to, (database) => publishOverShards(book, database, openAddress, { ...options, settings, gather }))
}

/** Where each column is calculated, in a line each. */
export function placesText({ placed, shardSchema }: PublishedOverShards): string {
  const width = Math.max(0, ...placed.map(({ address }) => address.length))
  const lines = placed.map(({ address, place }) => `  ${address.padEnd(width)}  ${PLACES[place]}`)
  return `${[`on the shards, schema ${shardSchema}:`, ...lines].join('\n')}\n`
}

const PLACES: Readonly<Record<PlacedColumn['place'], string>> = {
  everywhere: 'on every server alike',
  shard: 'on the shard that has the row',
  'in two steps': 'in two steps: totals of each shard, and of those',
  coordinator: 'where they are put together',
}
