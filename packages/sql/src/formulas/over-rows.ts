import type { Scalar } from 'mellow-abacus'
import {
  asOuterFormula,
  type Checked,
  type DefinedLink,
  mapParts,
  readsOuter,
  somePart,
  splitCondition,
} from 'mellow-abacus/model'
import { NoForm, numberOfFault } from '../dialects/index.js'
import { shownText } from '../functions/index.js'
import { indented, type JoinedColumn, type JoinPlaces, joined, PairRows, type Relation, sql, type Term } from '../terms/index.js'
import {
  faultOf,
  firstFault,
  quotient,
  unlessFault,
  type Value,
  valueFrom,
  type Writing,
  withoutNegativeZero,
} from '../values/index.js'
import { aggregateForm, PICKS } from './aggregates.js'
import { FormulaWriter, typeOf } from './formula.js'
import { repeatedAmong } from './links.js'
import type { Reading, TableReading } from './reading.js'

type OverRows = Checked & { kind: 'over-rows' }

/** The parts of an aggregate, as terms of the rows it reads or of pairs of them with the row it is for. */
interface Parts {
  readonly values: readonly Value[]
  /** True for the rows taken in; null for all of them. */
  readonly condition: Value | null
  readonly order: readonly { readonly key: Value; readonly descending: boolean; readonly isText: boolean }[]
  readonly rowKey: readonly Term[]
}

/** How rows are taken in for the row that an aggregate is for. */
interface Membership {
  /** What a row read is grouped by, and what of the own row is equal to it. */
  readonly keys: readonly { readonly read: Term; readonly own: Term }[]
  /** True where blank keys are equal to each other. */
  readonly blankIsKey: boolean
  /** Rows read that belong to none. */
  readonly without: readonly Term[]
  /** The error of an own row that has no rows for certain. */
  readonly ownFault: Term | null
}

/** A function that makes one value of rows. */
export function aggregateOf(table: TableReading, node: OverRows): Value {
  if (node.record.form === 'aggregate' && node.record.isShare === true) return shareOf(table, node)
  if (node.rows.which === 'below') throw new NoForm('rows below a row have no form in SQL')
  const from = table.model.table(node.rows.table)
  const condition = splitCondition(node.where)
  const by = node.by.filter((key) => asOuterFormula(key) === null || !somePart(key, ({ kind }) => kind === 'outer'))
  const isPairwise =
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
  if (rows.which === 'linked') {
    const path = rows.links as readonly number[]
    const { link, columns } = lastHop(from, path)
    const own = link.keys.map((id) => table.column(id))
    const twice = repeatedAmong(
      table,
      `own ${link.id}`,
      table,
      link.keys,
      own.map(({ value }) => value),
    )
    return {
      keys: columns.map((column, index) => ({ read: column.value, own: (own[index] as Value).value })),
      blankIsKey: false,
      without: columns.flatMap(({ fault }) => (fault === null ? [] : [fault])),
      ownFault: sql`case when ${twice} then ${numberOfFault('many-matches')} end`,
    }
  }
  const keys = by.map((key) => table.hidden(key))
  return {
    keys: keys.map(({ value }) => ({ read: value, own: value })),
    blankIsKey: true,
    without: keys.flatMap(({ fault }) => (fault === null ? [] : [fault])),
    ownFault: faultOf(keys),
  }
}

