import type { DefinedLink } from 'mellow-abacus/model'
import { numberOfFault } from '../dialects/index.js'
import { indented, sql, type Term } from '../terms/index.js'
import { firstFault, type Value } from '../values/index.js'
import type { TableReading } from './reading.js'
import { rowsAmong } from './rows-among.js'

const MANY_MATCHES = numberOfFault('many-matches')

/** True where no two rows of a table have the same key, as its engine knows. */
function isUnique(target: TableReading, keys: readonly number[]): boolean {
  return target.source.unique.some((columns) => columns.every((one) => keys.includes(one)))
}

/**
 * A value at the row that a link leads to: blank without such a row, and an error where there are several.
 *
 * @param inner - the value as one of the rows led to
 */
export function followLink(from: TableReading, link: DefinedLink, target: TableReading, inner: Value): Value {
  const own = link.columns.map((id) => from.column(id))
  const keys = link.keys.map((id) => target.column(id).value)
  const rank = Math.max(
    inner.value.rank,
    inner.fault?.rank ?? 0,
    ...keys.map((key) => key.rank),
    ...own.map(({ value }) => value.rank),
  )
  const known = isUnique(target, link.keys)
  const pairs = keys.map((read, index) => ({ read, own: (own[index] as Value).value }))
  const isNarrow = from.source.isPart === true && !known
  const join = from.rows.join(`link ${link.id} ${rank}`, (alias) => ({
    alias,
    rank: rank + 1,
    own: own.map(({ value }) => value),
    reads: [{ rows: target.rows, terms: keys }, ...(isNarrow ? [{ rows: from.rows, terms: pairs.map((one) => one.own) }] : [])],
    write: (places) => {
      const on = pairs.map((one) => `${places.read(one.read, alias)} = ${places.own(one.own)}`).join(' and ')
      const rows = isNarrow ? rowsAmong(places, from, target, pairs, false) : places.from(target.rows)
      if (known) return `left join ${rows} as ${alias} on ${on}`
      const twice = repeatedKeys(keys, (key) => places.read(key), rows)
      const same = keys.map((key) => `${places.read(key, 'd')} = ${places.read(key)}`).join(' and ')
      const single = `select r.* from ${rows} as r left join (${twice}) as d on ${same} where ${places.read(keys[0] as Term, 'd')} is null`
      return `left join (\n${indented(indented(single))}\n  ) as ${alias} on ${on}`
    },
  }))
  const read = (term: Term): Term =>
    join({ name: target.rows.nameOf(term), reads: [{ rows: target.rows, terms: [term] }], write: () => '' })
  const faults = [
    ...own.map(({ fault }) => fault),
    known ? null : repeated(from, link, target),
    inner.fault === null ? null : read(inner.fault),
  ]
  return {
    ...inner,
    value: read(inner.value),
    fault: firstFault(faults),
    isApproximate: inner.isApproximate || own.some((one) => one.isApproximate),
  }
}

/** Whether several rows have the key that a link of a row leads to, as the number of the error. */
function repeated(from: TableReading, link: DefinedLink, target: TableReading): Term {
  const own = link.columns.map((id) => from.column(id).value)
  const found = repeatedAmong(from, `link ${link.id}`, target, link.keys, own)
  return sql`case when ${found} then ${MANY_MATCHES} end`
}

/** Whether keys stand in several rows of a table. */
export function repeatedAmong(
  from: TableReading,
  key: string,
  target: TableReading,
  of: readonly number[],
  own: readonly Term[],
): Term {
  const keys = of.map((id) => target.column(id).value)
  const rank = Math.max(...keys.map((one) => one.rank), ...own.map((one) => one.rank))
  const pairs = keys.map((read, index) => ({ read, own: own[index] as Term }))
  const isNarrow = from.source.isPart === true
  const join = from.rows.join(`repeated ${key}`, (alias) => ({
    alias,
    rank: rank + 1,
    own,
    reads: [{ rows: target.rows, terms: keys }, ...(isNarrow ? [{ rows: from.rows, terms: own }] : [])],
    write: (places) => {
      const on = pairs.map((one) => `${places.read(one.read, alias)} = ${places.own(one.own)}`).join(' and ')
      const rows = isNarrow ? rowsAmong(places, from, target, pairs, false) : places.from(target.rows)
      return `left join (${repeatedKeys(keys, (one) => places.read(one), rows, ', true as "twice"')}) as ${alias} on ${on}`
    },
  }))
  return join({ name: 'twice', reads: [], write: () => '' })
}

/** The keys that stand in several rows. */
export function repeatedKeys(keys: readonly Term[], read: (key: Term) => string, rows: string, more = ''): string {
  const columns = keys.map(read).join(', ')
  const isKnown = keys.map((key) => `${read(key)} is not null`).join(' and ')
  return `select ${columns}${more} from ${rows} as r where ${isKnown} group by ${columns} having count(*) > 1`
}
