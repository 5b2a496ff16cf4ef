import type { Definitions } from 'mellow-abacus/model'

/** The highest number that a column or a link has. */
export function lastId({ tables, values }: Definitions): number {
  const all = [values, ...tables.flatMap(({ columns, tallies, rules, links }) => [columns, tallies, rules, links])]
  return Math.max(0, ...all.flatMap((list) => list.map(({ id }) => Number(id))))
}
