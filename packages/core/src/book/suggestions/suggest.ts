import type { Engine } from '../../engine/index.js'
import { findPrograms, readingsOf, type Task, type WantedValue, Writer } from '../../finder/index.js'
import { counted, refusal } from '../../findings/index.js'
import { explainFormula } from '../../formula/index.js'
import { CellFault, displayScalar, printName, type ValueType } from '../../values/index.js'
import { type ColumnModel, type Model, type RowsTable, type ShownValue, scopeOf, showCell } from '../model/index.js'
import { readRequest } from './given-request.js'
import { type Ranked, Ranking } from './ranking.js'
import type { Suggestion, SuggestionQuestion, SuggestionRequest } from './suggestion.js'
import { TriedRows } from './tried-rows.js'

/** Most suggestions for one column that are combined with those for others. */
const MOST_OF_A_COLUMN = 8
const MOST_GIVEN = 5
/** More columns than these are where to look, not what is meant to be used. */
const MOST_PICKED = 3

/**
 * Formulas of a table that give what is wanted in the rows of examples, the best first.
 *
 * Programs of the language are searched from the small to the large, and what is found is run on all rows (of a large table on some
 * from all parts): formulas that give the same are offered once, those with blanks and errors later. The best two are told apart by
 * a row in which they differ (Jha, Gulwani, Seshia and Tiwari, "Oracle-Guided Component-Based Program Synthesis", ICSE 2010).
 *
 * @throws Refusal for names that there are not, for examples that contradict each other (`examples-contradict`), and where nothing
 *   is found (`no-formula-fits`), with what comes nearest
 */
export function suggestFormulas(model: Model, engine: Engine, given: SuggestionRequest): Suggestion[] {
  const request = readRequest(given)
  const table = model.table(request.table)
  const asked = new Asked(model, engine, table, { ...request, examples: mergedExamples(request) })
  const lists = request.columns.map((column) => asked.formulasOf(column))
  return asked.suggestions(lists, request.most ?? MOST_GIVEN)
}

/** One request: its rows, its columns, and what is found for them. */
class Asked {
  readonly #model: Model
  readonly #engine: Engine
  readonly #table: RowsTable
  readonly #rows: TriedRows
  readonly #request: SuggestionRequest
  readonly #task: Task
  readonly #ranking: Ranking
  /** What is wanted in the rows of the examples, by column. */
  readonly #wanted: ReadonlyMap<string, readonly WantedValue[]>

