import type { Engine } from '../../engine/index.js'
import { counted, type Finding, finding } from '../../findings/index.js'
import { type Checked, type ColumnId, somePart } from '../../formula/index.js'
import { functionNamed } from '../../functions/index.js'
import { foldName, printName } from '../../values/index.js'
import type { ColumnModel, Model, Owned, TableModel } from '../model/index.js'
import { columnsRead } from '../model/index.js'
import { cellsOfPlan } from '../queries/index.js'
import { hiddenColumns } from './hidden-columns.js'

/** Aggregates that give the value itself where they take in one row. */
const OF_ONE: ReadonlySet<string> = new Set([
  'sum',
  'mean',
  'min',
  'max',
  'median',
  'percentile',
  'mode',
  'first',
  'last',
  'lookup',
  'join_rows',
])
/** Functions along an order from whose results the values can be read off, row by row. */
const OF_NEIGHBOURS: ReadonlySet<string> = new Set(['lag', 'lead', 'difference', 'cumulative_sum'])

/** The rows an aggregate reads, with what it takes of them. */
type Aggregate = Checked & { readonly kind: 'over-rows' }

/**
 * Formulas that give a hidden column away to someone who sees their results: what they give is the hidden value, or can be
 * turned back into it with arithmetic and what is seen, or is an aggregate of a single row.
 *
 * @param isThorough - whether groups of one row may be looked for, which takes longer than an edit should
 */
export function revealingFindings(model: Model, engine: Engine, owned: Owned, isThorough: boolean): Finding[] {
  const { table, column } = owned
  const checked = column.formula?.checked
  if (checked == null || table.role === 'rules') return []
  const hidden = [...hiddenColumns(model)]
  if (hidden.length === 0) return []
  const read = columnsRead(checked, model)
  return hidden.flatMap((secret) => {
    if (!read.has(secret.column.id)) return []
    const groups = groupsBetween(secret.column, column)
    if (groups.length === 0) return []
    const away = givenAway(checked.expression, secret.column.id, new Map())
    if (away === null) return []
    const ones = away === 'value' ? null : isThorough ? rowsOfOne(engine, table, away) : 0
    if (ones === 0) return []
    return [found(model, owned, secret, groups, ones)]
  })
}

function found(model: Model, { table, column }: Owned, secret: Owned, groups: readonly string[], ones: number | null): Finding {
  const place = { table: table.name, column: column.name }
  const hiddenFrom = [...(column.properties.hiddenFrom ?? []), ...groups]
  const operations = [{ op: 'change-column', ...place, set: { hiddenFrom } }]
  const listed = groups.map(printName).join(', ')
  const fixes = table.role === 'rows' ? [{ title: `Hide ${printName(column.name)} from ${listed} too`, operations }] : []
  const name = printName(secret.column.name)
  const of = secret.table === table || model.rowsOf(table) === secret.table ? name : `${printName(secret.table.name)}.${name}`
  const how = ones === null ? 'it can be worked out from this' : `this is made of a single row of it in ${counted(ones, 'row')}`
  return finding(
    'reveals-hidden',
    { name: printName(column.name), of, groups: listed, how },
    { ...(ones !== null && { rows: ones }), fixes },
  )
}

/** Groups that a column is hidden from and another one is not. */
function groupsBetween(secret: ColumnModel, shown: ColumnModel): string[] {
  const blind = new Set((shown.properties.hiddenFrom ?? []).map(foldName))
  return (secret.properties.hiddenFrom ?? []).filter((group) => !blind.has(foldName(group)))
}

/** How an expression gives the values of a column away: as they are or one to one, or by an aggregate of one row. */
function givenAway(node: Checked, id: ColumnId, bound: ReadonlyMap<number, Checked>): 'value' | Aggregate | null {
  const within = (part: Checked): ReturnType<typeof givenAway> => givenAway(part, id, bound)
  switch (node.kind) {
    case 'column':
      return node.column === id ? 'value' : null
    case 'step':
      return bound.has(node.step) ? within(bound.get(node.step) as Checked) : null
    case 'let':
      return givenAway(node.body, id, new Map([...bound, [node.step, node.bound]]))
    case 'follow':
      return within(node.read)
    case 'outer':
      return within(node.inner)
    case 'apply':
      return INVERTIBLE.has(node.operator) ? alone(node.args, id, bound) : null
    case 'chain':
      return node.rest.every(({ operator }) => INVERTIBLE.has(operator))
        ? alone([node.first, ...node.rest.map(({ operand }) => operand)], id, bound)
        : null
    case 'choose':
      return firstOf([...node.branches.map(({ value }) => value), ...(node.otherwise === null ? [] : [node.otherwise])], within)
    case 'coalesce':
      return firstOf(node.operands, within)
    case 'if-error':
      return firstOf([node.value, node.otherwise], within)
    case 'over-rows': {
      const taken = firstOf(node.args, within)
      if (taken !== 'value') return null
      if (node.record.form === 'ordered') return OF_NEIGHBOURS.has(node.record.name) ? 'value' : null
      return OF_ONE.has(node.record.name) ? node : null
    }
    default:
      return null
  }
}

/** Operators that can be undone when the other side is known. */
const INVERTIBLE: ReadonlySet<string> = new Set([
  'negate',
  'day-to-time',
  'add',
  'subtract',
  'multiply',
  'divide',
  'per',
  'add-days',
  'subtract-days',
  'add-time',
  'add-to-time',
  'subtract-time',
  'time-difference',
])

/** The same of the only part that reads the column; null where several do. */
function alone(parts: readonly Checked[], id: ColumnId, bound: ReadonlyMap<number, Checked>): 'value' | Aggregate | null {
  const reads = (part: Checked): boolean =>
    somePart(part, (one) => (one.kind === 'column' && one.column === id) || (one.kind === 'step' && readsStep(one.step)))
  const readsStep = (step: number): boolean => {
    const of = bound.get(step)
    return of !== undefined && reads(of)
  }
  const [only, ...others] = parts.filter(reads)
  return only === undefined || others.length > 0 ? null : givenAway(only, id, bound)
}

function firstOf(parts: readonly Checked[], within: (part: Checked) => 'value' | Aggregate | null): 'value' | Aggregate | null {
  for (const part of parts) {
    const away = within(part)
    if (away !== null) return away
  }
  return null
}

/** How many rows of a table show an aggregate of a single row. */
function rowsOfOne(engine: Engine, table: TableModel, aggregate: Aggregate): number {
  const record = functionNamed('count')
  if (record === undefined) return 0
  const expression: Checked = {
    ...aggregate,
    record,
    args: aggregate.args.slice(0, 1),
    type: 'number',
    order: [],
    descending: false,
  }
  const cells = cellsOfPlan(engine, table, engine.compile({ expression, watches: [] }))
  return cells.reduce((ones: number, cell) => ones + (cell === 1 ? 1 : 0), 0)
}
