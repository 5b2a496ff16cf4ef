import { type Finding, finding, type Refusal, refusal, refuseErrors } from '../../findings/index.js'
import {
  type Checked,
  type CheckedFormula,
  type ColumnId,
  checkFormula,
  type LinkId,
  type Plan,
  parseFormula,
  partsOf,
  type Scope,
  type ScopeColumn,
  type ScopeLink,
  somePart,
  visitNames,
} from '../../formula/index.js'
import { parseUnit, type Unit } from '../../units/index.js'
import { foldName, printName, type ValueType } from '../../values/index.js'
import type { Model, RowsTable } from '../model/index.js'
import { scopeOf, shownUnit } from '../model/index.js'
import type { ViewFormula } from '../schemas/index.js'
import type { ViewNames } from './view-names.js'

/** Where a formula of lines can look besides its own line. No link of a table has such an id. */
export const NEIGHBOURS = {
  parent: -1 as LinkId,
  whole: -2 as LinkId,
  previous: -3 as LinkId,
  next: -4 as LinkId,
} as const

/** A column that is calculated from the other columns of its line, and of lines around it. */
export interface LineColumn {
  readonly id: ColumnId
  readonly name: string
  readonly plan: Plan
  readonly expression: Checked
  /** Whether it reads itself on the line before. */
  readonly isRunning: boolean
  /** Whether it depends on the order of lines. */
  readonly minds: boolean
  /** The column of the view that it shows, of whatever line; null where it is made from it otherwise. */
  readonly reads: ColumnId | null
  /** The unit that its formula gives. */
  readonly unit: Unit | null
}

interface KnownColumn {
  readonly id: ColumnId
  readonly name: string
  readonly type: ValueType
  readonly properties?: { readonly unit?: string }
}

/**
 * Checks the formulas of lines, in an order in which each comes after those it reads.
 *
 * @param known - the other columns of the view
 * @param named - takes the name of a new column
 * @throws Refusal for formulas with mistakes, for functions of several rows but `count()`, and for columns that read each other
 */
export function checkLines(
  names: ViewNames,
  known: readonly KnownColumn[],
  given: readonly ViewFormula[],
  named: (name: string) => { readonly id: ColumnId; readonly name: string },
): LineColumn[] {
  const { engine, table } = names
  const open = given.map((one, at) => ({ ...one, ...named(one.name), place: `lines ${at}`, reads: namesIn(one.formula) }))
  const columns = new Map(known.map((one) => [foldName(one.name), one]))
  const done: LineColumn[] = []
  const mindful = new Set<ColumnId>()
  while (open.length > 0) {
    const isOpen = (name: string, self: string): boolean =>
      name !== foldName(self) && open.some((one) => foldName(one.name) === name)
    const place = open.findIndex(({ name, reads }) => !reads.some((read) => isOpen(read, name)))
    const [next] = open.splice(Math.max(0, place), 1)
    if (next === undefined) break
    if (place < 0) throw cycle(table, [next.name, ...open.map(({ name }) => name)])
    const isSelf = next.reads.includes(foldName(next.name))
    const checked = checkLine(names, next, [...columns.values()], isSelf ? next : undefined)
    if (readsItselfNow(checked.expression, next.id)) throw cycle(table, [next.name])
    const minds = somePart(checked.expression, (part) => mindsOrder(part, mindful))
    if (minds) mindful.add(next.id)
    const plan = engine.compile(checked)
    columns.set(foldName(next.name), { id: next.id, name: next.name, type: plan.type, properties: unitAs(checked.unit) })
    const { expression, unit } = checked
    done.push({ id: next.id, name: next.name, plan, expression, isRunning: isSelf, minds, reads: columnShown(expression), unit })
  }
  return done
}

/** Checks one formula over the lines of a view, such as a condition on groups; `place` says where it stands in the view. */
export function checkLine(
  { model, table, parameters, formulas }: ViewNames,
  { name, formula, place }: ViewFormula & { readonly place: string },
  columns: readonly KnownColumn[],
  self?: { readonly id: ColumnId; readonly name: string },
): CheckedFormula {
  const checkWith = (own: ValueType | null): CheckedFormula => {
    const all = columns.map(({ id, name: of, type, properties }): ScopeColumn => {
      const unit = properties?.unit === undefined ? null : parseUnit(properties.unit)
      return { ...facts(type), id, name: of, ...(unit !== null && { unit }) }
    })
    if (self !== undefined) all.push({ ...facts(own), id: self.id, name: self.name })
    return checkFormula(parseFormula(formula), parameters.scope(scopeOfLines(model, table, all)))
  }
  const first = checkWith(null)
  const { type } = first.expression
  // What a running column gives is what it reads of itself.
  const checked = self === undefined || type === 'blank' || type === 'unknown' ? first : checkWith(type)
  const findings: Finding[] = checked.findings.map((one) => ({ ...one, table: table.name, column: name }))
  somePart(checked.expression, (part) => {
    if (part.kind === 'over-rows' && !isCountOfLine(part)) findings.push(notOfLines(formula, part, table, name))
    return false
  })
  refuseErrors(findings)
  formulas.set(place, checked)
  return parameters.filled(checked)
}

