import { TableStore } from '../engine/index.js'
import { nearestName, refusal } from '../findings/index.js'
import { type CheckedFormula, type ColumnId, parseFormula, type Scope, type ScopeColumn } from '../formula/index.js'
import { CellFault, displayScalar, foldName, printName, type ValueType } from '../values/index.js'

/** What a reader sees of a column besides its values; none of it changes a stored value. */
export interface ColumnProperties {
  readonly unit?: string
  readonly symbol?: string
  readonly display?: string
  readonly decimals?: number
  readonly heading?: string
  readonly note?: string
  readonly tags?: readonly string[]
  /** The texts that the column is meant to hold. */
  readonly choices?: readonly string[]
  readonly hidden?: boolean
}

/** A formula of a column: its text, and what checking made of it once it is bound. */
export interface ColumnFormula {
  text: string
  checked: CheckedFormula | null
}

/** A column of the model. */
export interface ColumnModel {
  readonly id: ColumnId
  name: string
  /** The type it was declared with, or that its first values or its formula gave it; null while there is neither. */
  type: ValueType | null
  /** True when the type was declared, so that a formula must keep to it. */
  declared: boolean
  formula: ColumnFormula | null
  /** The column that the formula's own name means, where it replaces one of a file. */
  original: ColumnId | null
  properties: ColumnProperties
}

/** A table of the model: named columns in order over stored cells. */
export class TableModel {
  readonly name: string
  readonly store: TableStore = new TableStore()
  readonly #columns: ColumnModel[] = []
  readonly #byName: Map<string, ColumnModel> = new Map()

  constructor(name: string) {
    this.name = name
  }

  /** The columns in order. */
  get columns(): readonly ColumnModel[] {
    return this.#columns
  }

  /** The column of this name, in any case. */
  find(name: string): ColumnModel | undefined {
    return this.#byName.get(foldName(name))
  }

  /** The column of this name, or a refusal that suggests the nearest. */
  column(name: string): ColumnModel {
    const found = this.find(name)
    if (found !== undefined) return found
    const near = nearestName(
      name,
      this.#columns.map((column) => column.name),
    )
    const hint = near === undefined ? '' : ` Nearest name: ${printName(near)}.`
    throw refusal('unknown-column', { table: this.name, name: printName(name), hint }, { table: this.name, column: name })
  }

  /** The columns that carry a tag, in order. */
  tagged(tag: string): ColumnModel[] {
    const folded = foldName(tag)
    return this.#columns.filter((column) => column.properties.tags?.some((one) => foldName(one) === folded) === true)
  }

  /** Puts a column in, before another or at the end. */
  insert(column: ColumnModel, before?: ColumnModel): void {
    this.#byName.set(foldName(column.name), column)
    this.#columns.splice(before === undefined ? this.#columns.length : this.#columns.indexOf(before), 0, column)
  }

  /** Takes a column out. */
  remove(column: ColumnModel): void {
    this.#byName.delete(foldName(column.name))
    this.#columns.splice(this.#columns.indexOf(column), 1)
  }

  /** The column after one, if any. */
  after(column: ColumnModel): ColumnModel | undefined {
    return this.#columns[this.#columns.indexOf(column) + 1]
  }

  /** Gives a column another name. */
  rename(column: ColumnModel, name: string): void {
    this.#byName.delete(foldName(column.name))
    column.name = name
    this.#byName.set(foldName(name), column)
  }
}

/** All tables of a workbook. */
export class Model {
  readonly #tables: Map<string, TableModel> = new Map()
  #nextColumn = 1

