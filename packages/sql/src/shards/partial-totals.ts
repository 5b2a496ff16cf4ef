import { FUNCTIONS, type ValueType } from 'mellow-abacus'
import {
  type Checked,
  type ColumnId,
  type DefinedColumn,
  type DefinedTable,
  type ExpressionType,
  identityOf,
  type LinkId,
  type Operator,
  readsOuter,
} from 'mellow-abacus/model'
import { FACTS, inExpressions, type OverRows, PICKS, readColumn, rowsFunction } from '../formulas/index.js'
import type { Placement } from './placement.js'

/** Something that each shard gathers for a group: an aggregate of the rows that it has. */
interface PartialColumn {
  readonly id: ColumnId
  readonly name: string
  /** The aggregate, over the rows of the table, without its condition and groups. */
  readonly node: OverRows
}

/** Totals that shards make of their rows, and the coordinator puts together: a table with a row for each group of each shard. */
export interface PartialTotals {
  /** What it is called, and the table that it stands for on the coordinator. */
  readonly name: string
  readonly table: string
  /** What rows are grouped by. */
  readonly keys: readonly { readonly id: ColumnId; readonly name: string; readonly expression: Checked }[]
  readonly filter: Checked | null
  /** True where rows whose key is an error are groups too; false where they belong to none. */
  readonly hasErrors: boolean
  readonly columns: PartialColumn[]
  /** What the coordinator calculates beside them. */
  readonly made: DefinedColumn[]
  /** The links by which its rows belong to those of another table, as the links that they stand for. */
  readonly links: { readonly id: LinkId; readonly of: LinkId }[]
}

/** What a total is put together of. */
interface Pieces {
  /** What each shard gathers for a group. */
  readonly part: (name: string) => Checked
  /** An aggregate of what the shards have for a group. */
  readonly over: (name: string, read: Checked) => Checked
  /** The same, for each shard beside what it has. */
  readonly beside: (name: string, read: Checked) => Checked
  /** A column that the coordinator calculates beside them. */
  readonly made: (expression: Checked) => Checked
}

/** How a total is put together of those of shards. */
type Steps = (pieces: Pieces) => Checked

const number = (value: number): Checked => ({
  ...FACTS,
  kind: 'constant',
  type: 'number',
  value,
  mayBeBlank: false,
  mayFail: false,
})

const applied =
  (operator: Operator, type: ExpressionType = 'number') =>
  (...args: Checked[]): Checked => ({ ...FACTS, kind: 'apply', type, operator, args })

const per = applied('per')
const times = applied('multiply')
const plus = applied('add')
const minus = applied('subtract')
const isMore = applied('greater', 'boolean')

/** Of no rows there is nothing, which is none where they are counted. */
function orZero(value: Checked): Checked {
  return { ...FACTS, kind: 'coalesce', type: 'number', operands: [value, number(0)] }
}

/** Aggregates in two steps: of the rows of each shard, and of what the shards give. */
const STEPS: Readonly<Record<string, Steps>> = {
  count: ({ part, over }) => orZero(over('sum', part('count'))),
  sum: ({ part, over }) => over('sum', part('sum')),
  min: ({ part, over }) => over('min', part('min')),
  max: ({ part, over }) => over('max', part('max')),
  any: ({ part, over }) => over('any', part('any')),
  all: ({ part, over }) => over('all', part('all')),
  mean: ({ part, over }) => per(over('sum', part('sum')), over('sum', part('count'))),
  variance: varianceOf,
  stdev: (pieces) => {
    const record = FUNCTIONS.find(({ name }) => name === 'sqrt') as (Checked & { kind: 'call' })['record']
    return { ...FACTS, kind: 'call', type: 'number', record, args: [varianceOf(pieces)], blanksAsZero: false, amounts: [] }
  },
}

/**
 * The variance of all rows, of how many there are on each shard, their mean and their variance: what rows are apart from the mean
 * of their shard, and what that is apart from the mean of all. No large numbers are taken from each other.
 *
 * Source: Chan, Golub, LeVeque, "Updating Formulae and a Pairwise Algorithm for Computing Sample Variances" (1979).
 */
function varianceOf({ part, over, beside, made }: Pieces): Checked {
  const count = part('count')
  const mean = part('mean')
  const all = made(per(beside('sum', times(count, mean)), beside('sum', count)))
  const apart = minus(mean, all)
  const squares = made(plus(times(minus(count, number(1)), orZero(part('variance'))), times(count, times(apart, apart))))
  const rows = over('sum', count)
  const variance = per(over('sum', squares), minus(rows, number(1)))
  const branches = [{ condition: isMore(rows, number(1)), value: variance }]
  return { ...FACTS, kind: 'choose', type: 'number', branches, otherwise: null }
}

