import type { DefinedLink } from 'mellow-abacus/model'
import { numberOfFault } from '../dialects/index.js'
import { indented, type JoinPlaces, sql, type Term } from '../terms/index.js'
import type { Value } from '../values/index.js'
import { repeatedKeys } from './links.js'
import type { TableReading } from './reading.js'

/** The rows below each row of a table, along links that lead back to the table. */
export interface Descendants {
  /** What is read to find them. */
  readonly terms: readonly Term[]
  readonly rank: number
  /** The error of a row that is below itself. */
  readonly loop: Term
  /** Writes pairs of a row, as `a0 …`, and one below it, as `r0 …`, each by what tells rows apart. */
  write(places: JoinPlaces): string
}

/**
 * Finds the rows below each row.
 *
 * @param link - the last link of the way from a row to the one above it
 * @param columns - what of a row is equal to the keys of the one above it
 */
export function descendantsOf(table: TableReading, link: DefinedLink, columns: readonly Value[]): Descendants {
  const all = table.everywhere
  const keys = link.keys.map((id) => all.column(id).value)
  const own = columns.map(({ value }) => value)
  const { rowKey } = all
  const terms = [...own, ...keys, ...rowKey]
  const rank = Math.max(0, ...terms.map((term) => term.rank))
  const write = (places: JoinPlaces): string => {
    const rows = places.from(all.rows)
    const isAbove = own.map((term, index) => `${places.read(term, 'c')} = ${places.read(keys[index] as Term, 'p')}`).join(' and ')
    const isTwice = keys.map((key) => `${places.read(key, 'd')} = ${places.read(key, 'p')}`).join(' and ')
    const named = (alias: string, as: string): string =>
      rowKey.map((term, index) => `${places.read(term, alias)} as ${as}${index}`).join(', ')
    const listed = (alias: string, as: string): string => rowKey.map((_, index) => `${alias}.${as}${index}`).join(', ')
    const meets = rowKey.map((_, index) => `up.a${index} = w.r${index}`).join(' and ')
    return `with recursive up as (
  select ${named('p', 'a')}, ${named('c', 'r')} from ${rows} as c join ${rows} as p on ${isAbove}
  left join (${repeatedKeys(keys, (key) => places.read(key), rows)}) as d on ${isTwice}
  where ${places.read(keys[0] as Term, 'd')} is null
), w as (
  select * from up
  union
  select ${listed('w', 'a')}, ${listed('up', 'r')} from w join up on ${meets}
)
select * from w`
  }
  const join = table.rows.join(`loops ${link.id} ${own.map(({ id }) => id).join(',')}`, (alias) => ({
    alias,
    rank: rank + 1,
    own: table.rowKey,
    reads: [{ rows: all.rows, terms }],
    write: (places) => {
      const isSame = rowKey.map((_, index) => `w.a${index} = w.r${index}`).join(' and ')
      const columnsOfKey = rowKey.map((_, index) => `w.a${index} as k${index}`).join(', ')
      const on = table.rowKey.map((term, index) => `${alias}.k${index} = ${places.own(term)}`).join(' and ')
      const select = `select ${columnsOfKey}, true as ${places.quote('loop')} from (\n${indented(write(places))}\n) as w where ${isSame}`
      return `left join (\n${indented(indented(select))}\n  ) as ${alias} on ${on}`
    },
  }))
  const isLoop = join({ name: 'loop', reads: [], write: () => '' })
  return { terms, rank, write, loop: sql`case when ${isLoop} then ${numberOfFault('loop')} end` }
}