/** What a unit adds to how a column is shown. */
export function unitAs(unit: Unit | null): { readonly unit?: string } {
  const text = shownUnit(unit)
  return text === null ? {} : { unit: text }
}

const facts = (type: ValueType | null): Pick<ScopeColumn, 'type' | 'mayBeBlank' | 'mayFail'> => {
  return { type, mayBeBlank: true, mayFail: true }
}

/** The names that a formula of lines can use: the columns of the view, lines around it, named values. */
function scopeOfLines(model: Model, table: RowsTable, columns: readonly ScopeColumn[]): Scope {
  const ofValues = scopeOf(model, model.values)
  const scope: Scope = {
    ...ofValues,
    table: `${table.name}, grouped`,
    column: (name) => columns.find((one) => foldName(one.name) === foldName(name)),
    columnNames: () => columns.map(({ name }) => name),
    tablesWithColumn: () => [],
    link: (name) => neighbour(name),
    links: () => Object.keys(NEIGHBOURS).map((name) => neighbour(name) as ScopeLink),
    tableNamed: () => undefined,
    tableNames: () => [],
  }
  const neighbour = (name: string): ScopeLink | undefined => {
    // Any name may be written, those of every object too.
    const known = Object.entries(NEIGHBOURS).find(([one]) => one === foldName(name))
    return known === undefined ? undefined : { id: known[1], name, target: rowless }
  }
  const { ownRows: _, ...rowless } = scope
  return rowless
}

/** `count()`: how many rows are under the line. */
function isCountOfLine(part: Checked & { readonly kind: 'over-rows' }): boolean {
  const { record, args, where, by, rows } = part
  return record.name === 'count' && rows.which === 'own' && args.length === 0 && where === null && by.length === 0
}

function notOfLines(formula: string, part: Checked, table: RowsTable, name: string): Finding {
  const found = formula.slice(part.from, part.to)
  const reason = 'a line reads the columns of the view and count(); what is over many rows is a tally.'
  return finding('not-here', { found, reason }, { table: table.name, column: name, from: part.from, to: part.to })
}

function mindsOrder(part: Checked, mindful: ReadonlySet<ColumnId>): boolean {
  if (part.kind === 'column') return mindful.has(part.column)
  return part.kind === 'follow' && part.links.some((link) => link === NEIGHBOURS.previous || link === NEIGHBOURS.next)
}

/** Columns that a formula names, in lower case: the last part of each name. */
function namesIn(formula: string): string[] {
  const names: string[] = []
  visitNames(
    parseFormula(formula).tree,
    (node) => {
      if (node.kind === 'name' && foldName(node.parts[0].name) !== 'book')
        names.push(foldName((node.parts.at(-1) ?? node.parts[0]).name))
    },
    foldName,
  )
  return names
}

/** True for a formula of lines that only reads a column of a line around it: the total that its line is a part of. */
export function isReadOfTotal(node: Checked): boolean {
  return node.kind === 'follow' && node.links.every((link) => link === NEIGHBOURS.parent || link === NEIGHBOURS.whole)
}

/** The column that a formula is, of this line or another. */
function columnShown(node: Checked): ColumnId | null {
  if (node.kind === 'follow') return columnShown(node.read)
  return node.kind === 'column' ? node.column : null
}

/** True where a formula reads its own column otherwise than on lines before, where it is known by then. */
function readsItselfNow(node: Checked, own: ColumnId): boolean {
  if (node.kind === 'column') return node.column === own
  const isBefore = node.kind === 'follow' && node.links.every((link) => link === NEIGHBOURS.previous)
  return !isBefore && partsOf(node).some((part) => readsItselfNow(part, own))
}

function cycle(table: RowsTable, names: readonly string[]): Refusal {
  const path = [...names, names[0] as string].map(printName).join(' → ')
  const [first] = names as readonly [string, ...string[]]
  return refusal('cycle', { name: printName(first), path }, { table: table.name, column: first })
}
