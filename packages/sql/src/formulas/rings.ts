import type { ValueType } from 'mellow-abacus'
import { type Checked, type DefinedColumn, type DefinedRing, identityOf, somePart } from 'mellow-abacus/model'
import { NoForm } from '../dialects/index.js'
import { indented, type JoinPlaces, PairRows, type Relation, sql, type Term } from '../terms/index.js'
import { faultOf, firstFault, nothing, type Value, valueFrom, withoutNegativeZero } from '../values/index.js'
import { FormulaWriter, typeOf } from './formula.js'
import type { Reading, TableReading } from './reading.js'

/**
 * Rows up to which a ring is calculated: an engine looks through all of them for each next row.
 */
const MOST_ROWS = 5000

/** What earlier rows of a ring are asked for: an expression, and how far back. */
interface Earlier {
  readonly node: Checked
  readonly type: ValueType
  most: number
}

/**
 * Columns that read each other's earlier rows, by a recursive query: row after row, all groups at once.
 *
 * @throws NoForm for more rows than that is done for
 */
export function ringValues(table: TableReading, ring: DefinedRing, columns: readonly DefinedColumn[]): Map<number, Value> {
  const { writing } = table.model
  if (table.source.rowCount > MOST_ROWS)
    throw new NoForm(
      `columns that read their own earlier rows have a form for up to ${MOST_ROWS} rows, and ${table.definition.name} has ${table.source.rowCount}`,
    )
  const by = ring.by.map((key) => table.hidden(key))
  const order = ring.orderBy.map(({ key, descending }) => ({ key: table.hidden(key), descending, isText: key.type === 'text' }))
  const keyFault = firstFault([faultOf(by), faultOf(order.map(({ key }) => key))])
  const rows = new PairRows()
  const reading = new RingReading(table, rows, ring, keyFault)
  const members = new Map<number, Value>()
  for (const column of columns) {
    const value = table.model.ofColumn(column, reading)
    reading.members.set(column.id, value)
    members.set(column.id, value)
  }
  const inRows = (term: Term): Term => (term.rows === null ? rows.constant(term.text) : term)
  const types = new Map(columns.map((column) => [column.id as number, column.type ?? 'text']))
  const outputs: { readonly name: string; readonly term: Term; readonly type: ValueType | 'fault' }[] = []
  const add = (name: string, value: Value, type: ValueType): void => {
    outputs.push({ name, term: inRows(type === 'text' ? writing.dialect.ordered(value.value) : value.value), type })
    outputs.push({ name: `${name}!fault`, term: inRows(value.fault ?? sql`cast(null as int)`), type: 'fault' })
  }
  for (const [id, value] of members) add(`c${id}`, value, types.get(id) as ValueType)
  for (const [index, earlier] of reading.earlier.entries()) {
    add(`h${index}.1`, reading.now(earlier), earlier.type)
    for (let n = 2; n <= earlier.most; n++) add(`h${index}.${n}`, reading.before(index, n - 1, false), earlier.type)
  }
  const inputs = rows.termsOf('read')
  const keys = table.rowKey
  const sources = [
    ...inputs,
    ...keys,
    ...by.map(({ value }) => value),
    ...order.map(({ key }) => key.value),
    ...(keyFault === null ? [] : [keyFault]),
  ]
  const rank = Math.max(0, ...sources.map((term) => term.rank))
  const nullOf = (type: ValueType | 'fault'): string =>
    type === 'fault'
      ? 'cast(null as int)'
      : type === 'text'
        ? writing.dialect.ordered(nothing(writing, 'text')).text
        : nothing(writing, type).text
  const join = table.rows.join(
    `ring ${ring.order.join(',')}`,
    (alias): Relation => ({
      alias,
      rank: rank + 1,
      own: keys,
      reads: [{ rows: table.rows, terms: sources }],
      write: (places) => {
        const { quote } = places
        const read = (term: Term): string => places.read(term)
        const parts = [...by.map(({ value }) => read(value)), ...(keyFault === null ? [] : [`${read(keyFault)} is not null`])]
        const sorted = [
          ...order.map(({ key, descending, isText }) => {
            const value = isText ? writing.dialect.ordered(sql`${read(key.value)}`).text : read(key.value)
            return `${value}${descending ? ' desc' : ''} nulls last`
          }),
          ...keys.map(read),
        ].join(', ')
        const group = parts.length === 0 ? '1' : `dense_rank() over (order by ${parts.join(', ')})`
        const partition = parts.length === 0 ? '' : `partition by ${parts.join(', ')} `
        const numbered = `select r.*, ${group} as ${quote('group!')}, row_number() over (${partition}order by ${sorted}) as ${quote('place!')} from ${places.from(table.rows)} as r`
        const key = keys.map((term) => places.read(term, 'b'))
        const names = outputs.map(({ name }) => quote(name))
        const begin = [
          `b.${quote('group!')}`,
          `cast(0 as bigint) as ${quote('place!')}`,
          ...key.map((one, index) => `${one} as k${index}`),
          ...outputs.map(({ type }, index) => `${nullOf(type)} as ${names[index]}`),
        ]
        const step = stepOf(places, rows, outputs, keys)
        const recursive = `with recursive b as (
  ${numbered}
), x as (
  select ${begin.join(', ')} from b where b.${quote('place!')} = 1
  union all
${indented(step)}
)
select ${[...keys.map((_, index) => `x.k${index}`), ...names.map((name) => `x.${name}`)].join(', ')} from x where x.${quote('place!')} > 0`
        const on = keys.map((term, index) => `${alias}.k${index} = ${places.own(term)}`).join(' and ')
        return `left join (\n${indented(indented(recursive))}\n  ) as ${alias} on ${on}`
      },
    }),
  )
  const column = (name: string): Term => join({ name, reads: [], write: () => '' })
  return new Map([...members].map(([id, value]) => [id, { ...value, value: column(`c${id}`), fault: column(`c${id}!fault`) }]))
}

