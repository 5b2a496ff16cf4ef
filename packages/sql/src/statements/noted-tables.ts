import { type Dialect, NoForm } from '../dialects/index.js'
import type { KeptModel } from '../kept/index.js'
import { type RelationFacts, relationText } from '../sources/index.js'
import type { MakingStatement } from './making-statement.js'

/** The table that triggers note the keys of changed rows in; one without a key says that any row may have changed. */
export function notedName(table: string): string {
  return `${table}!noted`
}

/** What a refresh that waits listens to. */
export const NOTICES = 'mellow_abacus'

/** What a statement does to a source, and which of its rows then are noted. */
const EVENTS = [
  { event: 'insert', referencing: 'referencing new table as now_there ', noted: ['now_there'] },
  {
    event: 'update',
    referencing: 'referencing old table as was_there new table as now_there ',
    noted: ['was_there', 'now_there'],
  },
  { event: 'delete', referencing: 'referencing old table as was_there ', noted: ['was_there'] },
  { event: 'truncate', referencing: '', noted: [] },
]

/**
 * The statements that have the database note which rows of the sources change: a table of keys, a function that writes them, and
 * triggers on the sources, which are all that is ever made outside of the schema.
 *
 * @throws NoForm for an engine without triggers
 */
export function notedStatements(
  model: KeptModel,
  dialect: Dialect,
  schema: string,
  relations: ReadonlyMap<string, RelationFacts>,
): MakingStatement[] {
  if (!dialect.hasTriggers)
    throw new NoForm(`${dialect.title} has no triggers. Say with --since which column tells when a row was changed.`)
  const { quote } = dialect
  return [...relations].flatMap(([table, { path }]) => {
    const kept = model.tables.get(table)
    const source = model.sourceOf(table)
    if (kept === undefined || source === null) return []
    const relation = relationText(dialect, path)
    const noted = `${quote(schema)}.${quote(notedName(table))}`
    const columns = kept.key.map(quote)
    const nothing = columns.map(() => 'null').join(', ')
    const keys = source.storedKey.map((text, index) => `${text} as ${columns[index]}`).join(', ')
    const routine = functionText(`${quote(schema)}.${quote(functionName(table))}`, noted, columns, source.storedKey, schema)
    const keeping = `create table ${noted} as select ${keys} from ${relation} as s where false`
    return [
      { kind: 'table', name: notedName(table), text: keeping },
      { kind: 'function', name: functionName(table), text: routine },
      ...EVENTS.flatMap(({ event, referencing }): MakingStatement[] => {
        const name = `${schema}.${table} ${event}`
        if (new TextEncoder().encode(name).length > dialect.mostNameBytes)
          throw new NoForm(`the name ${name} of a trigger is too long for ${dialect.title}.`)
        const text = `create trigger ${quote(name)} after ${event} on ${relation} ${referencing}for each statement execute function ${quote(schema)}.${quote(functionName(table))}()`
        const trigger = { kind: 'trigger', name, on: relation } as const
        // What has changed until it is there was not noted.
        return [
          { ...trigger, text, standsOn: [routine, keeping] },
          { ...trigger, text: `insert into ${noted} values (${nothing})` },
        ]
      }),
    ]
  })
}

function functionName(table: string): string {
  return `${table}!note`
}

/** It writes as its owner does: who may write to the source need not know of what is made of it. */
function functionText(name: string, noted: string, columns: readonly string[], keys: readonly string[], schema: string): string {
  const into = `insert into ${noted} (${columns.join(', ')})`
  const cases = EVENTS.map(({ event, noted: tables }) => {
    const rows = tables.map((one) => `select ${keys.join(', ')} from ${one} as s`).join(' union ')
    const text = rows === '' ? `values (${columns.map(() => 'null').join(', ')})` : rows
    return `  if tg_op = '${event.toUpperCase()}' then ${into} ${text}; end if;`
  })
  const notify = `  perform pg_notify('${NOTICES}', '${schema.replaceAll("'", "''")}');`
  return `create function ${name}() returns trigger language plpgsql security definer set search_path = pg_catalog, pg_temp as $note$
begin
${[...cases, notify].join('\n')}
  return null;
end $note$`
}
