import type { Database } from '../databases/index.js'
import type { Dialect } from '../dialects/index.js'
import type { MakingStatement } from '../statements/index.js'
import { objectsIn, textOf } from './in-schema.js'

/** What a model was published with, so that what it keeps can be refreshed. */
export interface KeptSettings {
  /** The columns, tallies and named values that were asked for. */
  readonly kept: readonly string[]
  readonly since: string | null
  readonly triggers: boolean
}

/** The table that says what is kept. */
const SETTINGS = 'kept!'

/** The statements that make it. */
export function settingsStatements({ quote }: Dialect, schema: string, settings: KeptSettings): MakingStatement[] {
  const name = `${quote(schema)}.${quote(SETTINGS)}`
  return [
    { kind: 'table', name: SETTINGS, text: `create table ${name} (settings text not null)` },
    { kind: 'rows', name: SETTINGS, text: `insert into ${name} values (${textOf(JSON.stringify(settings))})` },
  ]
}

/** What a schema keeps; null where it keeps nothing. */
export async function keptSettings(database: Database, schema: string): Promise<KeptSettings | null> {
  const found = await objectsIn(database, schema)
  if (!found.some(({ kind, name }) => kind === 'table' && name === SETTINGS)) return null
  const { quote } = database.dialect
  const [row] = await database.rows(`select settings from ${quote(schema)}.${quote(SETTINGS)}`)
  return JSON.parse(String(row?.settings)) as KeptSettings
}
