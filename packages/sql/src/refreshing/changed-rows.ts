import type { Database } from '../databases/index.js'
import { columnsOf, type KeptModel, type KeptTable, wasName } from '../kept/index.js'
import { type RelationFacts, refuseSharedKeys, relationText, SourceFault } from '../sources/index.js'
import { SINCE } from '../statements/index.js'
import type { StoredTable } from './stored-table.js'
import { countOf, makeTemporary } from './temporary.js'

/** How many rows of a source have changed since it was looked at last. */
export interface ChangedSource {
  readonly table: string
  readonly added: number
  readonly changed: number
  readonly gone: number
}

/** A source whose rows are stored. */
export interface StoredSource {
  readonly kept: KeptTable
  readonly stored: StoredTable
  readonly relation: RelationFacts
  /** The columns that tell its rows apart. */
  readonly key: readonly string[]
  /** The column that says when a row was last changed; null where there is none. */
  readonly since: string | null
  /** The table that triggers note keys in, as it is named in a statement; null where none do. */
  readonly noted: string | null
}

/** Types of moments, of which those shortly before the last one are read again: what was written then may have become visible later. */
const OVERLAP: Readonly<Record<string, string>> = {
  datetime: " - interval '10 minutes'",
  moment: " - interval '10 minutes'",
  date: ' - 1',
}

const [NOW, NEW, OTHER, GONE] = ['source!now', 'source!new', 'source!other', 'source!gone']

/**
 * Takes over the rows of a source that have changed, and notes what they were.
 *
 * @throws SourceFault for rows that cannot be told apart any more, or hold what has no place in a workbook
 */
export async function takeChanges(database: Database, model: KeptModel, source: StoredSource): Promise<ChangedSource> {
  const at = new ChangedRows(database, model, source)
  if (source.noted !== null) return at.takeNoted(source.noted)
  const recent = await at.recent()
  const done = recent === null ? none(source) : await at.take(recent)
  const isWhole = recent !== null && (await at.isComplete())
  if (isWhole) return done
  // Rows are gone, or have come with a date of before; or there is no telling which have changed.
  const rest = await at.take(null)
  return {
    table: source.kept.table,
    added: done.added + rest.added,
    changed: done.changed + rest.changed,
    gone: done.gone + rest.gone,
  }
}

function none({ kept: { table } }: StoredSource): ChangedSource {
  return { table, added: 0, changed: 0, gone: 0 }
}

class ChangedRows {
  readonly #database: Database
  readonly #model: KeptModel
  readonly #source: StoredSource
  readonly #relation: string

  constructor(database: Database, model: KeptModel, source: StoredSource) {
    this.#database = database
    this.#model = model
    this.#source = source
    this.#relation = relationText(database.dialect, source.relation.path)
  }

