import type { Dialect } from '../dialects/index.js'
import { BOOK } from '../formulas/index.js'
import { DueRows, type KeptModel } from '../kept/index.js'
import type { MakingStatement } from './making-statement.js'

/** The column that holds when a row was last changed, as its source says. */
export const SINCE = 'since!'

/**
 * The statements that make the tables of what is kept.
 *
 * @param before - statements of tables that are copied, whose rows are taken into them
 */
export function keptStatements(
  model: KeptModel,
  dialect: Dialect,
  nameOf: (name: string) => string,
  before: readonly MakingStatement[],
): MakingStatement[] {
  const tables = [...model.tables.values()]
  const copied = before.flatMap(({ name, text }) => (tables.some(({ table }) => name === `${table}!rows`) ? [text] : []))
  const lookups = dialect.hasIndexes ? lookupsOf(model, dialect, nameOf) : []
  return tables.flatMap(({ table, name, key, statement }) => {
    const made: MakingStatement = { kind: 'table', name, text: statement, standsOn: copied }
    if (!dialect.hasIndexes) return [made]
    const list = (columns: readonly string[]): string => columns.map((one) => dialect.quote(one)).join(', ')
    const texts = [
      `alter table ${nameOf(name)} add primary key (${list(key)})`,
      ...lookups.filter((one) => one.table === table).map(({ columns }) => `create index on ${nameOf(name)} (${list(columns)})`),
      `analyze ${nameOf(name)}`,
    ]
    return [made, ...texts.map((text): MakingStatement => ({ kind: 'rows', name, text }))]
  })
}

/** The columns that rows are looked for by when what is kept is refreshed, whatever has changed. */
function lookupsOf(model: KeptModel, dialect: Dialect, nameOf: (name: string) => string) {
  const anything = { was: '', is: '' }
  const due = new DueRows(model, { dialect, nameOf, movedIn: () => anything })
  for (const stage of model.stages) {
    due.partsOf(stage)
    due.rowsOf(stage, '')
  }
  return due.lookups
}

/** The columns, tallies and named values that are kept. */
export function keptAddresses({ closure }: KeptModel): string[] {
  return [...closure.tables].flatMap(([table, stored]) =>
    stored.flatMap(({ name, of }) => {
      if (of.kind !== 'column') return []
      return [table === BOOK ? name : `${table}.${name}`]
    }),
  )
}
