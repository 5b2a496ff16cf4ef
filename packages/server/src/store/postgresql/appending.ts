import { BOOK_TABLES, type BookTable, type RowValue, type WrittenRow } from '@mellow-abacus/files'
import { SCHEMA } from './migrations.js'

/** A statement with its parameters. */
export interface Statement {
  readonly text: string
  readonly values: readonly unknown[]
}

/** Bytes of one statement, about: more is written by several. */
const MOST_BYTES = 16_000_000

/** Types of columns that are no texts. */
const TYPES: Readonly<Record<string, string>> = {
  one: 'integer',
  revision: 'bigint',
  undoes: 'bigint',
  seal: 'bigint',
  place: 'integer',
  bytes: 'bytea',
}

const typeOf = (table: BookTable, column: string): string =>
  table === 'answers' && column === 'at' ? 'bigint' : (TYPES[column] ?? 'text')

type Row = readonly RowValue[]

/** What is to be done to the tables of a workbook so that they are as if everything had been written in its order. */
interface Outcome {
  readonly rows: Map<BookTable, Map<string, Row>>
  readonly droppedOwners: Set<string>
  droppedBefore: number | null
}

/** Whose tables are written, and what must hold for that. */
export interface Written {
  readonly book: number
  /** A query that gives one row where the tables may be written; `parameters` are the first ones. */
  readonly may: string
  readonly parameters: readonly unknown[]
  /** What is written besides, from `may`. */
  readonly besides?: string
}

/** The statements that write rows, each as a whole or, where it may not, not at all; the first column tells how many rows `may` gave. */
export function appending(written: readonly WrittenRow[], where: Written): Statement[] {
  const outcome = outcomeOf(written)
  const statements: Statement[] = []
  let batch = new Map<BookTable, Row[]>()
  let bytes = 0
  const end = (): void => {
    statements.push(statementOf(batch, statements.length === 0 ? outcome : null, where))
    batch = new Map()
    bytes = 0
  }
  for (const [table, rows] of outcome.rows)
    for (const row of rows.values()) {
      if (bytes > MOST_BYTES) end()
      batch.set(table, [...(batch.get(table) ?? []), row])
      bytes += sizeOf(row)
    }
  end()
  return statements
}

/** What is left of rows that were written over, and of owners that were dropped and written again. */
function outcomeOf(written: readonly WrittenRow[]): Outcome {
  const outcome: Outcome = { rows: new Map(), droppedOwners: new Set(), droppedBefore: null }
  for (const one of written) {
    if ('droppedOwner' in one) {
      outcome.droppedOwners.add(one.droppedOwner)
      for (const [key, [owner]] of outcome.rows.get('chunks') ?? [])
        if (owner === one.droppedOwner) outcome.rows.get('chunks')?.delete(key)
    } else if ('droppedBefore' in one) outcome.droppedBefore = Math.max(one.droppedBefore, outcome.droppedBefore ?? 0)
    else {
      const rows = outcome.rows.get(one.table) ?? new Map<string, Row>()
      rows.set(keyOf(one.table, one.row), one.row)
      outcome.rows.set(one.table, rows)
    }
  }
  return outcome
}

function keyOf(table: BookTable, row: Row): string {
  const { columns, key }: { readonly columns: readonly string[]; readonly key: readonly string[] } = BOOK_TABLES[table]
  return JSON.stringify(key.map((column) => row[columns.indexOf(column)]))
}

function sizeOf(row: Row): number {
  return row.reduce<number>((sum, value) => sum + (value instanceof Uint8Array ? value.length * 2 : String(value).length), 0)
}

function statementOf(
  batch: ReadonlyMap<BookTable, readonly Row[]>,
  drops: Outcome | null,
  { book, may, parameters, besides }: Written,
): Statement {
  const values: unknown[] = [...parameters]
  const parameter = (value: unknown, type: string): string => `$${values.push(value)}::${type}`
  const parts = [`may as (${may})`]
  if (besides !== undefined) parts.push(`besides as (${besides})`)
  for (const [table, rows] of batch) parts.push(`${table}_put as (${putting(table, rows, book, parameter)})`)
  if (drops !== null && drops.droppedOwners.size > 0) {
    const chunks = [...(drops.rows.get('chunks')?.values() ?? [])]
    const owners = parameter([...drops.droppedOwners], 'text[]')
    // What is written again is written in its place: one statement must not touch a row twice.
    const again = `select * from unnest(${parameter(
      chunks.map(([owner]) => owner),
      'text[]',
    )}, ${parameter(
      chunks.map(([, place]) => place),
      'integer[]',
    )})`
    parts.push(
      `chunks_drop as (delete from ${SCHEMA}.chunks where book = ${parameter(book, 'bigint')} and exists (select from may) and owner = any(${owners}) and (owner, place) not in (${again}))`,
    )
  }
  if (drops !== null && drops.droppedBefore !== null) {
    const again = [...(drops.rows.get('answers')?.values() ?? [])].map(([key]) => key)
    parts.push(
      `answers_drop as (delete from ${SCHEMA}.answers where book = ${parameter(book, 'bigint')} and exists (select from may) and at < ${parameter(drops.droppedBefore, 'bigint')} and key <> all(${parameter(again, 'text[]')}))`,
    )
  }
  return { text: `with ${parts.join(',\n')}\nselect count(*) as held from may`, values }
}

function putting(
  table: BookTable,
  rows: readonly Row[],
  book: number,
  parameter: (value: unknown, type: string) => string,
): string {
  const {
    columns,
    key,
    isReplaced,
  }: { readonly columns: readonly string[]; readonly key: readonly string[]; readonly isReplaced: boolean } = BOOK_TABLES[table]
  const arrays = columns.map((column, index) =>
    parameter(
      rows.map((row) => asParameter(row[index])),
      `${typeOf(table, column)}[]`,
    ),
  )
  const names = columns.join(', ')
  const others = columns.filter((column) => !key.includes(column))
  const replaced = ` on conflict (book, ${key.join(', ')}) do update set ${others.map((column) => `${column} = excluded.${column}`).join(', ')}`
  return `insert into ${SCHEMA}.${table} (book, ${names}) select ${parameter(book, 'bigint')}, x.* from may, unnest(${arrays.join(', ')}) as x(${names})${isReplaced ? replaced : ''}`
}

/** Bytes as the driver takes them. */
function asParameter(value: RowValue | undefined): RowValue | undefined {
  return value instanceof Uint8Array ? Buffer.from(value.buffer, value.byteOffset, value.byteLength) : value
}