  /** The rows that may have changed by the column that says when; null where there is none, or nothing is stored yet. */
  async recent(): Promise<string | null> {
    const { since, relation, stored } = this.#source
    if (since === null) return null
    const { quote } = this.#database.dialect
    const type = relation.columns.find(({ name }) => name === since)?.type ?? ''
    const back = OVERLAP[this.#database.dialect.kindOf(type)?.kind ?? ''] ?? ''
    const [row] = await this.#database.rows(`select cast(max(k.${quote(SINCE)})${back} as text) as mark from ${stored.name} as k`)
    const mark = row?.mark
    if (typeof mark !== 'string') return null
    const column = `s.${quote(since)}`
    return `${column} >= cast('${mark.replaceAll("'", "''")}' as ${type}) or ${column} is null`
  }

  /** Takes over the rows that triggers have noted. */
  async takeNoted(noted: string): Promise<ChangedSource> {
    const { kept, stored } = this.#source
    const { quote } = this.#database.dialect
    const own = this.#model.sourceOf(kept.table)?.storedKey ?? []
    const [first] = kept.key as [string]
    const isAny = (await countOf(this.#database, `${noted} as n where n.${quote(first)} is null`)) > 0
    const taken = await this.take(isAny ? null : `(${own.join(', ')}) in (select ${stored.keys('n')} from ${noted} as n)`, noted)
    await this.#database.run(`delete from ${noted}`)
    return taken
  }

  /** True where as many rows are stored as the source has. */
  async isComplete(): Promise<boolean> {
    return (await countOf(this.#database, `${this.#relation} as s`)) === (await this.#source.stored.count())
  }

  /**
   * Takes rows over.
   *
   * @param where - which of them; null for all
   * @param among - the table of the keys that may be gone; any may be where all rows are looked at, and none otherwise
   */
  async take(where: string | null, among: string | null = null): Promise<ChangedSource> {
    const { kept, stored } = this.#source
    const { quote } = this.#database.dialect
    const from = where === null ? `${this.#relation} as s` : `(select * from ${this.#relation} as s where ${where}) as s`
    await this.#refuseUnfit(from)
    await refuseSharedKeys(this.#database, this.#source.relation, this.#source.key, from)
    const image = this.#model.image(kept.table, from)
    const columns = this.#columns
    const [firstKey] = kept.key as [string]
    const before = kept.columns.map((name) => `k.${quote(name)} as ${quote(columns.includes(name) ? wasName(name) : name)}`)
    const beside = [`k.${quote(firstKey)} is null as "new!"`, ...before].join(', ')
    const both = `select n.*, ${beside} from (\n${image}\n) as n left join ${stored.name} as k on ${stored.isSame('n', 'k')}`
    await this.#make(NOW, `select * from (\n${both}\n) as n where n."new!" or ${stored.differs(columns)}`)
    await this.#make(NEW, `select * from ${quote(NOW)} as n where n."new!"`)
    await this.#make(OTHER, `select * from ${quote(NOW)} as n where not n."new!"`)
    const gone = where === null || among !== null ? await this.#takeGone(from, where === null ? null : among) : 0
    const changed = await stored.change(quote(OTHER), columns)
    const added = await stored.putIn(quote(NEW), columns)
    for (const name of [NOW, NEW, OTHER]) await this.#database.run(`drop table ${quote(name)}`)
    return { table: kept.table, added, changed, gone }
  }

  async #takeGone(from: string, among: string | null): Promise<number> {
    const { kept, stored } = this.#source
    const { quote } = this.#database.dialect
    const own = this.#model.sourceOf(kept.table)?.storedKey ?? []
    const isSame = kept.key.map((name, index) => `${own[index]} = k.${quote(name)}`).join(' and ')
    const isMeant = among === null ? '' : `${stored.isIn('k', among)} and `
    await this.#make(
      GONE,
      `select k.* from ${stored.name} as k where ${isMeant}not exists (select 1 from ${from} where ${isSame})`,
    )
    const gone = await stored.takeAway(quote(GONE))
    await this.#database.run(`drop table ${quote(GONE)}`)
    return gone
  }

  /** What is stored of the source itself. */
  get #columns(): string[] {
    const { kept, since } = this.#source
    const read = kept.facts.filter(({ value }) => value.of.kind === 'source')
    return [...read.flatMap(columnsOf), ...(since === null ? [] : [SINCE])]
  }

  async #make(name: string, select: string): Promise<void> {
    await makeTemporary(this.#database, this.#database.dialect.quote(name), select)
  }

  async #refuseUnfit(from: string): Promise<void> {
    const { kept, relation } = this.#source
    const source = this.#model.sourceOf(kept.table)
    for (const { value } of kept.facts) {
      const must = value.of.kind === 'source' ? source?.columns.get(value.of.column.id)?.mustMeet : null
      if (must === null || must === undefined) continue
      if ((await countOf(this.#database, `${from} where not ${must}`)) > 0)
        throw new SourceFault(
          `${relation.path.join('.')} has numbers in ${value.name} now that a workbook has no number for. Attach ${kept.table} again.`,
        )
    }
  }
}
