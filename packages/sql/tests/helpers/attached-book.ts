import {
  type Database,
  DUCKDB,
  describeRelation,
  type EngineName,
  POSTGRESQL,
  type SourceSample,
  sourceOfSample,
  takeSample,
} from '@mellow-abacus/sql'
import type { OperationJson, Workbook } from 'mellow-abacus'
import type { TestEngine } from './engines.js'

/** An engine as a database that a model is attached and published to. */
export function asDatabase(engine: TestEngine): Database {
  return {
    dialect: engine.name === 'duckdb' ? DUCKDB : POSTGRESQL,
    address: engine.name,
    keptAddress: engine.name,
    run: engine.run,
    rows: engine.rows,
    heard: null,
    close: engine.close,
  }
}

/** What makes a table of a workbook hold a sample. */
export function attaching(table: string, database: Database, sample: SourceSample): OperationJson {
  const { key } = sample
  const set = { source: sourceOfSample(database, sample), ...(key !== null && { key: [...key] }) }
  return { op: 'change-table', table, set: JSON.parse(JSON.stringify(set)) }
}

/** The rows of a sample as an operation. */
export function sampledRows(table: string, { columns, rowCount }: SourceSample): OperationJson {
  return {
    op: 'insert-rows',
    table,
    count: rowCount,
    block: Object.fromEntries(columns.map(({ of, cells }) => [of, [...cells]])),
  }
}

/** Makes a table of a sample in a workbook, and attaches it. */
export async function attachIn(
  book: Workbook,
  table: string,
  database: Database,
  path: readonly string[],
  key: readonly string[] | null = null,
): Promise<SourceSample> {
  const { zone } = book.surroundings
  const sample = await takeSample(database, await describeRelation(database, path), { most: 1e9, key, zone })
  const columns = sample.columns.map(({ of, type }) => ({ name: of, type }))
  book.applyJson([{ op: 'add-table', table, columns }, sampledRows(table, sample), attaching(table, database, sample)])
  return sample
}

/** How types of a workbook are called by engines where rows of theirs are made for a test. */
const STORED: Readonly<Record<string, string>> = {
  number: 'float8',
  integer: 'bigint',
  text: 'text',
  boolean: 'boolean',
  date: 'date',
}

/** Values that an engine has and a workbook cannot take, in place of misfits. */
const UNFIT: Readonly<Record<string, string>> = { number: "'nan'", date: "'infinity'" }

/** The statements that make a table of a database with rows as a workbook writes them; `n` is its key. */
export function tableOfDatabase(
  name: string,
  columns: Readonly<Record<string, string>>,
  rows: readonly Readonly<Record<string, unknown>>[],
  engine: EngineName,
): string[] {
  const heads = Object.entries(columns).map(
    ([column, type]) => `"${column}" ${STORED[type]}${column === 'n' ? ' primary key' : ''}`,
  )
  const literal = (value: unknown, type: string): string => {
    if (value === null || value === undefined) return 'null'
    if (typeof value === 'object') return UNFIT[type] ?? 'null'
    if (typeof value === 'string') return `'${value.replaceAll("'", "''")}'`
    // A zero with a sign is one that a workbook does not have.
    return value === 0 && type === 'number' ? "'-0'" : String(value)
  }
  const texts = rows.map(
    (row) =>
      `(${Object.entries(columns)
        .map(([column, type]) => literal(row[column], type))
        .join(', ')})`,
  )
  const unlogged = engine === 'postgresql' ? 'unlogged ' : ''
  return [
    `create ${unlogged}table ${name} (${heads.join(', ')})`,
    ...(texts.length === 0 ? [] : [`insert into ${name} values ${texts.join(', ')}`]),
  ]
}