/** An aggregate of rows that are all on one shard, which is the only one of its group. */
function ofOne({ record: { name }, type }: OverRows): Steps {
  return ({ part, over }) => {
    const value = over(type === 'boolean' ? 'any' : 'max', part(name))
    return name === 'count_distinct' ? orZero(value) : value
  }
}

const TRUE: Checked = { ...FACTS, kind: 'constant', type: 'boolean', value: true, mayBeBlank: false, mayFail: false }

/** An aggregate of all that shards give. */
function overTotals(totals: PartialTotals, node: OverRows, name: string, read: Checked): OverRows {
  const rows = { table: totals.name, which: 'own', links: [] } as const
  return { ...node, record: rowsFunction(name), rows, args: [read], by: [], order: [], where: null } as OverRows
}

/** All totals that a model makes in two steps, and the numbers that are given to what they add to it. */
export class TwoSteps {
  readonly all: PartialTotals[] = []
  readonly #placement: Placement
  #last: number

  /** @param last - the highest id of a column or link */
  constructor(placement: Placement, last: number) {
    this.#placement = placement
    this.#last = last
  }

  /**
   * A function of rows that are spread as one of what shards give; null for one that is not to be had so.
   *
   * @param table - the table whose rows it is for
   */
  of(node: OverRows, table: string): Checked | null {
    const { rows, record } = node
    // Where each row's rows are on one shard, it gives the value itself.
    const isOfOne = this.#placement.reach(node, table).place === 'shard'
    const steps = STEPS[record.name] ?? (isOfOne ? ofOne(node) : undefined)
    const isPlain = record.form === 'aggregate' && record.isShare !== true && node.by.length === 0
    if (steps === undefined || !isPlain || rows.which === 'below') return null
    // A condition that compares with the own row is one of pairs of rows, of which one is here and the other there.
    const filter = node.where
    const there = [...node.args, ...node.order.map(({ key }) => key), ...(filter === null ? [] : [filter])]
    if (there.some((part) => readsOuter(part) || this.#placement.reach(part, rows.table).place === 'coordinator')) return null
    // An error of a condition or an order goes before those of values, whichever shard has it.
    const mayFailBefore = filter?.mayFail === true || node.order.some(({ key }) => key.mayFail)
    if (!isOfOne && PICKS.has(record.name) && mayFailBefore) return null
    const keys = rows.which === 'linked' ? this.#linkKeys(rows.links) : []
    if (keys === null) return null
    const totals = this.totals(rows.table, keys, filter)
    const links = rows.which === 'linked' ? [this.#link(totals, rows.links.at(-1) as LinkId)] : []
    const over = (name: string, read: Checked): Checked =>
      ({
        ...node,
        record: rowsFunction(name),
        rows: { table: totals.name, which: links.length > 0 ? 'linked' : 'every', links },
        args: [read],
        order: [],
        where: null,
      }) as Checked
    return steps(this.#pieces(totals, node, over))
  }

  /**
   * A function of all rows of groups as one of what shards give of these; null for one that is not to be had so.
   *
   * @param totals - by what the rows are grouped
   */
  ofGroups(totals: PartialTotals, node: OverRows): Checked | null {
    const { record, where, args, by } = node
    const steps = STEPS[record.name]
    if (steps === undefined || by.length > 0) return null
    // A condition of its own is one on what it gathers.
    const taken = (value: Checked): Checked =>
      where === null
        ? value
        : { ...FACTS, kind: 'choose', type: value.type, branches: [{ condition: where, value }], otherwise: null }
    const gathered = where !== null && args.length === 0 ? [taken(TRUE)] : args.map(taken)
    const part: OverRows = { ...node, args: gathered, where: null }
    return steps(this.#pieces(totals, part, (name, read) => overTotals(totals, node, name, read)))
  }

  /** Something that each shard gathers for a group, as a column of the totals. */
  part(totals: PartialTotals, node: OverRows): Checked {
    return this.#part(totals, node, node.record.name)
  }

  #pieces(totals: PartialTotals, node: OverRows, over: Pieces['over']): Pieces {
    return {
      part: (name) => this.#part(totals, node, name),
      over,
      beside: (name, read) => ({
        ...overTotals(totals, node, name, read),
        by: totals.keys.map(({ id, expression }) => readColumn(id, expression.type)),
      }),
      made: (expression) => this.#made(totals, expression),
    }
  }

  #made({ made }: PartialTotals, expression: Checked): Checked {
    const identity = identityOf(expression)
    let found = made.find((one) => identityOf(one.expression as Checked) === identity)
    if (found === undefined) {
      found = { id: this.#next() as ColumnId, name: `made ${made.length + 1}`, type: 'number', expression, formula: null }
      made.push(found)
    }
    return readColumn(found.id, 'number')
  }

  /** What the rows of a table belong to another by, at the end of links; null where rows that are spread are on the way. */
  #linkKeys(links: readonly LinkId[]): Checked[] | null {
    const before = links.slice(0, -1)
    if (before.some((id) => this.#placement.isSpread(this.#placement.link(id).to))) return null
    const last = this.#placement.link(links.at(-1) as LinkId)
    const from = before.length === 0 ? null : this.#placement.table(this.#placement.link(before.at(-1) as LinkId).to)
    return last.columns.map((id): Checked => {
      const type = inExpressions(this.#placement.typeOf(id))
      const read: Checked = { ...FACTS, kind: 'column', type, column: id }
      return from === null ? read : { ...FACTS, kind: 'follow', type, links: before, read }
    })
  }

  /** Totals of the rows of a table. */
  totals(table: string, keys: readonly Checked[], filter: Checked | null, hasErrors = false): PartialTotals {
    const identity = identityOf([table, keys, filter, hasErrors])
    const known = this.all.find(
      (one) => identityOf([one.table, one.keys.map(({ expression }) => expression), one.filter, one.hasErrors]) === identity,
    )
    if (known !== undefined) return known
    const made: PartialTotals = {
      name: `${table}!totals ${this.all.length + 1}`,
      table,
      keys: keys.map((expression, index) => ({ id: this.#next() as ColumnId, name: `key ${index + 1}`, expression })),
      filter,
      hasErrors,
      columns: [],
      made: [],
      links: [],
    }
    this.all.push(made)
    return made
  }

  #part(totals: PartialTotals, node: OverRows, name: string): Checked {
    const part = { ...node, record: rowsFunction(name), where: null, by: [] } as OverRows
    // Rows are counted where there is nothing else to count.
    const identity = identityOf([name, part.args, part.order])
    let found = totals.columns.find((one) => identityOf([one.node.record.name, one.node.args, one.node.order]) === identity)
    if (found === undefined) {
      found = { id: this.#next() as ColumnId, name: `total ${totals.columns.length + 1}`, node: part }
      totals.columns.push(found)
    }
    return readColumn(found.id, inExpressions(typeOfPart(found)))
  }

  #link(totals: PartialTotals, of: LinkId): LinkId {
    const known = totals.links.find((one) => one.of === of)
    if (known !== undefined) return known.id
    const id = this.#next() as LinkId
    totals.links.push({ id, of })
    return id
  }

  #next(): number {
    this.#last++
    return this.#last
  }
}

/** The type of what a shard gathers. */
function typeOfPart({ node }: Pick<PartialColumn, 'node'>): ValueType {
  const { record, type } = node
  if (NUMBERS.has(record.name) || type === 'blank' || type === 'unknown') return 'number'
  return type
}

/** Aggregates that give numbers of whatever they gather. */
const NUMBERS: ReadonlySet<string> = new Set(['count', 'sum', 'mean', 'variance'])

/** Totals as a table of the model that the coordinator calculates. */
export function tableOfTotals({ name, keys, columns, made, links }: PartialTotals, placement: Placement): DefinedTable {
  const column = (id: ColumnId, called: string, type: ValueType): DefinedColumn => ({
    id,
    name: called,
    type,
    expression: null,
    formula: null,
  })
  return {
    name,
    columns: [
      ...keys.map((key) => column(key.id, key.name, (key.expression.type as ValueType) ?? 'text')),
      ...columns.map((one) => column(one.id, one.name, typeOfPart(one))),
      ...made,
    ],
    links: links.map(({ id, of }) => {
      const { name: called, to, keys: targets } = placement.link(of)
      return { id, name: called, columns: keys.slice(0, targets.length).map((key) => key.id), to, keys: targets }
    }),
    tallies: [],
    rules: [],
    rings: [],
    key: null,
    source: null,
  }
}