/** The next row of each group, from the one before it. */
function stepOf(
  places: JoinPlaces,
  rows: PairRows,
  outputs: readonly { readonly name: string; readonly term: Term }[],
  keys: readonly Term[],
): string {
  const { quote } = places
  const group = quote('group!')
  const place = quote('place!')
  const before = `select b.*, ${outputs.map(({ name }) => `x.${quote(name)} as ${quote(`before ${name}`)}`).join(', ')} from x join b on b.${group} = x.${group} and b.${place} = x.${place} + 1`
  const isKept = [group, place].map((name) => rows.constant(`y.${name}`))
  const key = keys.map((term) => rows.constant(places.read(term, 'y')))
  const targets = [...isKept, ...key, ...outputs.map(({ term }) => term)]
  const inner = places.select(targets, `(${before}) as y`, (term) => {
    if (term.origin.kind !== 'read') return isKept.includes(term) || key.includes(term) ? term.text : null
    return rows.isEarlier(term) ? `y.${quote(`before ${term.text}`)}` : places.read(rows.sideOf(term).term, 'y')
  })
  const nameOf = (term: Term): string => `z.${quote(rows.nameOf(term))}`
  return `select ${targets.map(nameOf).join(', ')} from (\n${indented(inner)}\n) as z`
}

/** What the names of a formula of a ring are, in a row and the ones before it. */
class RingReading implements Reading {
  readonly #table: TableReading
  readonly #rows: PairRows
  readonly #ids: ReadonlySet<number>
  readonly #keyFault: Term | null
  readonly members: Map<number, Value> = new Map()
  readonly earlier: Earlier[] = []

  constructor(table: TableReading, rows: PairRows, ring: DefinedRing, keyFault: Term | null) {
    this.#table = table
    this.#rows = rows
    this.#ids = new Set(ring.order)
    this.#keyFault = keyFault
  }

  #input(value: Value): Value {
    const fault = value.fault === null ? null : this.#rows.of('read', value.fault)
    return { ...value, value: this.#rows.of('read', value.value), fault }
  }

  column(id: number): Value {
    return this.members.get(id) ?? this.#input(this.#table.column(id))
  }

  follow(links: readonly number[], read: Checked): Value {
    return this.#input(this.#table.follow(links, read))
  }

  single(id: number): Value {
    return this.#input(this.#table.single(id))
  }

  days(rows: Parameters<Reading['days']>[0]): Term {
    return this.#rows.of('read', this.#table.days(rows))
  }

  outer(): Value {
    throw new ReferenceError('this row is read outside of a function of several rows')
  }

  overRows(node: Checked & { kind: 'over-rows' }): Value {
    if (!somePart(node, (part) => part.kind === 'column' && this.#ids.has(part.column)))
      return this.#input(this.#table.overRows(node))
    const [asked, count] = node.args as [Checked, Checked?]
    const n = count?.kind === 'constant' && typeof count.value === 'number' ? count.value : 1
    const identity = identityOf(asked)
    let index = this.earlier.findIndex((one) => identityOf(one.node) === identity)
    if (index < 0) index = this.earlier.push({ node: asked, type: typeOf(asked.type, typeOf(node.type, 'number')), most: n }) - 1
    const earlier = this.earlier[index] as Earlier
    earlier.most = Math.max(earlier.most, n)
    return this.before(index, n, true)
  }

  /** What was asked for so many rows before; in a row without an order that is its error. */
  before(index: number, n: number, isRead: boolean): Value {
    const value = this.#rows.earlier(`h${index}.${n}`)
    const fault = this.#rows.earlier(`h${index}.${n}!fault`)
    if (this.#keyFault === null || !isRead) return valueFrom(value, { fault })
    const own = this.#rows.of('read', this.#keyFault)
    return valueFrom(sql`case when ${own} is null then ${value} end`, { fault: firstFault([own, fault]) })
  }

  /** What is asked for, in the row itself. */
  now({ node, type }: Earlier): Value {
    return withoutNegativeZero(new FormulaWriter(this.#table.model.writing, this).write(node, type))
  }
}
