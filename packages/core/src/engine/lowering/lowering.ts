import {
  type Checked,
  type CheckedOrderKey,
  type CheckedRows,
  type ExpressionType,
  identityOf,
  type LinkId,
  type Plan,
  somePart,
} from '../../formula/index.js'
import type { FunctionRecord } from '../../functions/index.js'
import type { Surroundings, ValueType } from '../../values/index.js'
import {
  type AggregateCall,
  AggregateNode,
  asOuterFormula,
  CandidateRows,
  type Candidates,
  IntervalTree,
  NestedLoopNode,
  NestedLoopScan,
  needOf,
  RangeIndex,
  RangeTotals,
  readsOuter,
  splitCondition,
} from '../aggregates/index.js'
import { type Groups, KeyDictionary, KeyGroups, type LinkHop, LinkPath, LinkWatch, PathGroups } from '../groups/index.js'
import type { CrossRowInput, Frames } from '../lowered-plans/index.js'
import { LoweredPlan } from '../lowered-plans/index.js'
import { OrderedNode, RingLagInput, type RingOrder, type RingParts, RowColumn } from '../nodes/index.js'
import type { EngineNode, Hold, NodeId } from '../propagation/index.js'
import type { TableStore } from '../storage/index.js'
import {
  AggregateInput,
  ColumnInput,
  FollowInput,
  HolidayList,
  OuterInput,
  type ReaderGroups,
  SingleInput,
} from './inputs/index.js'

/** A link as the engine knows it. */
export interface LinkParts {
  readonly store: TableStore
  readonly columns: readonly NodeId[]
  readonly target: TableStore
  readonly keys: readonly NodeId[]
}

/** What lowering needs to know of the workbook. */
export interface LoweringContext {
  readonly frames: Frames
  readonly surroundings: () => Surroundings
  /** Compiles a part of a formula; places are watched where the formula itself is computed, not here. */
  compile(expression: Checked): Plan
  /** Named values and tallies, in a table of one row. */
  readonly singles: TableStore
  table(name: string): TableStore
  link(id: LinkId): LinkParts
}

export type OverRows = Checked & { readonly kind: 'over-rows' }

/** The column of the row itself, for expressions that read it from among other rows. */
interface OuterRow {
  readonly store: TableStore
  readonly used: Set<NodeId>
}

/**
 * Gives plans what they read from other rows: a nested part becomes a column of the table it reads, groups and links become
 * nodes that formulas share, and an aggregate becomes a node over groups, or a scan where its condition allows nothing better.
 */
export class Lowering {
  readonly context: LoweringContext
  /** Takes nodes that are shared. */
  readonly hold: Hold

  constructor(context: LoweringContext, hold: Hold) {
    this.context = context
    this.hold = hold
  }

  /** A plan over a table with its inputs. */
  lower(plan: Plan, store: TableStore, outer?: OuterRow, ring?: Ring): LoweredPlan {
    const outers: OuterInput[] = []
    const inputs = plan.reads.map((read) => {
      const input = ring?.isOwnLag(read) === true ? this.#ringLag(read, store, ring) : this.input(read, store, outer)
      if (input instanceof OuterInput) outers.push(input)
      return input
    })
    const lists = plan.holidays.map((list) => this.holidays(list))
    return new LoweredPlan(plan, { inputs, lists, outers }, this.context.frames, this.context.surroundings)
  }

