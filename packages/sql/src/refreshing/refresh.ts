import type { SlimView } from 'mellow-abacus'
import { atOneMoment, type Database } from '../databases/index.js'
import { NoForm } from '../dialects/index.js'
import { BOOK } from '../formulas/index.js'
import { DueRows, type KeptModel, type KeptStage } from '../kept/index.js'
import {
  type KeptSettings,
  keptSettings,
  objectsIn,
  PublishRefusal,
  refuseOtherOwner,
  relationsNow,
  takeTurn,
  wantedObjects,
} from '../publishing/index.js'
import type { RelationFacts } from '../sources/index.js'
import { keptModelOf, type MakingStatement, notedName } from '../statements/index.js'
import { type ChangedSource, takeChanges } from './changed-rows.js'
import { StoredTable } from './stored-table.js'

/** How what is kept is refreshed. */
export interface RefreshOptions {
  /** What the workbook is called, as when it was published. */
  readonly book: string
  /** The schema that it was published in; `mellow` unless given. */
  readonly schema?: string
}

/** How much of a column was calculated again. */
export interface RefreshedColumn {
  /** `table.column`, `table.tally` or the name of a named value. */
  readonly address: string
  /** Rows that it was calculated again for. */
  readonly calculated: number
  /** Those of them that have another value now. */
  readonly changed: number
}

/** What a refresh did. */
export interface Refreshed {
  readonly address: string
  readonly schema: string
  readonly sources: readonly ChangedSource[]
  readonly columns: readonly RefreshedColumn[]
}

const [DUE, NEXT, CHANGED] = ['stage!due', 'stage!next', 'stage!changed']

/**
 * Brings what is kept up to date with the rows of its sources: those that have changed are found, then the rows that read them, and
 * so on; only these are calculated again, and a row whose value comes out as it was passes nothing on. All of it is one transaction.
 *
 * @throws PublishRefusal where nothing is kept, or formulas have changed since the model was published
 * @throws DatabaseFault where the database refuses a statement; everything is as it was then
 */
export async function refresh(book: SlimView, database: Database, options: RefreshOptions): Promise<Refreshed> {
  const schema = options.schema ?? 'mellow'
  const settings = await keptSettings(database, schema)
  if (settings === null)
    throw new PublishRefusal(
      `schema ${schema} keeps no columns. Publish the model with --kept and the columns that it is to keep.`,
    )
  const relations = await relationsNow(book, database, false)
  const { model, statements } = keptNow(book, database, { schema, relations, ...settings })
  return atOneMoment(database, async () => {
    await takeTurn(database, schema)
    await refuseOtherOwner(database, schema, options)
    await refuseOtherFormulas(database, schema, statements)
    return new Refresh(database, model, schema, relations, settings).run()
  })
}

function keptNow(...[book, { dialect }, options]: [SlimView, Database, Parameters<typeof keptModelOf>[2]]) {
  try {
    return keptModelOf(book, dialect, options)
  } catch (error) {
    throw error instanceof NoForm ? new PublishRefusal(`${error.message} Publish the model again.`) : error
  }
}

/** What is stored was made by the statements of a model: where they are others now, it is not what would be refreshed. */
async function refuseOtherFormulas(database: Database, schema: string, statements: readonly MakingStatement[]): Promise<void> {
  const found = await objectsIn(database, schema)
  const other = wantedObjects(statements).find(
    ({ name, comment }) => found.find((one) => one.kind === 'table' && one.name === name)?.comment !== comment,
  )
  if (other === undefined) return
  throw new PublishRefusal(
    `${other.name} was published by other formulas, rows or columns than the workbook has now. Publish the model again. Nothing was refreshed.`,
  )
}

class Refresh {
  readonly #database: Database
  readonly #model: KeptModel
  readonly #schema: string
  readonly #relations: ReadonlyMap<string, RelationFacts>
  readonly #settings: KeptSettings
  readonly #tables: Map<string, StoredTable> = new Map()
  readonly #due: DueRows

