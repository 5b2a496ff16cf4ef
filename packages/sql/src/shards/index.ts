/**
 * A model over several servers: what each calculates of its rows, and what one of them makes of that. In come definitions and how
 * rows are spread, out go statements for the shards and for the coordinator. Start reading at `placement.ts`, then
 * `partial-totals.ts` and `sharded-model.ts`.
 * @module
 */
export { type PublishedOverShards, publishOverShards, type ShardedPublishOptions } from './publish-over-shards.js'
export { readShardSettings, type Shard, type ShardSettings } from './shard-settings.js'
export type { PlacedColumn } from './sharded-model.js'
