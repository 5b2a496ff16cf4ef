import type Database from 'libsql'
import type { BookSnapshot } from 'mellow-abacus'
import { BookFileFault } from './book-file-fault.js'
import { pragma } from './open-database.js'

/** `MELL`: tells a workbook from other SQLite databases. */
const APPLICATION_ID = 0x4d454c4c

/**
 * Steps from one format version to the next; the version of a file is how many were taken. Columns keep the names that they were
 * made with, since a file that is only looked at is not rewritten: `seal` is a checksum, `image` a snapshot of the definitions.
 */
const UPGRADES: readonly string[] = [
  `
  CREATE TABLE journal (
    revision INTEGER PRIMARY KEY,
    kind TEXT NOT NULL CHECK (kind IN ('apply', 'undo', 'redo')),
    at TEXT NOT NULL,
    author TEXT NOT NULL,
    operations TEXT NOT NULL,
    inverse TEXT NOT NULL,
    summary TEXT NOT NULL
  );
  CREATE TABLE payloads (revision INTEGER NOT NULL, place INTEGER NOT NULL, head TEXT NOT NULL, PRIMARY KEY (revision, place));
  CREATE TABLE snapshot (one INTEGER PRIMARY KEY CHECK (one = 1), revision INTEGER NOT NULL, image TEXT NOT NULL, seal INTEGER NOT NULL);
  CREATE TABLE chunks (owner TEXT NOT NULL, place INTEGER NOT NULL, bytes BLOB NOT NULL, seal INTEGER NOT NULL, PRIMARY KEY (owner, place));
  `,
  // Rules and accepted findings came into the snapshot, where older tools would lose them; see upgradedSnapshot.
  '',
  // Steps and payloads have checksums; those of before have none, and are taken as they are.
  'ALTER TABLE journal ADD COLUMN seal INTEGER; ALTER TABLE payloads ADD COLUMN seal INTEGER;',
  // Who writes the workbook, for those who wait.
  'CREATE TABLE holder (one INTEGER PRIMARY KEY CHECK (one = 1), who TEXT NOT NULL);',
  // Undo of steps that are not the last one.
  'ALTER TABLE journal ADD COLUMN undoes INTEGER;',
  // Answers that are given again when the same is asked for under the same key.
  'CREATE TABLE answers (key TEXT PRIMARY KEY, fingerprint TEXT NOT NULL, seen TEXT NOT NULL, at INTEGER NOT NULL, answer TEXT NOT NULL) WITHOUT ROWID; CREATE INDEX answers_at ON answers (at);',
]
/** The first format whose steps and payloads have checksums. */
const CHECKSUM_VERSION = 3
/** The first format that says who writes. */
const HOLDER_VERSION = 4
/** The first format in which a step that is not the last one can be taken back. */
const STEPS_VERSION = 5

/** The newest format version that is understood. */
const FORMAT_VERSION: number = UPGRADES.length

/** Makes an empty database a workbook file. */
export function createSchema(database: Database.Database): void {
  database.exec(`PRAGMA application_id = ${APPLICATION_ID}`)
  upgradeFrom(database, 0)
}

/** What steps and payloads of a file have: checksums, and undo of steps that are not the last one. */
export function featuresOf(database: Database.Database): { readonly checksums: boolean; readonly ofSteps: boolean } {
  const version = pragma(database, 'user_version')
  return { checksums: version >= CHECKSUM_VERSION, ofSteps: version >= STEPS_VERSION }
}

/**
 * Brings a workbook file to the newest format. One that is only looked at stays as it is: what it lacks is made up for when
 * it is read.
 *
 * @throws BookFileFault when it is no workbook, or newer than this tool.
 */
export function upgradeSchema(database: Database.Database, path: string, writes: boolean): void {
  if (pragma(database, 'application_id') !== APPLICATION_ID)
    throw new BookFileFault('not-a-workbook', `${path} is no workbook: it is another kind of database.`)
  const version = pragma(database, 'user_version')
  if (version > FORMAT_VERSION)
    throw new BookFileFault(
      'newer-format',
      `${path} has format ${version}, and this tool knows formats up to ${FORMAT_VERSION}. A newer mellow opens it.`,
    )
  if (version < FORMAT_VERSION && writes) upgradeFrom(database, version)
}

function upgradeFrom(database: Database.Database, version: number): void {
  database.exec(`BEGIN IMMEDIATE; ${UPGRADES.slice(version).join('\n')}; PRAGMA user_version = ${FORMAT_VERSION}; COMMIT`)
}

/** Notes who writes a workbook from now on; null for no one. */
export function noteHolder(database: Database.Database, who: string | null): void {
  if (who === null) database.exec('DELETE FROM holder')
  else database.prepare('INSERT OR REPLACE INTO holder (one, who) VALUES (1, ?)').run(who)
}

/** Who writes a workbook, as far as it says. */
export function holderOf(database: Database.Database): string | null {
  if (pragma(database, 'user_version') < HOLDER_VERSION) return null
  const row = database.prepare('SELECT who FROM holder').get() as { who: string } | undefined
  return row?.who ?? null
}

/** An snapshot of this or an earlier format as one of this format: what an earlier one lacks is empty. */
export function upgradedSnapshot(snapshot: BookSnapshot): BookSnapshot {
  return {
    ...snapshot,
    acceptances: snapshot.acceptances ?? [],
    metadata: snapshot.metadata ?? [],
    tables: snapshot.tables.map((table) => ({ ...table, rules: table.rules ?? [] })),
  }
}