  constructor(model: Model, engine: Engine, table: RowsTable, request: SuggestionRequest) {
    this.#model = model
    this.#engine = engine
    this.#table = table
    this.#request = request
    const { examples: merged } = request
    const slots = merged.map(({ row }) => this.#slotOf(row))
    this.#rows = new TriedRows(model, engine, table, slots)
    this.#wanted = new Map(request.columns.map((name) => [name, merged.map(({ values }) => values[name] ?? null)]))
    const columns = this.#columns()
    const sources = [
      ...columns.map((column) => this.#rows.own(column)).filter((source) => source !== null),
      ...this.#rows.linked(columns),
    ]
    const { examples, others } = this.#rows
    this.#task = {
      writer: new Writer(engine.surroundings),
      sources,
      examples: { index: 0, count: examples.length },
      others: { index: 1, count: others.length },
      places: this.#rows.placesOf(examples),
      otherPlaces: this.#rows.placesOf(others),
      rowCount: this.#rows.rowCount,
    }
    const isPicked = request.from !== undefined && columns.length <= MOST_PICKED
    this.#ranking = new Ranking(this.#rows, isPicked ? columns.map(({ name }) => name) : [])
  }

  /**
   * Formulas for one of the new columns, the best first.
   *
   * @throws Refusal where there are none
   */
  formulasOf(name: string): Ranked[] {
    const { examples } = this.#request
    const said = examples.filter(({ values }) => name in values)
    // Rows that say nothing of this column are no examples of it.
    if (said.length < examples.length)
      return new Asked(this.#model, this.#engine, this.#table, { ...this.#request, examples: said }).formulasOf(name)
    const found = this.#found(name)
    if (found.length === 0) throw this.#nothing(name)
    return found
  }

  #found(name: string): Ranked[] {
    const all = readingsOf(this.#wantedOf(name))
    // A column that is there already, with values typed into it, says itself what they are.
    const type = this.#table.find(name)?.type ?? null
    const own = all.filter((reading) => reading.type === (type === 'integer' ? 'number' : type))
    const readings = own.length > 0 ? own : all
    return this.#ranking.ranked(readings.map((reading) => ({ reading, programs: findPrograms(this.#task, reading) })))
  }

  #wantedOf(name: string): readonly WantedValue[] {
    return this.#wanted.get(name) ?? []
  }

  /** Formulas for all new columns together. */
  suggestions(lists: readonly (readonly Ranked[])[], most: number): Suggestion[] {
    const names = this.#request.columns
    const ways = lists
      .reduce<Ranked[][]>(
        (some, list) =>
          some
            .flatMap((way) => list.slice(0, MOST_OF_A_COLUMN).map((one) => [...way, one]))
            .sort(byCost)
            .slice(0, 60),
        [[]],
      )
      .slice(0, most)
    return ways.map((way, at) => {
      const other = ways[at === 0 ? 1 : 0]
      const question = other === undefined ? undefined : this.#question(way, other, ways)
      return {
        formulas: Object.fromEntries(names.map((name, index) => [name, (way[index] as Ranked).text])),
        explanation: way
          .map((one, index) => (names.length === 1 ? this.#explained(one) : `${names[index]}: ${this.#explained(one)}`))
          .join(' '),
        rows: this.#rows.slots.length,
        blanks: way.reduce((sum, { blanks }) => sum + blanks, 0),
        errors: way.reduce((sum, { errors }) => sum + errors, 0),
        ...(question !== undefined && { question }),
      }
    })
  }

  /** The row that tells two ways apart and others with them, if there is one. */
  #question(
    way: readonly Ranked[],
    other: readonly Ranked[],
    all: readonly (readonly Ranked[])[],
  ): SuggestionQuestion | undefined {
    let best: { slot: number; different: number } | undefined
    const seen = new Set(this.#rows.examples)
    const valueAt = (one: readonly Ranked[], slot: number): string =>
      one.map(({ cells }) => String(cells[slot] ?? '')).join('\u0000')
    for (const slot of this.#rows.slots) {
      if (seen.has(slot) || valueAt(way, slot) === valueAt(other, slot)) continue
      const different = new Set(all.map((one) => valueAt(one, slot))).size
      if (different > (best?.different ?? 0)) best = { slot, different }
    }
    if (best === undefined) return undefined
    const { slot } = best
    const { rows } = this.#table.store
    const names = this.#request.columns
    const shown = (of: readonly Ranked[]): Record<string, ShownValue> =>
      Object.fromEntries(names.map((name, at) => [name, showCell(of[at]?.cells[slot] ?? null, (of[at] as Ranked).type)]))
    const words = (of: readonly Ranked[]): string => of.map(({ cells, type }) => inWords(cells[slot] ?? null, type)).join(', ')
    const rowNumber = rows.placeOf(slot) + 1
    const text = `Is it ${words(way)} or ${words(other)} in row ${rowNumber}?`
    return { row: rows.idOf(slot), rowNumber, values: shown(way), others: shown(other), text }
  }

  #explained({ text }: Ranked): string {
    const { lines } = explainFormula(text, scopeOf(this.#model, this.#table))
    return lines.map((line) => line.text).join(' ')
  }

  /** What to say where nothing fits: examples that contradict each other, or what fits all but one of them. */
  #nothing(name: string): Error {
    const place = { table: this.#table.name, column: name }
    const printed = printName(name)
    const wanted = this.#wantedOf(name)
    const clash = this.#contradiction(wanted)
    if (clash !== null) {
      const reason = 'the columns to be used have the same values there, and other ones are wanted'
      return refusal('examples-contradict', { name: printed, rows: `rows ${clash.join(' and ')}`, reason }, place)
    }
    const examples = counted(wanted.length, 'example')
    return refusal('no-formula-fits', { name: printed, examples, near: this.#nearest(name, wanted) }, place)
  }

  /** What fits all examples but one, in words; nothing where there is no such formula. */
  #nearest(name: string, wanted: readonly WantedValue[]): string {
    const { examples } = this.#request
    for (let left = examples.length - 1; left >= 0 && examples.length > 1; left--) {
      const others = examples.filter((_, at) => at !== left)
      if (others.every(({ values }) => (values[name] ?? null) === null)) continue
      const [nearest] = new Asked(this.#model, this.#engine, this.#table, { ...this.#request, examples: others }).#found(name)
      const slot = this.#rows.examples[left] as number
      const tried = nearest === undefined ? null : this.#rows.try(nearest.text, [slot])
      if (tried === null) continue
      const gives = inWords(tried.cells[slot] ?? null, tried.type)
      const rowNumber = (this.#task.places[left] as number) + 1
      return ` ${tried.text} comes nearest: it gives ${gives} in row ${rowNumber}, where ${JSON.stringify(wanted[left])} is wanted.`
    }
    return ''
  }

  /** Two examples that have the same in all sources and want something else. */
  #contradiction(wanted: readonly WantedValue[]): [number, number] | null {
    const seen = new Map<string, number>()
    for (const at of wanted.keys()) {
      const sources = JSON.stringify(
        this.#task.sources.map(({ program }) => {
          const { values, status } = program.on(this.#task.examples)
          return status[at] === 0 ? values[at] : status[at]
        }),
      )
      const before = seen.get(sources)
      if (before !== undefined && wanted[before] !== wanted[at])
        return [(this.#task.places[before] as number) + 1, (this.#task.places[at] as number) + 1]
      seen.set(sources, at)
    }
    return null
  }

  #columns(): ColumnModel[] {
    const wanted = new Set(this.#request.columns.map((name) => this.#table.find(name)))
    const { from } = this.#request
    const columns = from === undefined ? this.#table.columns : from.map((name) => this.#table.column(name))
    return [...new Set(columns)].filter((column) => !wanted.has(column))
  }

  #slotOf(row: number): number {
    const slot = this.#table.store.rows.slotOf(row)
    if (slot === undefined) throw refusal('unknown-row', { table: this.#table.name, row }, { table: this.#table.name })
    return slot
  }
}

function byCost(one: readonly Ranked[], other: readonly Ranked[]): number {
  const sum = (way: readonly Ranked[]): number => way.reduce((all, { cost }) => all + cost, 0)
  return sum(one) - sum(other)
}

/** Examples by row: what is said of one row more than once is one example. */
function mergedExamples({ examples, table }: SuggestionRequest): { row: number; values: Record<string, WantedValue> }[] {
  const merged = new Map<number, Record<string, WantedValue>>()
  for (const { row, values } of examples) {
    const known = merged.get(row) ?? {}
    for (const [name, value] of Object.entries(values)) {
      if (name in known && known[name] !== value)
        throw refusal(
          'examples-contradict',
          {
            name: printName(name),
            rows: 'one row',
            reason: `${JSON.stringify(known[name])} and ${JSON.stringify(value)} are wanted in the same row`,
          },
          { table, column: name },
        )
      known[name] = value
    }
    merged.set(row, known)
  }
  return [...merged].map(([row, values]) => ({ row, values }))
}

function inWords(cell: Parameters<typeof showCell>[0], type: ValueType): string {
  if (cell === null) return 'blank'
  if (cell instanceof CellFault) return `the error ${cell.code}`
  return typeof cell === 'string' ? `"${cell}"` : displayScalar(cell, type)
}