  /** The tables in the order they were added. */
  get tables(): readonly TableModel[] {
    return [...this.#tables.values()]
  }

  /** The table of this name, in any case. */
  find(name: string): TableModel | undefined {
    return this.#tables.get(foldName(name))
  }

  /** The table of this name, or a refusal that suggests the nearest. */
  table(name: string): TableModel {
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

  /** Puts a table in. */
  insert(table: TableModel): void {
    this.#tables.set(foldName(table.name), table)
  }

  /** Takes a table out. */
  remove(table: TableModel): void {
    this.#tables.delete(foldName(table.name))
  }

  /** The id that the next new column gets. */
  get nextColumnId(): ColumnId {
    return this.#nextColumn as ColumnId
  }

  /** Takes an id for a column: the one it had before, or one that was never used. */
  takeColumnId(given?: number): ColumnId {
    const id = given ?? this.#nextColumn
    this.#nextColumn = Math.max(this.#nextColumn, id + 1)
    return id as ColumnId
  }

  /** All columns with their tables. */
  *columns(): Generator<{ table: TableModel; column: ColumnModel }> {
    for (const table of this.#tables.values()) for (const column of table.columns) yield { table, column }
  }

  /** True when a column has this id. */
  hasColumn(id: number): boolean {
    for (const { column } of this.columns()) if (column.id === id) return true
    return false
  }

  /** The column of an id, with its table. */
  columnOf(id: ColumnId): { table: TableModel; column: ColumnModel } {
    for (const table of this.#tables.values()) {
      const column = table.columns.find((one) => one.id === id)
      if (column !== undefined) return { table, column }
    }
    throw new ReferenceError(`no column has id ${id}`)
  }

  /** What a formula of a table can use. For the formula of `own`, its own name means the column it replaces, if any. */
  scopeOf(table: TableModel, own?: ColumnModel): Scope {
    const shown = (column: ColumnModel): ScopeColumn => scopeColumn(table, column)
    return {
      table: table.name,
      column: (name) => {
        const found = table.find(name)
        if (found !== undefined && found === own && own.original !== null) return shown(this.columnOf(own.original).column)
        return found === undefined ? undefined : shown(found)
      },
      columnNames: () => table.columns.filter((column) => column !== own).map((column) => column.name),
      tablesWithColumn: (name) =>
        this.tables.filter((other) => other !== table && other.find(name) !== undefined).map((other) => other.name),
      tagged: (tag) => table.tagged(tag).flatMap((column) => (column === own ? [] : [shown(column)])),
      tagNames: () => new Set(table.columns.flatMap((column) => column.properties.tags ?? [])),
      // Links, tallies and named values come with the operations that define them.
      link: () => undefined,
      links: () => [],
      tally: () => undefined,
      tallies: () => [],
      value: () => undefined,
      values: () => [],
      tableNamed: (name) => {
        const other = this.find(name)
        return other === undefined ? undefined : this.scopeOf(other)
      },
      tableNames: () => this.tables.map((other) => other.name),
    }
  }
}

function scopeColumn({ store }: TableModel, column: ColumnModel): ScopeColumn {
  const expression = column.formula?.checked?.expression
  const { id, name } = column
  // A formula that gives nothing but blanks fits every type, whatever its column is stored as.
  const type = expression?.type === 'blank' && !column.declared ? null : column.type
  const { unit, note, choices } = column.properties
  const text = column.formula?.text
  const extras = {
    ...(unit !== undefined && { unit }),
    ...(choices !== undefined && { choices }),
    ratio: () => (text === undefined ? null : ratioOf(text)),
    sample: () => sampleOf(store, column),
    detail: () => ({ ...(text !== undefined && { formula: text }), ...(note !== undefined && { note }) }),
  }
  return { id, name, type, ...extras, mayBeBlank: expression?.mayBeBlank ?? true, mayFail: expression?.mayFail ?? true }
}

/** Dividend and divisor of a formula that is a division, or null. */
function ratioOf(formula: string): { top: string; bottom: string } | null {
  const { tree } = parseFormula(formula)
  const last = tree.kind === 'chain' && tree.level === 'product' ? tree.rest.at(-1) : undefined
  if (last === undefined || last.operator === '*') return null
  return { top: formula.slice(tree.from, last.from).trim(), bottom: formula.slice(last.operand.from, last.operand.to) }
}

/** The first value of a column as text, for editors; empty where it has none among its first rows. */
function sampleOf(store: TableStore, column: ColumnModel): string {
  const storage = store.column(column.id)
  if (storage === undefined) return ''
  const most = Math.min(store.rows.slotCount, MOST_SAMPLED)
  for (let slot = 0; slot < most; slot++) {
    const cell = storage.read(slot)
    if (cell !== null && !(cell instanceof CellFault)) return displayScalar(cell, storage.type)
  }
  return ''
}

/** Rows looked through for a sample. */
const MOST_SAMPLED = 100