/** The columns that lead to the last table of a path of links, as those of the rows it begins at. */
function lastHop(
  from: TableReading,
  path: readonly number[],
): { readonly link: DefinedLink; readonly columns: readonly Value[] } {
  const before = path.slice(0, -1)
  const table = before.reduce((at, id) => from.model.table(at.link(id).to), from)
  const link = table.link(path.at(-1) as number)
  return { link, columns: link.columns.map((id) => from.along(before, (target) => target.column(id))) }
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
  const join = table.rows.join(key, (alias) => ({
    alias,
    rank: rank + 1,
    own: [...keys.map(({ own }) => own), ...(membership.ownFault === null ? [] : [membership.ownFault])],
    reads: [{ rows: from.rows, terms: [...readKeys, ...conditionTerms] }],
    write: (places, columns) => {
      const names = readKeys.map((one, index) => `${places.read(one)} as k${index}`)
      const list = [...names, ...columns.map((column) => `${column.write(places)} as ${places.quote(column.name)}`)]
      const filter = wheres.map((one) => places.read(one))
      const select = [
        `select ${list.join(', ')}`,
        `from ${places.from(from.rows)} as r`,
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

/** An aggregate over the rows that each row pairs with. */
function paired(table: TableReading, from: TableReading, node: OverRows, membership: Membership): Value {
  const pairs = new PairRows()
  const reading = new PairReading(table, from, pairs)
  const hidden = (part: Checked, wanted?: 'boolean'): Value =>
    withoutNegativeZero(new FormulaWriter(table.model.writing, reading).write(part, wanted))
  const parts: Parts = {
    values: node.args.map((arg) => hidden(arg)),
    condition: node.where === null ? null : hidden(node.where, 'boolean'),
    order: node.order.map(({ key, descending }) => ({ key: hidden(key), descending, isText: key.type === 'text' })),
    rowKey: needsOrder(node) ? from.rowKey.map((term) => pairs.of('read', term)) : [],
  }
  const inPairs = (term: Term): Term => (term.rows === null ? pairs.constant(term.text) : term)
  const input = inputOf(table.model.writing, node, parts, inPairs)
  const ownKey = table.rowKey
  const keyTerms = ownKey.map((term) => pairs.of('own', term))
  const { keys, without, blankIsKey, ownFault } = membership
  const strictTerms = [...keys.map(({ read }) => read), ...without]
  const sides = { read: pairs.termsOf('read'), own: pairs.termsOf('own') }
  const rank = Math.max(
    0,
    ...[...sides.read, ...sides.own, ...strictTerms, ...keys.map(({ own }) => own), ...(ownFault === null ? [] : [ownFault])].map(
      (one) => one.rank,
    ),
  )
  const known = equalities(table, from, node, parts)
  const identity = `pairs ${table.model.nextNumber()}`
  const join = table.rows.join(
    identity,
    (alias): Relation => ({
      alias,
      rank: rank + 1,
      own: [...ownKey, ...(ownFault === null ? [] : [ownFault])],
      reads: [
        { rows: from.rows, terms: [...sides.read, ...strictTerms, ...known.map(({ read }) => read)] },
        {
          rows: table.rows,
          terms: [
            ...sides.own,
            ...ownKey,
            ...keys.map(({ own }) => own),
            ...known.map(({ own }) => own),
            ...(ownFault === null ? [] : [ownFault]),
          ],
        },
      ],
      write: (places, columns) => {
        const on = [
          ...known.map(({ read, own }) => `${places.read(read, 'm')} = ${places.read(own, 'o')}`),
          ...keys.flatMap(({ read, own }) => {
            const [left, right] = [places.read(read, 'm'), places.read(own, 'o')]
            return blankIsKey ? [`${left} is not distinct from ${right}`] : [`${left} = ${right}`]
          }),
          ...without.map((fault) => `${places.read(fault, 'm')} is null`),
        ]
        const beginning = `${places.from(table.rows)} as o join ${places.from(from.rows)} as m on ${on.length === 0 ? 'true' : on.join(' and ')}`
        const pairTerms = [
          ...keyTerms,
          ...input.terms.filter((term) => term.rows !== null),
          ...(input.where === null ? [] : [input.where]),
        ]
        const inner = places.select(pairTerms, beginning, (term) => {
          if (term.origin.kind !== 'read') return null
          const { side, term: of } = pairs.sideOf(term)
          return places.read(of, side === 'read' ? 'm' : 'o')
        })
        const inR = (term: Term): string => places.read(term)
        const groups = keyTerms.map(inR)
        const list = [
          ...groups.map((one, index) => `${one} as k${index}`),
          ...columns.map((column) => `${column.write(places)} as ${places.quote(column.name)}`),
        ]
        const where = input.where === null ? '' : ` where ${inR(input.where)}`
        const select = `select ${list.join(', ')}\nfrom (\n${indented(inner)}\n) as r${where} group by ${groups.join(', ')}`
        const onKey = ownKey.map((term, index) => `${alias}.k${index} = ${places.own(term)}`)
        return `left join (\n${indented(indented(select))}\n  ) as ${alias} on ${onKey.join(' and ')}`
      },
    }),
  )
  return finished(table, node, ownFault, input, (kind) =>
    join({ name: kind, reads: [], write: (places) => input.write(kind, (term) => places.read(term)) }),
  )
}

/** Equalities of the condition that pairs can be found by: those without which a pair is surely not taken in, and is no error. */
function equalities(table: TableReading, from: TableReading, node: OverRows, parts: Parts): { read: Term; own: Term }[] {
  if (parts.condition !== null && parts.condition.fault !== null) return []
  return splitCondition(node.where).keys.map(({ member, reader }) => ({
    read: from.hidden(member).value,
    own: table.hidden(reader).value,
  }))
}

/** What a row and a row read for it are together. */
class PairReading implements Reading {
  readonly #own: TableReading
  readonly #from: TableReading
  readonly #pairs: PairRows

  constructor(own: TableReading, from: TableReading, pairs: PairRows) {
    this.#own = own
    this.#from = from
    this.#pairs = pairs
  }

  #of(side: 'read' | 'own', value: Value): Value {
    return {
      ...value,
      value: this.#pairs.of(side, value.value),
      fault: value.fault === null ? null : this.#pairs.of(side, value.fault),
    }
  }

  column(id: number): Value {
    return this.#of('read', this.#from.column(id))
  }

  follow(links: readonly number[], read: Checked): Value {
    return this.#of('read', this.#from.follow(links, read))
  }

  single(id: number): Value {
    return this.#of('read', this.#from.single(id))
  }

  outer(inner: Checked): Value {
    return this.#of('own', this.#own.hidden(inner))
  }

  overRows(node: OverRows): Value {
    return this.#of('read', this.#from.overRows(node))
  }
}

/** What a select with groups is made from. */
interface Input {
  readonly terms: readonly Term[]
  /** Rows for which this is not true are left out; null where none are. */
  readonly where: Term | null
  /** The same for aggregates that come to the same. */
  readonly identity: string
  readonly result: Pick<Value, 'size' | 'isApproximate'>
  readonly mayFail: boolean
  write(kind: 'value' | 'fault', read: (term: Term) => string): string
}

function needsOrder({ record }: OverRows): boolean {
  return ['first', 'last', 'lookup', 'join_rows'].includes(record.name)
}

function inputOf(writing: Writing, node: OverRows, parts: Parts, inRows: (term: Term) => Term): Input {
  const { dialect } = writing
  const { name } = node.record
  const { condition } = parts
  const picks = PICKS.has(name)
  const isOpen = condition?.fault ?? null
  // Where the condition may be an error its rows stay, so that the error is found; values of rows not taken in are put away.
  const taken = (term: Term): Term =>
    isOpen === null || condition === null ? term : sql`case when ${condition.value} then ${term} end`
  const where =
    condition === null ? null : inRows(isOpen === null ? condition.value : sql`(${condition.value} or ${isOpen} is not null)`)
  const shown = parts.values.map((value, index) =>
    name === 'join_rows' && index === 0
      ? { ...value, value: shownText(writing, value, typeOf((node.args[0] as Checked).type, 'text')) }
      : value,
  )
  const values = shown.map(({ value }) => inRows(taken(value)))
  const faults = shown.map(({ fault }) => (fault === null ? null : inRows(taken(fault))))
  const early = [
    isOpen,
    ...(node.args.length === 0 ? [] : parts.order.map(({ key }) => (key.fault === null ? null : taken(key.fault)))),
    ...(picks ? [] : faults),
  ].filter((one) => one !== null)
  const worst = early.length === 0 ? null : inRows(early.length === 1 ? (early[0] as Term) : sql`least(${joined(early, ', ')})`)
  const keys = parts.order.map(({ key, descending, isText }) => ({ key: inRows(key.value), descending, isText }))
  const isTaken = isOpen === null || condition === null ? null : inRows(condition.value)
  const rowKey = parts.rowKey.map(inRows)
  const isText = typeOf((node.args[0] ?? node).type, 'number') === 'text'
  const input = (read: (term: Term) => string) => {
    const by = (isReverse: boolean): string =>
      [
        ...keys.map(({ key, descending, isText: hasText }) => {
          const text = hasText && dialect.name === 'postgresql' ? `${read(key)} collate "C"` : read(key)
          return `${text} ${descending === isReverse ? 'asc' : 'desc'} nulls ${isReverse ? 'first' : 'last'}`
        }),
        ...rowKey.map((key) => `${read(key)} ${isReverse ? 'desc' : 'asc'}`),
      ].join(', ') || '1'
    return {
      dialect,
      values: values.map(read),
      faults: faults.map((one) => (one === null ? null : read(one))),
      isTaken: isTaken === null ? null : read(isTaken),
      order: by(false),
      reverse: by(true),
      size: parts.values[0]?.size ?? { grain: 0, high: 54 },
      isText,
      second: constantOf(node.args[1]),
    }
  }
  const sample = aggregateForm(
    name,
    input((term) => String(term.id)),
  )
  const approximate = [...parts.values, ...(condition === null ? [] : [condition]), ...parts.order.map(({ key }) => key)]
  return {
    terms: [...values, ...faults, worst, isTaken, ...keys.map(({ key }) => key), ...rowKey].filter((one) => one !== null),
    where,
    identity: `${name} ${[...values, ...keys.map(({ key }) => key)].map(({ id }) => id).join(' ')} ${worst?.id ?? ''} ${keys.map(({ descending }) => (descending ? 'd' : 'a')).join('')}`,
    result: { size: sample.size, isApproximate: sample.isApproximate || approximate.some((one) => one.isApproximate) },
    mayFail: worst !== null || sample.fault !== null,
    write: (kind, read) => {
      const made = aggregateForm(name, input(read))
      const least = worst === null ? null : `min(${read(worst)})`
      if (kind === 'value') {
        const failed = [least, made.fault].filter((one) => one !== null)
        if (failed.length === 0) return made.value
        return least === null ? made.value : `case when ${least} is null then ${made.value} end`
      }
      return least === null ? (made.fault as string) : made.fault === null ? least : `coalesce(${least}, ${made.fault})`
    },
  }
}

function constantOf(node: Checked | undefined): Scalar | null | undefined {
  return node?.kind === 'constant' ? node.value : undefined
}

/** The value of an aggregate for the own row: without rows there is nothing, of which there are none. */
function finished(
  table: TableReading,
  node: OverRows,
  ownFault: Term | null,
  input: Input,
  column: (kind: 'value' | 'fault') => Term,
): Value {
  const { writing } = table.model
  const joinedFault = input.mayFail ? column('fault') : null
  const fault = firstFault([ownFault, joinedFault])
  const counts = node.record.name === 'count' || node.record.name === 'count_distinct'
  const value = counts ? sql`coalesce(${column('value')}, '0'::float8)` : column('value')
  const made =
    node.record.name === 'join_rows'
      ? lengthChecked(writing, unlessFault(fault, value), fault)
      : { value: unlessFault(fault, value), fault }
  return valueFrom(made.value, { fault: made.fault, ...input.result })
}

function lengthChecked(writing: Writing, value: Term, fault: Term | null): { value: Term; fault: Term | null } {
  const isLong = writing.call('is_too_long', value)
  const own = sql`case when ${isLong} then ${numberOfFault('too-long')} end`
  return { value: sql`case when not ${isLong} then ${value} end`, fault: firstFault([fault, own]) }
}
