import type { TableFacts } from '@mellow-abacus/session'
import type { WireAnswer } from '@mellow-abacus/session/wire'
import { HttpProblem } from '../http/index.js'
import { type App, answer, atBook, type ServerContext } from './context.js'
import { rowSchema } from './row-schema.js'

/** Addresses of tables. */
export function tableRoutes(app: App, context: ServerContext): void {
  answer(app, 'tables', (asked) =>
    atBook(context, asked, async ({ session }) => {
      const { revision, tables } = await session.facts()
      return { revision, tables: tables.map(wireTable) }
    }),
  )

  answer(app, 'table', (asked) =>
    atBook(context, asked, async ({ session }) => {
      const { revision, tables } = await session.facts()
      const table = tables.find(({ name }) => name === asked.params.table)
      if (table === undefined) {
        // Asked by the library, so that the nearest name is told as everywhere.
        await session.query({ table: asked.params.table, limit: 1 })
        throw new HttpProblem({ status: 404, code: 'unknown-table', detail: 'There is no such table.' })
      }
      return { revision, ...wireTable(table), schema: rowSchema(table) }
    }),
  )
}

function wireTable({ columns, rows, key, links, tallies, rules, ...table }: TableFacts): WireAnswer<'tables'>['tables'][number] {
  return {
    ...table,
    rows,
    key: key === null ? null : [...key],
    columns: columns.map(({ properties, ...column }) => ({
      ...column,
      display: properties.display ?? null,
      properties: { ...properties },
    })),
    links: links.map((link) => ({ ...link, columns: [...link.columns], keys: [...link.keys] })),
    tallies: [...tallies],
    rules: rules.map((rule) => ({ ...rule })),
  }
}
