import type { Engine, TableStore } from '../../engine/index.js'
import { type Finding, nearestName, refusal } from '../../findings/index.js'
import type { ColumnId } from '../../formula/index.js'
import { foldName, printName } from '../../values/index.js'
import type { JsonValue, SetChart, SetReport } from '../schemas/index.js'
import type { Acceptance } from './acceptance.js'
import type { ChartModel } from './chart-model.js'
import { type ColumnFormula, type ColumnModel, formulaOf } from './column-model.js'
import type { KeptView } from './kept-view.js'
import { OwnFunctions } from './own-functions.js'
import type { ReportModel } from './report-model.js'
import { type LinkModel, type OwnedColumns, PartTable, RowsTable, type TableModel } from './table-model.js'

/** How far an id that is given may be from the next one: as many as no workbook ever had. */
const FURTHEST_ID = 1_000_000

/** A column, tally, rule or named value with what it belongs to. */
export interface Owned {
  readonly table: TableModel
  readonly column: ColumnModel
}

/** All tables of a workbook. */
export class Model {
  readonly #tables: Map<string, RowsTable> = new Map()
  readonly #owned: OwnedColumns = new Map()
  readonly #singles: TableStore
  /** The named values of the book. */
  readonly values: PartTable
  /** The functions that are defined in the book. */
  readonly functions: OwnFunctions
  /** Rings of columns that read each other's earlier rows, by each of their columns. */
  readonly rings: Map<ColumnId, ReadonlySet<ColumnId>>
  /** Findings that someone has accepted, by what they are about. */
  readonly acceptances: Map<string, Acceptance>
  /** What the program around the workbook wants to find in it again, by name. */
  readonly metadata: Map<string, JsonValue> = new Map()
  /** The reports in their order, by their folded names. */
  readonly reports: Map<string, ReportModel> = new Map()
  /** The charts in their order, by their folded names. */
  readonly charts: Map<string, ChartModel> = new Map()
  /** Reports and charts of a program that only calculates, and so carries them without knowing what they read. */
  carriedViews: readonly (SetReport | SetChart)[] = []
  /** What checks reports, charts and what is hidden after a call of operations; nothing in a program that only calculates. */
  checkFurther: (call: { readonly engine: Engine; readonly applied: readonly { readonly op: string }[] }) => void = () =>
    undefined
  /** What there is to say of a column besides what every program says; nothing in a program that only calculates. */
  furtherFindings: (engine: Engine, owned: Owned, isThorough: boolean) => readonly Finding[] = () => []
  #nextColumn = 1

  /**
   * @param engine - whose store holds named values and tallies
   * @param whole - the model of which this one shows a part
   */
  constructor(engine: Engine, whole?: Model) {
    this.rings = whole?.rings ?? new Map()
    this.functions = whole?.functions ?? new OwnFunctions()
    this.acceptances = whole?.acceptances ?? new Map()
    this.#singles = engine.singles
    this.values = new PartTable('book', engine.singles, this.#owned, 'values')
  }

  /** The tables in the order they were added. */
  get tables(): readonly RowsTable[] {
    return [...this.#tables.values()]
  }

  /** The table of this name, in any case. */
  find(name: string): RowsTable | undefined {
    return this.#tables.get(foldName(name))
  }

  /** The table of this name, or a refusal that suggests the nearest. */
  table(name: string): RowsTable {
    const found = this.find(name)
    if (found !== undefined) return found
    const near = nearestName(
      name,
      this.tables.map((table) => table.name),
    )
    throw refusal(
      'unknown-table',
      { name: printName(name), hint: near === undefined ? '' : ` Nearest name: ${printName(near)}.` },
      { table: name },
    )
  }

  /**
   * Makes a table and puts it in.
   *
   * @param store - what its cells are in, where it shows those of another table
   */
  addTable(name: string, store?: TableStore): RowsTable {
    const table = new RowsTable(name, this.#singles, this.#owned, store)
    this.#tables.set(foldName(name), table)
    return table
  }

  /** Takes a table out. */
  remove(table: RowsTable): void {
    this.#tables.delete(foldName(table.name))
    for (const owner of table.parts) for (const column of owner.columns) this.#owned.delete(column.id)
  }

  /** Gives a table another name; it keeps its place. */
  rename(table: RowsTable, name: string): void {
    const tables = this.tables
    for (const part of table.parts) part.name = name
    this.#tables.clear()
    for (const one of tables) this.#tables.set(foldName(one.name), one)
  }

  /** The id that the next new column gets. */
  get nextColumnId(): ColumnId {
    return this.#nextColumn as ColumnId
  }

  /** Returns to an earlier next id, where the ids given since are used by nothing. */
  returnColumnIds(next: number): void {
    this.#nextColumn = next
  }

  /**
   * Takes an id for a column or link: the one it had before, or one that was never used. No two ever have one id at a time:
   * what is random in a column goes by it.
   *
   * @throws Refusal for an id that is taken, or so far from the others that none would be left after it
   */
  takeColumnId(given?: number): ColumnId {
    if (given !== undefined) this.#refuseId(given)
    const id = given ?? this.#nextColumn
    this.#nextColumn = Math.max(this.#nextColumn, id + 1)
    return id as ColumnId
  }

  #refuseId(given: number): void {
    const isTaken = this.hasColumn(given) || [...this.links()].some(({ link }) => (link.id as number) === given)
    const most = this.#nextColumn + FURTHEST_ID
    if (!isTaken && given <= most) return
    const reason = isTaken
      ? `there is a column or link with id ${given} already.`
      : `expected at most ${most}, received ${given}.`
    throw refusal('bad-operation', { place: 'field id', reason })
  }

  /** Everything with columns: tables, their tallies and rules, the named values. */
  *owners(): Generator<TableModel> {
    for (const table of this.#tables.values()) yield* table.parts
    yield this.values
  }

  /** All columns, tallies and named values, with what they belong to. */
  *columns(): Generator<Owned> {
    for (const table of this.owners()) for (const column of table.columns) yield { table, column }
  }

  /** What is kept to be looked at: the reports and the charts. */
  *views(): Generator<KeptView> {
    yield* this.reports.values()
    yield* this.charts.values()
  }

  /** All formulas: of columns, also those put aside, and of what is kept to be looked at, which are no column's. */
  *formulas(): Generator<{ readonly formula: ColumnFormula; readonly owner: Owned | null }> {
    for (const owner of this.columns()) {
      const formula = formulaOf(owner.column)
      if (formula !== null) yield { formula, owner }
    }
    for (const view of this.views()) for (const formula of view.formulas) yield { formula, owner: null }
  }

  /** All links with their tables. */
  *links(): Generator<{ table: RowsTable; link: LinkModel }> {
    for (const table of this.#tables.values()) for (const link of table.links) yield { table, link }
  }

  /** The rule of this name, whichever table it is about. */
  rule(name: string): Owned | undefined {
    for (const { rules } of this.#tables.values()) {
      const column = rules.find(name)
      if (column !== undefined) return { table: rules, column }
    }
    return undefined
  }

  /** The table that tallies or rules belong to; a table itself. */
  rowsOf(owner: TableModel): RowsTable | undefined {
    if (owner.role === 'rows') return owner
    return owner.role === 'values' ? undefined : this.find(owner.name)
  }

  /** True when a column has this id. */
  hasColumn(id: number): boolean {
    return this.#owned.has(id as ColumnId)
  }

  /** The column of an id, with its table. */
  columnOf(id: ColumnId): Owned {
    const owned = this.#owned.get(id)
    if (owned === undefined) throw new ReferenceError(`no column has id ${id}`)
    return owned
  }
}