  /** The order of a ring: its groups and its keys. */
  orderOf(
    by: readonly Checked[],
    order: readonly CheckedOrderKey[],
    store: TableStore,
  ): Pick<RingParts, 'groups' | 'keys' | 'descending'> {
    const dictionary = `by ${store.key} ${identityOf(by)}`
    return {
      groups: by.length === 0 ? null : this.#groupsBy(this.#columns(by, store), store, dictionary, true),
      keys: this.#columns(
        order.map(({ key }) => key),
        store,
      ),
      descending: order.map(({ descending }) => descending),
    }
  }

  #ringLag(read: Checked, store: TableStore, ring: Ring): CrossRowInput {
    const { args } = read as OverRows
    const value = this.lower(this.context.compile(args[0] as Checked), store)
    return new RingLagInput(ring.order, store, value, lagCount(read as OverRows))
  }

  #with(hold: Hold): Lowering {
    return new Lowering(this.context, hold)
  }

  /** What a part of a formula reads from other rows. */
  input(read: Checked, store: TableStore, outer?: OuterRow): CrossRowInput {
    switch (read.kind) {
      case 'follow': {
        const path = this.#path(read.links)
        const target = this.context.link(read.links.at(-1) as LinkId).target
        return new FollowInput(path, target, this.column(read.read, target))
      }
      case 'single':
        return new SingleInput(this.context.singles, read.column)
      case 'outer': {
        if (outer === undefined) throw new ReferenceError('this row is read outside of a function of several rows')
        const column = this.column(read.inner, outer.store)
        outer.used.add(column)
        return new OuterInput(outer.store, column)
      }
      case 'over-rows':
        return read.record.form === 'ordered' ? this.#ordered(read, store) : this.#aggregate(read, store)
      default:
        throw new TypeError(`${read.kind} is not read from other rows`)
    }
  }

  /** The column that an expression over a table is: its own, or one that only the engine knows. */
  column(expression: Checked, store: TableStore): NodeId {
    if (expression.kind === 'column') return expression.column
    const key = `column ${store.key} ${identityOf(expression)}`
    return this.hold(key, (id, hold) => {
      const plan = this.context.compile(expression)
      store.makeColumn(id, plan.type)
      return new RowColumn(id, store, this.#with(hold).lower(plan, store), null, false, () => store.dropColumn(id))
    }).id
  }

  #columns(expressions: readonly Checked[], store: TableStore): NodeId[] {
    return expressions.map((one) => this.column(one, store))
  }

  #groupsBy(columns: readonly NodeId[], store: TableStore, dictionary: string, blankIsKey: boolean): KeyGroups {
    const shared = this.hold(`dictionary ${dictionary}`, (id) => new KeyDictionaryNode(id))
    const key = `groups ${store.key} ${columns.join(',')} ${blankIsKey} ${dictionary}`
    return this.hold(key, (id) => new KeyGroups(id, store, columns, shared.dictionary, blankIsKey))
  }

  #path(links: readonly LinkId[]): LinkPath {
    const hops = links.map((id): LinkHop => {
      const { store, columns, target, keys } = this.context.link(id)
      const dictionary = `link ${id}`
      return {
        source: this.#groupsBy(columns, store, dictionary, false),
        target: this.#groupsBy(keys, target, dictionary, false),
      }
    })
    return new LinkPath(hops)
  }

  #pathGroups(links: readonly LinkId[], store: TableStore): PathGroups {
    return this.hold(
      `path ${store.key} ${links.join(',')}`,
      (id, hold) => new PathGroups(id, store, this.#with(hold).#path(links)),
    )
  }

  /** The rows of a table by the values of some columns, to find rows by their key. */
  lookup(store: TableStore, columns: readonly NodeId[]): KeyGroups {
    return this.#groupsBy(columns, store, `lookup ${store.key} ${columns.join(',')}`, false)
  }

  /** What counts the keys of a link that lead nowhere, or to several rows. */
  linkWatch(link: LinkId): LinkWatch {
    return this.hold(`watch ${link}`, (id, hold) => {
      const [hop] = this.#with(hold).#path([link]).hops as readonly [LinkHop]
      return new LinkWatch(id, hop.source, hop.target)
    })
  }

  /** The days of a list of holidays. */
  holidays({ rows, read, where }: CheckedRows): HolidayList {
    const store = this.context.table(rows.table)
    return new HolidayList(store, this.column(read, store), where === null ? null : this.column(where, store))
  }

  #ordered(read: OverRows, store: TableStore): CrossRowInput {
    const { record, args, by, order } = read
    if (record.form !== 'ordered') throw new TypeError(`${record.name} is not an ordered function`)
    const key = `ordered ${store.key} ${identityOf(read)}`
    const node = this.hold(key, (id, hold) => {
      const inner = this.#with(hold)
      const columns = inner.#columns(args, store)
      const isOwnOrder = record.orderArgument !== undefined
      const keys = isOwnOrder
        ? [columns[record.orderArgument] as NodeId]
        : inner.#columns(
            order.map((one) => one.key),
            store,
          )
      const descending = isOwnOrder ? [read.descending] : order.map((one) => one.descending)
      const groups =
        by.length === 0 ? null : inner.#groupsBy(inner.#columns(by, store), store, `by ${store.key} ${identityOf(by)}`, true)
      store.makeColumn(id, storedType(read.type))
      const parts = { record, store, groups, args: columns, types: args.map(typeOf), keys, descending, reach: reachOf(read) }
      return new OrderedNode(id, parts, () => store.dropColumn(id))
    })
    const [grouped, sorted] = [by.length > 0, order.length > 0 || record.orderArgument !== undefined]
    return new ColumnInput(store, node.id, { kind: 'order', reach: sorted || grouped ? null : reachOf(read), grouped, sorted })
  }

  #aggregate(read: OverRows, store: TableStore): CrossRowInput {
    const { rows, args, order } = read
    const condition = splitCondition(read.where)
    const keysOfRow = rowKeys(read)
    const isPairwise =
      condition.hasPairs || condition.range !== null || [...args, ...keysOfRow, ...order.map(({ key }) => key)].some(readsOuter)
    const isMixed = condition.keys.length > 0 && (rows.which === 'linked' || keysOfRow.length > 0)
    if (isPairwise || isMixed || rows.which === 'below') return this.#scan(read, store, keysOfRow)
    const from = this.context.table(rows.table)
    const filter = condition.filter === null ? null : this.column(condition.filter, from)
    const groups = this.#readerGroups(read, store, from, condition.keys, filter, keysOfRow)
    const grouping = groups.kind === 'whole' ? null : groups.kind === 'keys' ? groups.members : groups.groups
    return new AggregateInput(this.resultsOf(read, from, grouping, condition.filter), groups)
  }

  /** The results of an aggregate for groups of the rows it reads. */
  resultsOf(read: OverRows, from: TableStore, groups: Groups | null, filter: Checked | null): AggregateNode {
    const key = `aggregate ${from.key} ${groups?.id ?? ''} ${identityOf({ ...read, where: filter, by: [], rows: 0 })}`
    return this.hold(key, (id, hold) => {
      const inner = this.#with(hold)
      return new AggregateNode(id, {
        ...callOf(read),
        store: from,
        groups,
        args: inner.#columns(read.args, from),
        where: filter === null ? null : inner.column(filter, from),
        keys: inner.#columns(
          read.order.map((one) => one.key),
          from,
        ),
        type: storedType(read.type),
        ...(read.args[1]?.kind === 'constant' && { second: read.args[1].value }),
      })
    })
  }

  #readerGroups(
    read: OverRows,
    store: TableStore,
    from: TableStore,
    keys: ReturnType<typeof splitCondition>['keys'],
    filter: NodeId | null,
    by: readonly Checked[],
  ): ReaderGroups {
    const { rows } = read
    if (rows.which === 'linked') return { kind: 'linked', groups: this.#pathGroups(rows.links, from) }
    if (by.length > 0) {
      const dictionary = `by ${store.key} ${identityOf(by)}`
      return { kind: 'own', groups: this.#groupsBy(this.#columns(by, store), store, dictionary, true) }
    }
    if (keys.length === 0) return { kind: 'whole' }
    const members = keys.map(({ member }) => member)
    const dictionary = `keys ${from.key} ${identityOf(members)}`
    return {
      kind: 'keys',
      members: this.#groupsBy(this.#columns(members, from), from, dictionary, false),
      readers: this.#groupsBy(
        this.#columns(
          keys.map(({ reader }) => reader),
          store,
        ),
        store,
        dictionary,
        false,
      ),
      pairs: this.#pairs(read, store, from).scan,
      filter,
    }
  }

  /** The parts of an aggregate as formulas over pairs of rows. */
  #pairs(read: OverRows, store: TableStore, from: TableStore): { scan: NestedLoopScan; outer: readonly NodeId[] } {
    const outer: OuterRow = { store, used: new Set() }
    const lower = (expression: Checked): LoweredPlan => this.lower(this.context.compile(expression), from, outer)
    const scan = new NestedLoopScan(from, {
      where: read.where === null ? null : lower(read.where),
      args: read.args.map(lower),
      keys: read.order.map((one) => lower(one.key)),
    })
    return { scan, outer: [...outer.used] }
  }

  #scan(read: OverRows, store: TableStore, by: readonly Checked[]): CrossRowInput {
    const from = this.context.table(read.rows.table)
    const node = this.hold(`scan ${store.key} ${identityOf(read)}`, (id, hold) => {
      const inner = this.#with(hold)
      const { scan, outer } = inner.#pairs(read, store, from)
      store.makeColumn(id, storedType(read.type))
      const candidates = inner.#candidates(read, store, from, by)
      const bounds = candidates.kind === 'range' ? candidates.tests.map(({ reader }) => reader) : []
      const end = (): void => store.dropColumn(id)
      return new NestedLoopNode(id, store, from, callOf(read), scan, candidates, [...outer, ...bounds], end)
    })
    return new ColumnInput(store, node.id, node.accessPath, () => node.pairs)
  }

  /** What finds the rows that an aggregate takes in for one row, without computing it for all. */
  finder(read: OverRows, store: TableStore): { candidates: CandidateRows; scan: NestedLoopScan } {
    const from = this.context.table(read.rows.table)
    const { scan } = this.#pairs(read, store, from)
    return { candidates: new CandidateRows(store, this.#candidates(read, store, from, rowKeys(read)), callOf(read)), scan }
  }

  /** The path along some links, with the groups it goes by. */
  path(links: readonly LinkId[]): LinkPath {
    return this.#path(links)
  }

  #candidates(read: OverRows, store: TableStore, from: TableStore, by: readonly Checked[]): Candidates {
    const { rows } = read
    if (rows.which === 'linked') return { kind: 'linked', groups: this.#pathGroups(rows.links, from) }
    if (rows.which === 'below') return { kind: 'below', groups: this.#pathGroups(rows.links, from) }
    if (by.length > 0) {
      const groups = this.#groupsBy(this.#columns(by, store), store, `by ${store.key} ${identityOf(by)}`, true)
      return { kind: 'own', groups }
    }
    const condition = splitCondition(read.where)
    const { keys, range, filter } = condition
    if (keys.length === 0 && range === null) return { kind: 'all' }
    const members = keys.map(({ member }) => member)
    const dictionary = `keys ${from.key} ${identityOf(members)}`
    const readers = keys.map(({ reader }) => reader)
    const groups =
      keys.length === 0
        ? null
        : {
            members: this.#groupsBy(this.#columns(members, from), from, dictionary, false),
            readers: this.#groupsBy(this.#columns(readers, store), store, dictionary, false),
          }
    if (range === null) return groups === null ? { kind: 'all' } : { kind: 'keys', ...groups }
    const key = this.column(range.member, from)
    const where = filter === null ? null : this.column(filter, from)
    const index = this.hold(
      `range ${from.key} ${groups?.members.id ?? ''} ${key} ${where ?? ''}`,
      (id) => new RangeIndex(id, from, groups?.members ?? null, key, where),
    )
    const tests = range.tests.map(({ operator, reader }) => ({ operator, reader: this.column(reader, store) }))
    const { hasPairs } = condition
    const totals = hasPairs ? null : this.#rangeTotals(read, from, index)
    if (groups !== null) return { kind: 'range', index, tests, ...groups, bounds: null, totals, hasPairs }
    const asked = tests.map(({ operator, reader }) => `${operator} ${reader}`).join(',')
    const bounds = this.hold(`bounds ${store.key} ${asked}`, (id) => new IntervalTree(id, store, tests))
    return { kind: 'range', index, tests, members: null, readers: null, bounds, totals, hasPairs }
  }

  /** What totals the rows of a range, for aggregates whose result follows from that. */
  #rangeTotals(read: OverRows, from: TableStore, index: RangeIndex): RangeTotals | 'how many' | null {
    const [arg] = read.args
    if (arg === undefined) return read.record.name === 'count' ? 'how many' : null
    const need = needOf(callOf(read))
    if (need === null || readsOuter(arg)) return null
    const value = this.column(arg, from)
    return this.hold(`totals ${index.id} ${value} ${need}`, (id) => new RangeTotals(id, from, index, value, need))
  }
}

/** A ring while its columns are lowered. */
export interface Ring {
  readonly order: RingOrder
  /** True for a `lag` of a column of the ring. */
  isOwnLag(read: Checked): boolean
}

/** The keys of `by`, but those that are the same for all rows. */
function rowKeys({ by }: OverRows): Checked[] {
  return by.filter((key) => asOuterFormula(key) === null || !somePart(key, ({ kind }) => kind === 'outer'))
}

/** The number of rows that a `lag` with a constant one goes back. */
export function lagCount({ args }: OverRows): number {
  const count = args[1]
  return count?.kind === 'constant' && typeof count.value === 'number' ? count.value : 1
}

/** Rows around a row that an ordered function can depend on; null where that is not known beforehand. */
function reachOf({ record, args }: OverRows): number | null {
  if (record.form !== 'ordered' || record.reach === undefined) return null
  const count = args[1]
  if (count === undefined) return record.reach(1)
  const isKnown =
    count.kind === 'constant' && typeof count.value === 'number' && Number.isInteger(count.value) && count.value >= 0
  return isKnown ? record.reach(count.value as number) : null
}

/** A key dictionary that several groups share; it changes with them and is never computed. */
class KeyDictionaryNode implements EngineNode {
  readonly id: NodeId
  readonly sources: readonly NodeId[] = []
  readonly dictionary: KeyDictionary = new KeyDictionary()
  readonly isStateless = true
  readonly isStale = false
  readonly isDeferrable = false

  constructor(id: NodeId) {
    this.id = id
  }

  update(): void {
    // The groups enter their keys themselves.
  }

  postpone(): void {
    // It has no sources that could be stale.
  }

  flush(): void {
    // Nothing of it is ever postponed.
  }
}

/** The call of an aggregate, told apart from its rows. */
export function callOf(read: OverRows): AggregateCall {
  const { record } = read
  if (record.form !== 'aggregate') throw new TypeError(`${record.name} is not an aggregate`)
  return {
    record: record as FunctionRecord & { form: 'aggregate' },
    types: read.args.map(typeOf),
    descending: read.order.map((one) => one.descending),
  }
}

const typeOf = (node: Checked): ValueType => storedType(node.type)

function storedType(type: ExpressionType): ValueType {
  return type === 'blank' || type === 'unknown' ? 'text' : type
}
