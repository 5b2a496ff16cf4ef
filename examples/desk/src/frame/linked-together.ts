import type { TableFacts } from '@mellow-abacus/session'

/** Tables in an order in which those that a link leads to come before those that it leads from, close to them. */
export function linkedTogether(tables: readonly TableFacts[]): TableFacts[] {
  const placed: TableFacts[] = []
  const place = (table: TableFacts, above: readonly TableFacts[]): void => {
    if (placed.includes(table) || above.includes(table)) return
    for (const { to } of table.links) {
      const target = tables.find(({ name }) => name === to)
      if (target !== undefined) place(target, [...above, table])
    }
    placed.push(table)
  }
  for (const table of tables) place(table, [])
  return placed
}
