import type { TableStore } from '../../engine/index.js'
import {
  type BookScope,
  parseFormula,
  type Scope,
  type ScopeColumn,
  type ScopeLink,
  type ScopeValue,
} from '../../formula/index.js'
import { CellFault, displayScalar, printNumber } from '../../values/index.js'
import type { ColumnModel } from './column-model.js'
import type { Model } from './model.js'
import type { LinkModel, TableModel } from './table-model.js'

/** Called before a column is shown to a formula, so that one that is not bound yet can be bound first. */
export type EnsureBound = (table: TableModel, column: ColumnModel) => void

/**
 * What a formula of a table, a tally or a named value can use. For the formula of `own`, its own name means the column it
 * replaces, if any.
 */
export function scopeOf(model: Model, table: TableModel, own?: ColumnModel, ensureBound?: EnsureBound): Scope {
  // A rule sees what a formula of its table sees.
  if (table.role === 'rules') return scopeOf(model, model.table(table.name), undefined, ensureBound)
  if (table.role !== 'rows') return scopeWithoutRow(model, table, ensureBound)
  const shown = (column: ColumnModel): ScopeColumn => {
    ensureBound?.(table, column)
    // What columns that read each other give would follow from itself.
    const { unit, ...others } = scopeColumn(table, column)
    const isOfRing = own !== undefined && (column === own || model.rings.get(own.id)?.has(column.id) === true)
    return unit === undefined || (isOfRing && column.properties.unit === undefined) ? others : { ...others, unit }
  }
  return {
    ...scopeOfBook(model, ensureBound),
    table: table.name,
    column: (name) => {
      const found = table.find(name)
      if (found !== undefined && found === own && own.original !== null) return shown(model.columnOf(own.original).column)
      return found === undefined ? undefined : shown(found)
    },
    columnNames: () => table.columns.filter((column) => column !== own).map((column) => column.name),
    tablesWithColumn: (name) =>
      model.tables.filter((other) => other !== table && other.find(name) !== undefined).map((other) => other.name),
    tagged: (tag) => table.tagged(tag).flatMap((column) => (column === own ? [] : [shown(column)])),
    tagNames: () => new Set(table.columns.flatMap((column) => column.properties.tags ?? [])),
    link: (name) => linkIn(model, table.link(name), ensureBound),
    links: () => table.links.map((link) => linkIn(model, link, ensureBound) as ScopeLink),
    tally: (name) => singleIn(table.tallies, name, 'tally', ensureBound),
    tallies: () => singlesOf(table.tallies, 'tally'),
  }
}

/** Tallies see the rows of their table through functions of several rows only, named values no table of their own at all. */
function scopeWithoutRow(model: Model, owner: TableModel, ensureBound?: EnsureBound): Scope {
  const table = model.rowsOf(owner)
  return {
    ownRows: table === undefined ? null : scopeOf(model, table, undefined, ensureBound),
    ...scopeOfBook(model, ensureBound),
    table: owner.name,
    column: () => undefined,
    columnNames: () => [],
    tablesWithColumn: (name) => model.tables.filter((other) => other.find(name) !== undefined).map((other) => other.name),
    tagged: () => [],
    tagNames: () => [],
    link: () => undefined,
    links: () => [],
    tally: (name) => singleIn(table?.tallies ?? null, name, 'tally', ensureBound),
    tallies: () => singlesOf(table?.tallies ?? null, 'tally'),
  }
}

/** What the formulas of own functions can use besides their parameters. */
export function scopeOfFunctions(model: Model, ensureBound?: EnsureBound): BookScope {
  return {
    value: (name) => singleIn(model.values, name, 'value', ensureBound),
    values: () => singlesOf(model.values, 'value'),
    functionNamed: (name) => model.functions.find(name),
    functions: () => model.functions.all.values(),
  }
}

/** What every formula of the book can use. */
function scopeOfBook(model: Model, ensureBound?: EnsureBound): BookScope & Pick<Scope, 'tableNamed' | 'tableNames'> {
  return {
    ...scopeOfFunctions(model, ensureBound),
    tableNamed: (name) => {
      const other = model.find(name)
      return other === undefined ? undefined : scopeOf(model, other, undefined, ensureBound)
    },
    tableNames: () => model.tables.map((other) => other.name),
  }
}

function linkIn(model: Model, link: LinkModel | undefined, ensureBound?: EnsureBound): ScopeLink | undefined {
  if (link === undefined) return undefined
  return {
    id: link.id,
    name: link.name,
    get target() {
      return scopeOf(model, link.to, undefined, ensureBound)
    },
  }
}

function singleIn(
  owner: TableModel | null,
  name: string,
  of: ScopeValue['of'],
  ensureBound?: EnsureBound,
): ScopeValue | undefined {
  const found = owner?.find(name)
  return owner === null || found === undefined ? undefined : scopeValue(owner, found, of, ensureBound)
}

/** Names to choose from: what is not bound yet is shown as it is. */
function singlesOf(owner: TableModel | null, of: ScopeValue['of']): ScopeValue[] {
  return owner === null ? [] : owner.columns.map((column) => scopeValue(owner, column, of))
}

function scopeValue(owner: TableModel, column: ColumnModel, of: ScopeValue['of'], ensureBound?: EnsureBound): ScopeValue {
  ensureBound?.(owner, column)
  const { id, name, type, mayBeBlank, mayFail, unit, isHidden } = scopeColumn(owner, column)
  const known = { ...(unit !== undefined && { unit }), ...(isHidden !== undefined && { isHidden }) }
  return { id, name, of, type, mayBeBlank, mayFail, ...known, constant: () => constantOf(owner, column) }
}

/** A named value that is a number written out, as it is written. */
function constantOf({ role, store }: TableModel, { id, formula }: ColumnModel): string | null {
  if (role !== 'values') return null
  if (formula !== null) return formula.text.trim()
  const cell = store.column(id)?.read(0)
  return typeof cell === 'number' ? printNumber(cell) : null
}

function scopeColumn({ store }: TableModel, column: ColumnModel): ScopeColumn {
  const expression = column.formula?.checked?.expression
  const { id, name } = column
  // A formula that gives nothing but blanks fits every type, whatever its column is stored as.
  const type = expression?.type === 'blank' && !column.declared ? null : column.type
  const { note, choices } = column.properties
  const { unit } = column
  const text = column.formula?.text
  const extras = {
    ...(unit !== null && unit.isPrivate !== true && { unit }),
    ...(column.properties.hiddenFrom !== undefined && { isHidden: true }),
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
  const { from, to } = last.operand.kind === 'group' ? last.operand.inner : last.operand
  return { top: formula.slice(tree.from, last.from).trim(), bottom: formula.slice(from, to) }
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
