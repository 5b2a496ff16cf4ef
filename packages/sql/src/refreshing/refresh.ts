import type { SlimView } from 'mellow-abacus'
import { atOneMoment, type Database } from '../databases/index.js'
import { NoForm } from '../dialects/index.js'
import { BOOK } from '../formulas/index.js'
import { columnsOf, DueRows, type KeptModel, type KeptStage } from '../kept/index.js'
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
import { type RelationFacts, SourceFault } from '../sources/index.js'
import { keptModelOf, type MakingStatement, notedName } from '../statements/index.js'
import { type ChangedSource, takeChanges } from './changed-rows.js'
import { StoredTable } from './stored-table.js'
import { countOf, makeTemporary } from './temporary.js'

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

/** What a refresh did. Columns that nothing was calculated of are left out. */
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

/**
 * What is stored was made by the statements of a model: where they are others now, it is not what would be refreshed. Triggers go
 * with the table that they are on, and then changes are noted no longer.
 */
async function refuseOtherFormulas(database: Database, schema: string, statements: readonly MakingStatement[]): Promise<void> {
  const found = await objectsIn(database, schema)
  const other = wantedObjects(statements).find(
    ({ kind, name, comment }) => found.find((one) => one.kind === kind && one.name === name)?.comment !== comment,
  )
  if (other === undefined) return
  throw new PublishRefusal(
    other.kind === 'trigger'
      ? `the trigger ${other.name} is not at work any more, so that changes may have been missed. Publish the model again. Nothing was refreshed.`
      : `${other.name} was published by other formulas, rows or columns than the workbook has now. Publish the model again. Nothing was refreshed.`,
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

  /** The columns of a source that tell its rows apart. */
  #keyOf(name: string): string[] {
    const table = this.#model.definitions.tables.find((one) => one.name === name)
    return (table?.key ?? []).flatMap((id) => table?.source?.columns.find(({ column }) => column === id)?.of ?? [])
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
      const source = { kept, stored, relation, key: this.#keyOf(table), since: hasSince ? since : null, noted }
      sources.push(await takeChanges(this.#database, this.#model, source).catch(refused))
    }
    const columns: RefreshedColumn[] = []
    for (const stage of this.#model.stages) columns.push(...(await this.#calculate(stage)))
    for (const table of this.#tables.values()) await table.close()
    return { address: this.#database.address, schema: this.#schema, sources, columns }
  }

  /** Calculates the values of a stage again, each for the rows that it is due for. */
  async #calculate(stage: KeptStage): Promise<RefreshedColumn[]> {
    const due: { readonly name: string; part: KeptStage; readonly rows: number }[] = []
    const parts = this.#due.partsOf(stage)
    const stored = this.#tables.get(stage.stage.table) as StoredTable
    for (const [index, { keys, part }] of parts.entries()) {
      const name = this.#database.dialect.quote(`${DUE} ${index + 1}`)
      await makeTemporary(this.#database, name, `select distinct * from (\n${keys}\n) as d`)
      const rows = await countOf(this.#database, name)
      // What is due for the same rows is calculated together.
      const same = await this.#sameRows(stored, due, { name, rows })
      if (same === undefined) due.push({ name, part, rows })
      else same.part = together(same.part, part)
    }
    const told: RefreshedColumn[] = []
    for (const { name, part, rows } of due) if (rows > 0) told.push(...(await this.#calculatePart(part, name, stored)))
    for (const index of parts.keys())
      await this.#database.run(`drop table ${this.#database.dialect.quote(`${DUE} ${index + 1}`)}`)
    return told
  }

  async #sameRows<One extends { readonly name: string; readonly rows: number }>(
    stored: StoredTable,
    some: readonly One[],
    { name, rows }: { readonly name: string; readonly rows: number },
  ): Promise<One | undefined> {
    for (const one of some)
      if (one.rows === rows && (await countOf(this.#database, `${name} as d where not ${stored.isIn('d', one.name)}`)) === 0)
        return one
    return undefined
  }

  async #calculatePart(part: KeptStage, due: string, stored: StoredTable): Promise<RefreshedColumn[]> {
    const { quote } = this.#database.dialect
    const [next, changed] = [quote(NEXT), quote(CHANGED)]
    await makeTemporary(this.#database, next, this.#model.recalculated(part, this.#due.rowsOf(part, due)))
    const columns = part.facts.flatMap(columnsOf)
    await makeTemporary(this.#database, changed, `select n.* from ${next} as n where ${stored.differs(columns)}`)
    const told = await this.#told(part, stored)
    await stored.change(changed, columns)
    for (const name of [next, changed]) await this.#database.run(`drop table ${name}`)
    return told
  }

  /** What is told of the columns that were calculated; parts of formulas that are stored are no columns. */
  async #told({ stage, facts }: KeptStage, stored: StoredTable): Promise<RefreshedColumn[]> {
    const { quote } = this.#database.dialect
    const calculated = await countOf(this.#database, quote(NEXT))
    const list = facts.map((one, index) => `count(case when ${stored.differs(columnsOf(one))} then 1 end) as n${index}`)
    const [row] = await this.#database.rows(`select ${list.join(', ')} from ${quote(CHANGED)} as n`)
    return facts.flatMap(({ name, value }, index) => {
      if (value.of.kind !== 'column') return []
      const address = stage.table === BOOK ? name : `${stage.table}.${name}`
      return [{ address, calculated, changed: Number(row?.[`n${index}`]) }]
    })
  }
}

/** What a source is refused for, said as what became of the refresh. */
function refused(error: unknown): never {
  throw error instanceof SourceFault ? new PublishRefusal(`${error.message} Nothing was refreshed.`) : error
}

function together(one: KeptStage, other: KeptStage): KeptStage {
  const values = [...one.stage.values, ...other.stage.values]
  return { stage: { ...one.stage, values }, facts: [...one.facts, ...other.facts] }
}
