import { type PublishedOverShards, PublishRefusal, publishOverShards, type ShardSettings } from '@mellow-abacus/sql'
import type { OperationJson, Workbook } from 'mellow-abacus'
import { type Definition, NAMES, type TableName } from '../../../core/tests/helpers/random-models.js'
import { asDatabase, tableOfDatabase } from './attached-book.js'
import type { TestEngine } from './engines.js'
import { attachedBook, columnsOf, makeSources } from './random-book.js'

/** Servers that rows are spread over, and the one that puts together what they give. */
export interface Servers {
  readonly coordinator: TestEngine
  readonly shards: readonly TestEngine[]
  readonly settings: ShardSettings
}

/** On which server a row is: by its hive. */
const shardOf = (row: Readonly<Record<string, unknown>>, count: number): number =>
  (row.hive === null || row.hive === undefined ? 0 : String(row.hive).charCodeAt(0)) % count

/** Makes the tables of a model on the servers: what people take from hives is spread by hive, everything else is on all of them. */
export async function spreadSources({ coordinator, shards }: Servers, rows: Record<TableName, readonly object[]>): Promise<void> {
  // The one that the sample is taken from has all rows.
  await makeSources(coordinator, rows)
  for (const [index, shard] of shards.entries()) {
    await shard.run('drop schema if exists src cascade')
    await shard.run('create schema src')
    for (const table of NAMES) {
      const numbered = rows[table].map((row, n): Record<string, unknown> => ({ ...row, n }))
      const own = table === 'takes' ? numbered.filter((row) => shardOf(row, shards.length) === index) : numbered
      for (const text of tableOfDatabase(`src.${table}`, columnsOf(table), own, shard.name)) await shard.run(text)
    }
  }
}

/** A random model published over servers, without what cannot be had so. */
export async function spreadModel(
  servers: Servers,
  rows: Record<TableName, readonly object[]>,
  definitions: readonly Definition[],
  gather: readonly string[] = [],
  more: readonly OperationJson[] = [],
): Promise<{ readonly book: Workbook; readonly published: PublishedOverShards; readonly held: number }> {
  let kept = definitions
  await spreadSources(servers, rows)
  const { coordinator, shards, settings } = servers
  for (;;) {
    const book = await attachedBook(coordinator, kept)
    book.applyJson(more)
    try {
      const open = async (address: string) => asDatabase(shards[Number(address)] as TestEngine)
      const database = asDatabase(coordinator)
      const published = await publishOverShards(book, database, open, { book: 'spread', schema: 'm', settings, gather })
      return { book, published, held: kept.length }
    } catch (error) {
      if (!(error instanceof PublishRefusal) || error.formulas.length === 0) throw error
      const refused = new Set(error.formulas.map(({ address }) => address))
      const fewer = kept.filter(({ table }, index) => !refused.has(`${table}.x${index}`))
      if (fewer.length === kept.length) throw error
      kept = fewer
    }
  }
}
