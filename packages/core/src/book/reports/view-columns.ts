import { nearestName, refusal, refuseErrors } from '../../findings/index.js'
import {
  type Checked,
  type CheckedFormula,
  type ColumnId,
  checkFormula,
  mapParts,
  type Plan,
  parseFormula,
  partsOf,
  type Scope,
} from '../../formula/index.js'
import { foldName, printName, type ValueType } from '../../values/index.js'
import type { ColumnModel, ColumnProperties, Model, RowsTable } from '../model/index.js'
import { scopeOf, shownAs } from '../model/index.js'
import { refuseDisplay } from '../operations/index.js'
import type { GroupedView, ViewFormula } from '../schemas/index.js'
import { checkLines, type LineColumn, unitAs } from './line-columns.js'
import type { ViewNames } from './view-names.js'

/** A column of the view: on which lines it has a value, and what gives it. */
export interface ViewColumn {
  readonly id: ColumnId
  readonly name: string
  readonly type: ValueType
  readonly properties: ColumnProperties
  /** The level whose key it is, from 1. */
  readonly level?: number
  /** The column of the table that it shows as it is. */
  readonly source?: ColumnModel
  /** What gives its value on a row. */
  readonly ofRow?: Plan
  /** What gives its value on a group. */
  readonly ofRows?: Plan
  /** The same as an expression. */
  readonly tally?: Checked
  /** What gives its value on any line, from other columns. */
  readonly line?: LineColumn
}

/** The columns of a view, checked. */
export interface ViewColumns {
  /** Keys, the outermost first, as expressions over a row. */
  readonly keys: readonly Checked[]
  /** The key that goes across, and the column that it is, if it is one. */
  readonly across: { readonly expression: Checked; readonly source: ColumnModel | undefined } | null
  readonly keyColumns: readonly ViewColumn[]
  /** The other columns, each after those it is made from. */
  readonly all: readonly ViewColumn[]
  /** Those that the result has, in order. */
  readonly shown: readonly ViewColumn[]
}

/** Columns of a view are numbered down from here: no column of a table has such an id, nor one that is the view's own. */
const FIRST_ID = -10

/** Names that the result has columns of its own by. */
const OWN_NAMES: readonly string[] = ['level', 'others']

/** Checks the keys and columns of a view. */
export function viewColumns(names: ViewNames, view: GroupedView): ViewColumns {
  const { model, engine, table, parameters, formulas } = names
  const taken = new Set(OWN_NAMES)
  const ofRow = parameters.scope(scopeOf(model, table))
  const ofRows = parameters.scope(scopeOf(model, table.tallies))
  const checkIn = (scope: Scope, place: string, one: ViewFormula): CheckedFormula => {
    const checked = checkedIn(scope, table, one)
    formulas.set(place, checked)
    return parameters.filled(checked)
  }
  let nextId = FIRST_ID
  /** What every column has: a name that is free, and a number. */
  const named = (name: string): { readonly id: ColumnId; readonly name: string } => {
    if (taken.has(foldName(name))) {
      const place = 'The view'
      throw refusal('name-taken', { place, kind: 'column', name: printName(name) }, { table: table.name, column: name })
    }
    taken.add(foldName(name))
    return { id: nextId-- as ColumnId, name }
  }
  const keys = (view.levels ?? []).map(({ name, key }, index) => {
    const checked = checkIn(ofRow, `levels ${index}`, { name: name ?? key, formula: key })
    const source = sourceOf(table, checked.expression)
    const { type } = knownType(checked.expression)
    const looks = looksOf(model, table, checked)
    const column = { ...named(name ?? source?.name ?? key.trim()), type, ...looks, level: index + 1 }
    return { expression: checked.expression, column }
  })
  const across =
    view.across === undefined
      ? null
      : checkIn(ofRow, 'across', { name: view.across.name ?? view.across.key, formula: view.across.key }).expression
  const rows = (view.columns ?? []).map((one, index): ViewColumn => {
    const checked = checkIn(ofRow, `columns ${index}`, one)
    const plan = engine.compile(checked)
    const { source, properties } = looksOf(model, table, checked)
    const looks = { ...properties, ...saidOf(one) }
    return { ...named(one.name), type: plan.type, properties: looks, ...(source !== undefined && { source }), ofRow: plan }
  })
  const tallies = (view.tallies ?? []).map((one, index): ViewColumn => {
    const checked = checkIn(ofRows, `tallies ${index}`, one)
    refuseInGroups(checked.expression, model, table, one)
    const expression = withoutTallies(checked.expression, model, table)
    const plan = engine.compile({ expression, watches: [] })
    const own = table.find(one.name)
    // A tally that bears the name of a column shows the column on single rows.
    const isShown = own !== undefined && numberOr(own.type) === numberOr(plan.type)
    const row = isShown ? engine.compile(checkedIn(ofRow, table, { name: one.name, formula: printName(own.name) })) : undefined
    const properties = { ...shownAs(model, checked), ...saidOf(one) }
    const column = { ...named(one.name), type: plan.type, properties, ofRows: plan, tally: expression }
    return { ...column, ...(row !== undefined && { ofRow: row }) }
  })
  const others = [...keys.map(({ column }) => column), ...rows, ...tallies]
  const known: ViewColumn[] = [...others]
  const lines = checkLines(names, others, view.lines ?? [], named).map((line): ViewColumn => {
    const { id, name, plan, reads } = line
    // A line that shows another column, of this line or another, is shown like that.
    const looks = known.find((one) => one.id === reads)?.properties ?? {}
    const said = view.lines?.find((one) => foldName(one.name) === foldName(name))
    const properties = { ...lookAlone(looks), ...unitAs(line.unit), ...(said && saidOf(said)) }
    const column = { id, name, type: plan.type, properties, line }
    known.push(column)
    return column
  })
  const all = [...rows, ...tallies, ...lines]
  for (const column of all) refuseDisplay(table.name, column, engine.surroundings.locale)
  return {
    keys: keys.map(({ expression }) => expression),
    across: across === null ? null : { expression: across, source: sourceOf(table, across) },
    keyColumns: keys.map(({ column }) => column),
    all,
    shown: view.shown?.map((name) => columnNamed(all, name, view)) ?? inGivenOrder(all, view),
  }
}

