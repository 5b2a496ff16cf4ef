import {
  asOuterFormula,
  type Checked,
  type DefinedLink,
  mapParts,
  readsOuter,
  somePart,
  splitCondition,
} from 'mellow-abacus/model'
import { numberOfFault } from '../dialects/index.js'
import { indented, type JoinedColumn, type JoinPlaces, joined, sql, type Term } from '../terms/index.js'
import { faultOf, firstFault, quotient, type Value } from '../values/index.js'
import { finished, inputOf, needsOrder, type OverRows, type Parts } from './aggregate-input.js'
import { descendantsOf } from './descendants.js'
import { repeatedAmong } from './links.js'
import type { Membership } from './membership.js'
import { paired } from './pairs.js'
import { type GroupsOfRows, hopIdentity, type TableReading } from './reading.js'
import { rowsAmong } from './rows-among.js'

/** A function that makes one value of rows. */
export function aggregateOf(table: TableReading, node: OverRows): Value {
  if (node.record.form === 'aggregate' && node.record.isShare === true) return shareOf(table, node)
  const from = table.model.table(node.rows.table)
  const condition = splitCondition(node.where)
  const by = node.by.filter((key) => asOuterFormula(key) === null || !somePart(key, ({ kind }) => kind === 'outer'))
  const isPairwise =
    node.rows.which === 'below' ||
    condition.hasPairs ||
    condition.range !== null ||
    [...node.args, ...by, ...node.order.map(({ key }) => key)].some(readsOuter) ||
    (condition.keys.length > 0 && (node.rows.which === 'linked' || by.length > 0))
  const membership = membershipOf(table, from, node, by)
  if (!isPairwise && condition.keys.length === 0) return grouped(table, from, node, node.where, membership)
  if (!isPairwise) {
    const keys = condition.keys.map(({ member, reader }) => ({ read: from.hidden(member), own: table.hidden(reader) }))
    const filter = condition.filter === null ? null : from.hidden(condition.filter, 'boolean')
    const isSure = keys.every(({ read, own }) => read.fault === null && own.fault === null) && (filter?.fault ?? null) === null
    const terms = keys.map(({ read, own }) => ({ read: read.value, own: own.value }))
    if (isSure) {
      const isApproximate = keys.some(({ read, own }) => read.isApproximate || own.isApproximate)
      const value = grouped(table, from, node, condition.filter, { keys: terms, blankIsKey: false, without: [], ownFault: null })
      return { ...value, isApproximate: value.isApproximate || isApproximate }
    }
  }
  return paired(table, from, node, membership)
}

/** The value of the row itself per the total of its rows. */
function shareOf(table: TableReading, node: OverRows): Value {
  const atOwnRow = (part: Checked): Checked => (part.kind === 'outer' ? part.inner : mapParts(part, atOwnRow))
  const own = table.hidden(atOwnRow(node.args[0] as Checked))
  const total = aggregateOf(table, { ...node, record: { ...node.record, name: 'sum', isShare: false } as OverRows['record'] })
  return quotient(table.model.writing, own, total, 'blank')
}

function membershipOf(table: TableReading, from: TableReading, node: OverRows, by: readonly Checked[]): Membership {
  const { rows } = node
  const { groups } = table.source
  if (rows.which === 'own' && groups?.table === rows.table) return membershipOfGroups(table, from, groups)
  if (rows.which === 'linked' || rows.which === 'below') {
    const path = rows.links as readonly number[]
    const { link, columns } = lastHop(from, path)
    const own = link.keys.map((id) => table.column(id))
    const twice = repeatedAmong(
      table,
      `own ${link.id}`,
      table.everywhere,
      link.keys,
      own.map(({ value }) => value),
    )
    if (rows.which === 'below') {
      const descendants = descendantsOf(table, link, columns)
      const isTwice = sql`case when ${twice} then ${numberOfFault('many-matches')} end`
      return { keys: [], blankIsKey: false, without: [], ownFault: firstFault([isTwice, descendants.loop]), descendants }
    }
    return {
      keys: columns.map((column, index) => ({ read: column.value, own: (own[index] as Value).value })),
      blankIsKey: false,
      without: columns.flatMap(({ fault }) => (fault === null ? [] : [fault])),
      ownFault: sql`case when ${twice} then ${numberOfFault('many-matches')} end`,
    }
  }
  const keys = by.map((key) => ({ read: from.hidden(key), own: table.hidden(key) }))
  return {
    keys: keys.map(({ read, own }) => ({ read: read.value, own: own.value })),
    blankIsKey: !by.every((key) => key.kind === 'column' && table.isFull(key.column)),
    without: keys.flatMap(({ read }) => (read.fault === null ? [] : [read.fault])),
    ownFault: faultOf(keys.map(({ own }) => own)),
  }
}

