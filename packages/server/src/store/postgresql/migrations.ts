import type pg from 'pg'
import { ask, StoreFault, together } from './connection.js'

/** The schema of the store. Nothing outside of it is touched. */
export const SCHEMA = 'mellow_store'

/**
 * Steps from one form of the store to the next; its number is how many were taken. The tables from `snapshot` to `answers` have the
 * columns of those of a workbook file.
 */
const MIGRATIONS: readonly string[] = [
  `
  create table books (id bigint generated always as identity primary key, name text not null unique, made timestamptz not null default now());
  create table snapshot (
    book bigint not null references books on delete cascade, one integer not null, revision bigint not null, image text not null,
    seal bigint not null, primary key (book, one)
  );
  create table journal (
    book bigint not null references books on delete cascade, revision bigint not null, kind text not null, at text not null,
    author text not null, operations text not null, inverse text not null, summary text not null, undoes bigint, seal bigint,
    primary key (book, revision)
  );
  create table payloads (
    book bigint not null references books on delete cascade, revision bigint not null, place integer not null, head text not null,
    seal bigint, primary key (book, revision, place)
  );
  create table chunks (
    book bigint not null references books on delete cascade, owner text not null, place integer not null, bytes bytea not null,
    seal bigint not null, primary key (book, owner, place)
  );
  create table answers (
    book bigint not null references books on delete cascade, key text not null, fingerprint text not null, seen text not null,
    at bigint not null, answer text not null, primary key (book, key)
  );
  create table servers (id uuid primary key, address text not null, beat timestamptz not null, is_draining boolean not null default false);
  create table leases (
    book bigint primary key references books on delete cascade, owner uuid not null, fence bigint not null,
    expires timestamptz not null, unique (book, fence)
  );
  create table appends (book bigint primary key references books on delete cascade, append uuid not null);
  create table audit (id bigint generated always as identity primary key, line jsonb not null);
  `,
]

/** What a store begins with. */
const BEGINNING = `
  create schema ${SCHEMA};
  create table ${SCHEMA}.migrations (number integer primary key, taken timestamptz not null default now());
`

/** The lock under which the store is brought to its newest form: one number that nothing else of this tool locks. */
const LOCK = 4_747_001

/**
 * Brings the store to its newest form, in one transaction.
 *
 * @throws StoreFault where the schema is someone else's, or newer than this tool
 */
export function migrate(pool: pg.Pool): Promise<void> {
  return together(pool, async (client) => {
    await ask(client, 'select pg_advisory_xact_lock($1)', [LOCK])
    const taken = await migrationsTaken(client)
    if (taken > MIGRATIONS.length)
      throw new StoreFault(
        `store: it has form ${taken}, and this tool knows forms up to ${MIGRATIONS.length}. A newer mellow opens it.`,
      )
    if (taken === 0) await client.query(BEGINNING)
    await ask(client, `set local search_path = ${SCHEMA}`)
    for (const [index, statements] of MIGRATIONS.entries()) {
      if (index < taken) continue
      await client.query(statements)
      await ask(client, 'insert into migrations (number) values ($1)', [index + 1])
    }
  })
}

/** How many migrations were taken; 0 where there is no store. */
async function migrationsTaken(client: pg.PoolClient): Promise<number> {
  const [found] = await ask<{ isThere: boolean; isStore: boolean; encoding: string }>(
    client,
    `select to_regnamespace('${SCHEMA}') is not null as "isThere", to_regclass('${SCHEMA}.migrations') is not null as "isStore",
      pg_encoding_to_char(encoding) as encoding from pg_database where datname = current_database()`,
  )
  const { isThere = false, isStore = false, encoding = '' } = found ?? {}
  if (encoding !== 'UTF8') throw new StoreFault(`store: the database has the encoding ${encoding}, and workbooks need UTF8.`)
  if (!isThere) return 0
  if (!isStore) throw new StoreFault(`store: there is a schema ${SCHEMA} that is someone else's.`)
  const [numbers] = await ask<{ taken: number }>(client, `select coalesce(max(number), 0) as taken from ${SCHEMA}.migrations`)
  return numbers?.taken ?? 0
}
