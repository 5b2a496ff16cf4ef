import { describeRelation, type ModelSql, takeSample } from '@mellow-abacus/sql'
import fc from 'fast-check'
import { type OperationJson, Workbook } from 'mellow-abacus'
import {
  type Definition,
  LINKS,
  NAMES,
  rowOf,
  TABLES,
  type TableName,
  withNames,
} from '../../../core/tests/helpers/random-models.js'
import { asDatabase, attaching, sampledRows, tableOfDatabase } from './attached-book.js'
import type { TestEngine } from './engines.js'
import { publishIn } from './published.js'

const namesBefore = (definitions: readonly Definition[], index: number, table: TableName): string[] =>
  definitions.slice(0, index).flatMap((other, at) => (other.table === table ? [`x${at}`] : []))

/** The columns of a table, with the number of its row. */
export const columnsOf = (table: TableName): Record<string, string> => ({ ...TABLES[table], n: 'integer' })

/** A book of a random model; each table has the number of its row in column `n`. */
export function bookOf(rows: Record<TableName, readonly object[]>, definitions: readonly Definition[]): Workbook {
  return modelIn(
    new Workbook(),
    [],
    definitions,
    NAMES.map((table) => ({ op: 'insert-rows', table, rows: rows[table].map((row, n) => ({ ...row, n })) })),
  )
}

/** Makes the tables of the engine that books are attached to. */
export async function makeSources(engine: TestEngine, rows: Record<TableName, readonly object[]>): Promise<void> {
  await engine.run('drop schema if exists src cascade')
  await engine.run('create schema src')
  for (const table of NAMES) {
    const numbered = rows[table].map((row, n) => ({ ...row, n }))
    for (const text of tableOfDatabase(`src.${table}`, columnsOf(table), numbered, engine.name)) await engine.run(text)
  }
}

/** A book whose tables are attached to those of the engine. */
export async function attachedBook(engine: TestEngine, definitions: readonly Definition[]): Promise<Workbook> {
  const database = asDatabase(engine)
  const samples: OperationJson[] = []
  for (const table of NAMES) {
    const relation = await describeRelation(database, ['src', table])
    const sample = await takeSample(database, relation, { most: 1000, key: null, zone: 'UTC' })
    samples.push(sampledRows(table, sample), attaching(table, database, sample))
  }
  return modelIn(new Workbook(), samples, definitions, [])
}

function modelIn(
  book: Workbook,
  before: readonly OperationJson[],
  definitions: readonly Definition[],
  after: readonly OperationJson[],
): Workbook {
  const operations: OperationJson[] = [
    ...NAMES.map((table) => ({
      op: 'add-table',
      table,
      columns: Object.entries(columnsOf(table)).map(([name, type]) => ({ name, type })),
    })),
    ...before,
    ...definitions.map((one, index) => ({
      op: 'add-column',
      table: one.table,
      column: { name: `x${index}`, formula: withNames(one, `x${index}`, (of) => namesBefore(definitions, index, of)) },
    })),
    ...LINKS.map((link) => ({ op: 'add-link', ...link })),
    { op: 'set-value', name: 'price', value: 1.5 },
    { op: 'set-tally', table: 'takes', name: 'total_kg', formula: 'sum(kg where kg < 100)' },
    { op: 'set-tally', table: 'yards', name: 'hive_sum', formula: 'sum(every hives.frames)' },
    ...after,
  ]
  book.applyJson(operations)
  return book
}

/** Random rows of each table. */
export const randomRows: fc.Arbitrary<Record<TableName, object[]>> = fc.record({
  yards: fc.array(rowOf('yards'), { maxLength: 4, size: 'max' }),
  hives: fc.array(rowOf('hives'), { maxLength: 6, size: 'max' }),
  takes: fc.array(rowOf('takes'), { maxLength: 10, size: 'max' }),
})

/**
 * A random model published without the formulas that the engine has no form for.
 *
 * @param isAttached - whether its rows are those of tables of the engine, or are copied
 * @param more - what is defined besides
 */
export async function publishedModel(
  engine: TestEngine,
  rows: Record<TableName, readonly object[]>,
  definitions: readonly Definition[],
  isAttached = false,
  more: readonly OperationJson[] = [],
): Promise<{ readonly book: Workbook; readonly model: ModelSql; readonly held: number }> {
  let kept = definitions
  if (isAttached) await makeSources(engine, rows)
  for (;;) {
    const book = isAttached ? await attachedBook(engine, kept) : bookOf(rows, kept)
    book.applyJson(more)
    const model = await publishIn(engine, book)
    if (model.refused.length === 0) return { book, model, held: kept.length }
    const refused = new Set(model.refused.map(({ address }) => address))
    kept = kept.filter(({ table }, index) => !refused.has(`${table}.x${index}`))
  }
}
