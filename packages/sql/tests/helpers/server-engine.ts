import type { Database } from '@mellow-abacus/sql'
import type { TestEngine } from './engines.js'

/** The server as an engine of the tests that hold engines to the workbook. */
export function engineOf(server: Database): TestEngine {
  return {
    name: 'postgresql',
    run: (statement) => server.run(statement),
    rows: async (query) =>
      (await server.rows(`select to_jsonb(x) as row from (${query}) as x`)).map(({ row }) => datesOf(row as object)),
    close: async () => undefined,
  }
}

/** Rows as JSON has them, with date-times as they are compared. */
function datesOf(row: object): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(row).map(([name, value]) => [
      name,
      typeof value === 'string' && /T\d\d:\d\d/.test(value)
        ? value.concat(value.includes('.') ? '' : '.').padEnd(23, '0')
        : value,
    ]),
  )
}