/** The column of a view with a name; refused, with the nearest one, when there is none. */
export function columnNamed(columns: readonly ViewColumn[], name: string, { table }: GroupedView): ViewColumn {
  const column = columns.find((one) => foldName(one.name) === foldName(name))
  if (column !== undefined) return column
  const near = nearestName(
    name,
    columns.map((one) => one.name),
  )
  const hint = near === undefined ? '' : ` Nearest name: ${printName(near)}.`
  throw refusal('unknown-column', { table: `${table}, grouped,`, name: printName(name), hint }, { table, column: name })
}

/** The columns as they were given: lines may be checked in another order. */
function inGivenOrder(all: readonly ViewColumn[], { columns = [], tallies = [], lines = [] }: GroupedView): ViewColumn[] {
  const names = [...columns, ...tallies, ...lines].map(({ name }) => name)
  return [...all].sort((a, b) => names.indexOf(a.name) - names.indexOf(b.name))
}

function checkedIn(scope: Scope, table: RowsTable, { name, formula }: ViewFormula): CheckedFormula {
  const checked = checkFormula(parseFormula(formula), scope)
  refuseErrors(checked.findings.map((one) => ({ ...one, table: table.name, column: name })))
  return checked
}

/** A formula of aggregates with the tallies that it names put in, so that they are over the rows of a line too. */
function withoutTallies(node: Checked, model: Model, table: RowsTable): Checked {
  const again = (part: Checked): Checked => withoutTallies(part, model, table)
  if (node.kind !== 'single' || node.of !== 'tally') return mapParts(node, again)
  const owner = model.columnOf(node.column)
  const expression = owner.table === table.tallies ? owner.column.formula?.checked?.expression : undefined
  return expression === undefined ? node : again(expression)
}

/** Refuses in a tally what has no value for a group of rows: a value of each row, and a tally whose formula is withheld. */
function refuseInGroups(node: Checked, model: Model, table: RowsTable, { name, formula }: ViewFormula): void {
  const isOfRows = node.kind === 'over-rows' && node.record.form === 'ordered'
  const isWithheld = node.kind === 'single' && node.of === 'tally' && model.columnOf(node.column).column.isWithheld
  if (isOfRows || isWithheld) {
    const reason = isOfRows
      ? 'it has a value for each row, and a tally has one for many; put an aggregate around it, such as max(…).'
      : 'what it is made of is withheld from you, so it cannot be made of groups.'
    const { from, to } = node
    throw refusal('not-here', { found: formula.slice(from, to), reason }, { table: table.name, column: name, from, to })
  }
  // What stands in an aggregate is for each of its rows.
  if (node.kind !== 'over-rows') for (const part of partsOf(node)) refuseInGroups(part, model, table, { name, formula })
}

function sourceOf(table: RowsTable, expression: Checked): ColumnModel | undefined {
  return expression.kind === 'column' ? table.withId(expression.column) : undefined
}

/** The column that a formula over a row is, and how it is shown. */
function looksOf(model: Model, table: RowsTable, checked: CheckedFormula): Pick<ViewColumn, 'properties' | 'source'> {
  const source = sourceOf(table, checked.expression)
  if (source === undefined) return { properties: shownAs(model, checked) }
  const { shownUnit: unit, properties } = source
  return { properties: unit === null ? properties : { ...properties, unit }, source }
}

/** What the view says of how a column is shown. */
function saidOf({ unit, display, decimals, heading }: ViewFormula): ColumnProperties {
  return {
    ...(unit !== undefined && { unit }),
    ...(display !== undefined && { display }),
    ...(decimals !== undefined && { decimals }),
    ...(heading !== undefined && { heading }),
  }
}

/** What of a column's properties another one takes over that shows the same. */
function lookAlone({ unit, symbol, display, decimals }: ColumnProperties): ColumnProperties {
  return Object.fromEntries(Object.entries({ unit, symbol, display, decimals }).filter(([, value]) => value !== undefined))
}

function knownType({ type }: Checked): { readonly type: ValueType } {
  return { type: type === 'blank' || type === 'unknown' ? 'text' : type }
}

const numberOr = (type: ValueType | null): ValueType | null => (type === 'integer' ? 'number' : type)
