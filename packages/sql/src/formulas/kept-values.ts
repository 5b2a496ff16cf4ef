import { sql, type TableRows, type Term } from '../terms/index.js'
import { type Value, valueFrom } from '../values/index.js'
import type { KeptRows } from './reading.js'

/** The values of a column that are kept beside the rows: of a row that came since they were calculated there are none. */
export function keptValue(rows: TableRows, { name, key, columns }: KeptRows, id: number): Value {
  const column = columns.get(id)
  if (column === undefined) throw new ReferenceError(`column ${id} is not kept`)
  const own = key.map(({ read }) => rows.read(read))
  const join = rows.join('kept', (alias) => ({
    alias,
    rank: 1,
    own,
    reads: [],
    write: (places) => {
      const on = key.map(({ of }, index) => `${alias}.${places.quote(of)} = ${places.own(own[index] as Term)}`)
      return `left join ${name} as ${alias} on ${on.join(' and ') || 'true'}`
    },
  }))
  const read = (of: string): Term => join({ name: of, reads: [], write: () => '' })
  const fault = column.fault === null ? null : sql`cast(${read(column.fault)} as int)`
  return valueFrom(read(column.name), { fault, size: column.size, isApproximate: column.isApproximate })
}
