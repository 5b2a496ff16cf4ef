import { indented, type JoinPlaces, type Term } from '../terms/index.js'
import type { TableReading } from './reading.js'

/** What of a row read is equal to what of a row that it is read for. */
interface KeyPair {
  readonly read: Term
  readonly own: Term
}

/**
 * Only those rows of a table, as they stand after `from`, whose keys some row has that they are read for (magic sets: Bancilhon,
 * Maier, Sagiv, Ullman, PODS 1986).
 *
 * @param blankIsKey - whether blank keys are equal to each other
 */
export function rowsAmong(
  places: JoinPlaces,
  table: TableReading,
  from: TableReading,
  keys: readonly KeyPair[],
  blankIsKey: boolean,
): string {
  const rows = places.from(from.rows)
  const pairs = keys.map(({ read, own }): [string, string] => [places.read(read), places.read(own, 'o')])
  const text = amongText(rows, places.from(table.rows), pairs, blankIsKey, table.model.writing.dialect.joinsBlanks)
  return `(\n${indented(indented(text))}\n  )`
}

/**
 * Selects rows `r` whose keys are among those of rows `o`.
 *
 * @param pairs - the keys of both, as they are read from `r` and from `o`
 * @param joinsBlanks - whether the engine joins by keys that may be blank as fast as by others
 */
export function amongText(
  rows: string,
  others: string,
  pairs: readonly (readonly [string, string])[],
  blankIsKey: boolean,
  joinsBlanks: boolean,
): string {
  const all = `select r.* from ${rows} as r`
  const [first] = pairs
  if (first === undefined) return `${all} where exists (select 1 from ${others} as o)`
  const own = pairs.map(([, one]) => one).join(', ')
  const isAmong = `(${pairs.map(([one]) => one).join(', ')}) in (select ${own} from ${others} as o)`
  if (!blankIsKey) return `${all} where ${isAmong}`
  if (joinsBlanks) {
    const names = pairs.map(([, one], index) => `${one} as o${index}`).join(', ')
    const isSame = pairs.map(([one], index) => `${one} is not distinct from o.o${index}`).join(' and ')
    return `${all} join (select distinct ${names} from ${others} as o) as o on ${isSame}`
  }
  // What is compared with `in` is looked up in an index; blanks are looked for apart.
  if (pairs.length === 1)
    return `${all} where ${isAmong}\nunion all\n${all} where ${first[0]} is null and exists (select 1 from ${others} as o where ${first[1]} is null)`
  const asText = (one: string): string => `coalesce(cast(${one} as text), ''), ${one} is null`
  const texts = pairs.map(([, one]) => asText(one)).join(', ')
  return `${all} where (${pairs.map(([one]) => asText(one)).join(', ')}) in (select ${texts} from ${others} as o)`
}
