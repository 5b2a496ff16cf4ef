/**
 * The model of a workbook as SQL: formulas that were written on a sample run where the data is, on engines that exist.
 * @module
 */

export { type Database, DatabaseFault, type DatabaseRow, openDatabase, parseAddress } from './databases/index.js'
export { type Dialect, DUCKDB, ENGINES, type EngineName, NoForm, POSTGRESQL } from './dialects/index.js'
export { functionsWithForm } from './formulas/index.js'
export {
  databaseOf,
  type Published,
  type PublishOptions,
  PublishRefusal,
  type PublishStep,
  publish,
  relationsNow,
} from './publishing/index.js'
export { type ChangedSource, type Refreshed, type RefreshedColumn, type RefreshOptions, refresh } from './refreshing/index.js'
export {
  type PlacedColumn,
  type PublishedOverShards,
  publishOverShards,
  readShardSettings,
  type Shard,
  type ShardedPublishOptions,
  type ShardSettings,
} from './shards/index.js'
export {
  describeRelation,
  type RelationFacts,
  readRelation,
  type SampledCell,
  type SampledColumn,
  type SampleOptions,
  SourceFault,
  type SourceSample,
  sourceOfSample,
  takeSample,
} from './sources/index.js'
export {
  type ApproximateColumn,
  type MakingStatement,
  type ModelSql,
  type ModelSqlOptions,
  modelSql,
  NOTICES,
  type RefusedFormula,
  refusedText,
} from './statements/index.js'