  constructor(
    database: Database,
    model: KeptModel,
    schema: string,
    relations: ReadonlyMap<string, RelationFacts>,
    settings: KeptSettings,
  ) {
    const { dialect } = database
    const nameOf = (name: string): string => this.#nameOf(name)
    this.#database = database
    this.#model = model
    this.#schema = schema
    this.#relations = relations
    this.#settings = settings
    for (const [name, kept] of model.tables) this.#tables.set(name, new StoredTable(database, kept, nameOf))
    this.#due = new DueRows(model, { dialect, nameOf, movedIn: (table) => this.#tables.get(table)?.moved ?? null })
  }

  #nameOf(name: string): string {
    const { quote } = this.#database.dialect
    return `${quote(this.#schema)}.${quote(name)}`
  }

  async run(): Promise<Refreshed> {
    for (const table of this.#tables.values()) await table.open()
    const sources: ChangedSource[] = []
    for (const [table, relation] of this.#relations) {
      const [kept, stored] = [this.#model.tables.get(table), this.#tables.get(table)]
      if (kept === undefined || stored === undefined) continue
      const { since, triggers } = this.#settings
      const hasSince = relation.columns.some(({ name }) => name === since)
      const noted = triggers ? this.#nameOf(notedName(table)) : null
      const source = { kept, stored, relation, since: hasSince ? since : null, noted }
      sources.push(await takeChanges(this.#database, this.#model, source))
    }
    const columns: RefreshedColumn[] = []
    for (const stage of this.#model.stages)
      for (const { keys, part } of this.#due.partsOf(stage)) columns.push(...(await this.#calculate(part, keys)))
    for (const table of this.#tables.values()) await table.close()
    return { address: this.#database.address, schema: this.#schema, sources, columns }
  }

  /** Calculates values again for rows by their keys. */
  async #calculate(stage: KeptStage, keys: string): Promise<RefreshedColumn[]> {
    const { quote } = this.#database.dialect
    const stored = this.#tables.get(stage.stage.table) as StoredTable
    await this.#make(DUE, `select distinct * from (\n${keys}\n) as d`)
    await this.#make(NEXT, this.#model.recalculated(stage, this.#due.rowsOf(stage, quote(DUE))))
    const columns = stage.facts.flatMap(({ name, fault }) => (fault === null ? [name] : [name, fault]))
    await this.#make(
      CHANGED,
      `select n.* from ${quote(NEXT)} as n join ${stored.name} as k on ${stored.isSame('n', 'k')} where ${stored.differs(columns)}`,
    )
    const counts = await this.#counts(stage, stored)
    await stored.change(quote(CHANGED), columns)
    for (const name of [DUE, NEXT, CHANGED]) await this.#database.run(`drop table ${quote(name)}`)
    return told(stage, counts.calculated, counts.changed)
  }

  async #counts(stage: KeptStage, stored: StoredTable): Promise<{ calculated: number; changed: Map<string, number> }> {
    const { quote } = this.#database.dialect
    const [all] = await this.#database.rows(`select count(*) as n from ${quote(NEXT)} as n`)
    const list = stage.facts.map(({ name, fault }, index) => {
      const differs = stored.differs(fault === null ? [name] : [name, fault])
      return `count(case when ${differs} then 1 end) as n${index}`
    })
    const [row] = await this.#database.rows(
      `select ${list.join(', ')} from ${quote(CHANGED)} as n join ${stored.name} as k on ${stored.isSame('n', 'k')}`,
    )
    const changed = new Map(stage.facts.map(({ name }, index) => [name, Number(row?.[`n${index}`])]))
    return { calculated: Number(all?.n), changed }
  }

  async #make(name: string, select: string): Promise<void> {
    await this.#database.run(`create temporary table ${this.#database.dialect.quote(name)} as ${select}`)
  }
}

/** What is told of the columns of a stage; parts of formulas that are stored are no columns. */
function told({ stage, facts }: KeptStage, calculated: number, changed: ReadonlyMap<string, number>): RefreshedColumn[] {
  return facts.flatMap(({ name, value }) => {
    if (value.of.kind !== 'column') return []
    const address = stage.table === BOOK ? name : `${stage.table}.${name}`
    return [{ address, calculated, changed: changed.get(name) ?? 0 }]
  })
}
