import { type Checked, type Definitions, partsOf } from 'mellow-abacus/model'

/** Formulas, and all that read them. */
export function withReaders(definitions: Definitions, ids: ReadonlySet<number>): Set<number> {
  const { tables, values } = definitions
  const all = new Set(ids)
  if (all.size === 0) return all
  const reads = readersOf(definitions, all)
  const formulas = [...values, ...tables.flatMap(({ columns, tallies, rules }) => [...columns, ...tallies, ...rules])]
  for (let before = -1; before < all.size; ) {
    before = all.size
    for (const { id, expression } of formulas) if (expression !== null && reads(expression)) all.add(id)
  }
  return all
}

/** Tells of an expression whether it reads one of some columns, by itself or along a link. */
export function readersOf({ tables }: Definitions, all: ReadonlySet<number>): (node: Checked) => boolean {
  const links = new Map(tables.flatMap((table) => table.links.map((link) => [link.id as number, link] as const)))
  const reads = (node: Checked): boolean => {
    if ((node.kind === 'column' || node.kind === 'single') && all.has(node.column)) return true
    const path = node.kind === 'follow' ? node.links : node.kind === 'over-rows' ? node.rows.links : []
    const isThrough = path.some((id) => {
      const { columns = [], keys = [] } = links.get(id) ?? {}
      return [...columns, ...keys].some((one) => all.has(one))
    })
    return isThrough || partsOf(node).some(reads)
  }
  return reads
}