/** The rows of groups, each of which stands in a row: those whose keys are blank or in error are groups too. */
function membershipOfGroups(table: TableReading, from: TableReading, { keys }: GroupsOfRows): Membership {
  const all = keys.flatMap(({ of, value, fault }) => {
    const read = from.hidden(of)
    const own = [{ read: read.value, own: table.rows.read(value) }]
    return read.fault === null || fault === null ? own : [...own, { read: read.fault, own: table.rows.read(fault) }]
  })
  return { keys: all, blankIsKey: true, without: [], ownFault: null }
}

/** The columns that lead to the last table of a path of links, as those of the rows it begins at. */
function lastHop(
  from: TableReading,
  path: readonly number[],
): { readonly link: DefinedLink; readonly columns: readonly Value[] } {
  const before = path.slice(0, -1)
  const table = before.reduce((at, id) => from.model.table(at.link(id).to), from)
  const link = table.link(path.at(-1) as number)
  const at = (id: number): Value => from.stored(hopIdentity(before, id)) ?? from.along(before, (target) => target.column(id))
  return { link, columns: link.columns.map(at) }
}

/** An aggregate over groups of rows, each joined to the rows that it is for. */
function grouped(table: TableReading, from: TableReading, node: OverRows, where: Checked | null, membership: Membership): Value {
  const parts: Parts = {
    values: node.args.map((arg) => from.hidden(arg)),
    condition: where === null ? null : from.hidden(where, 'boolean'),
    order: node.order.map(({ key, descending }) => ({ key: from.hidden(key), descending, isText: key.type === 'text' })),
    rowKey: needsOrder(node) ? from.rowKey : [],
  }
  const input = inputOf(table.model.writing, node, parts, (term) => from.model.inRows(term, from.rows))
  const { keys, without, blankIsKey } = membership
  const wheres = [...without.map((fault) => sql`${fault} is null`), ...(input.where === null ? [] : [input.where])]
  const condition = wheres.length === 0 ? null : from.model.inRows(joined(wheres, ' and '), from.rows)
  const readKeys = keys.map(({ read }) => read)
  const read = [...input.terms, ...readKeys, ...without, ...(input.where === null ? [] : [input.where])]
  const rank = Math.max(
    0,
    ...[...read, ...keys.map(({ own }) => own), ...(membership.ownFault === null ? [] : [membership.ownFault])].map(
      (one) => one.rank,
    ),
  )
  const key = `group ${from.rows.name} ${rank} ${keys.map(({ read: one, own }) => `${one.id}=${own.id}`).join(',')} ${blankIsKey} ${condition?.id ?? ''}`
  const conditionTerms = wheres.filter((one) => one.rows !== null)
  const isNarrow = table.source.isPart === true && keys.length > 0
  const join = table.rows.join(key, (alias) => ({
    alias,
    rank: rank + 1,
    own: [...keys.map(({ own }) => own), ...(membership.ownFault === null ? [] : [membership.ownFault])],
    reads: [
      { rows: from.rows, terms: [...readKeys, ...conditionTerms] },
      ...(isNarrow ? [{ rows: table.rows, terms: keys.map(({ own }) => own) }] : []),
    ],
    write: (places, columns) => {
      const rows = isNarrow ? rowsAmong(places, table, from, keys, blankIsKey) : places.from(from.rows)
      const names = readKeys.map((one, index) => `${places.read(one)} as k${index}`)
      const list = [...names, ...columns.map((column) => `${column.write(places)} as ${places.quote(column.name)}`)]
      const filter = wheres.map((one) => places.read(one))
      const select = [
        `select ${list.join(', ')}`,
        `from ${rows} as r`,
        ...(filter.length === 0 ? [] : [`where ${filter.join(' and ')}`]),
        ...(readKeys.length === 0 ? [] : [`group by ${readKeys.map((one) => places.read(one)).join(', ')}`]),
      ].join(' ')
      return `left join (\n${indented(indented(select))}\n  ) as ${alias} on ${onKeys(places, alias, keys, blankIsKey, membership.ownFault)}`
    },
  }))
  const column = (name: string, write: (places: JoinPlaces) => string): JoinedColumn => ({
    name,
    reads: [{ rows: from.rows, terms: input.terms }],
    write,
  })
  const at = (places: JoinPlaces) => (term: Term) => places.read(term)
  return finished(table, node, membership.ownFault, input, (kind) =>
    join(column(table.model.shortName(`${kind} ${input.identity}`), (places) => input.write(kind, at(places)))),
  )
}

/** How groups are joined to the rows they are for. Keys that may be blank are compared so that a hash can be made of them. */
function onKeys(places: JoinPlaces, alias: string, keys: Membership['keys'], blankIsKey: boolean, ownFault: Term | null): string {
  const tests = keys.flatMap(({ own }, index) => {
    const [left, right] = [`${alias}.k${index}`, places.own(own)]
    if (!blankIsKey) return [`${left} = ${right}`]
    const asText = (one: string): string => `coalesce(cast(${one} as text), '')`
    return [`${asText(left)} = ${asText(right)}`, `(${left} is null) = (${right} is null)`]
  })
  if (ownFault !== null && blankIsKey) tests.push(`${places.own(ownFault)} is null`)
  return tests.length === 0 ? 'true' : tests.join(' and ')
}
