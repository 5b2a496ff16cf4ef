// The workbook of the example: hives on scales, what the scales say, and what is calculated of it.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { BookFile } from '@mellow-abacus/files'
import { startServer, TokenFile } from '@mellow-abacus/server'

const HIVES = ['LM-01', 'LM-02', 'HR-01', 'HR-02', 'KN-01']

/** Serves a workbook from a folder of its own; gives its address, a token that may enter, and what ends it. */
export async function serveReadings() {
  const folder = mkdtempSync(join(tmpdir(), 'readings-'))
  const file = BookFile.create(join(folder, 'readings.mellow'))
  file.apply([
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'code', type: 'text' },
        { name: 'empty_kg', type: 'number', unit: 'kg' },
      ],
    },
    { op: 'insert-rows', table: 'hives', rows: HIVES.map((code, at) => ({ code, empty_kg: 24 + at })) },
    {
      op: 'add-table',
      table: 'readings',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'at', type: 'datetime' },
        { name: 'scale_kg', type: 'number', unit: 'kg' },
      ],
    },
    { op: 'add-link', table: 'readings', columns: ['hive'], to: 'hives', keys: ['code'] },
    { op: 'add-column', table: 'readings', column: { name: 'honey_kg', formula: 'scale_kg - hive.empty_kg' } },
    { op: 'add-column', table: 'readings', column: { name: 'gain_kg', formula: 'scale_kg - lag(scale_kg by hive order by at)' } },
    { op: 'add-column', table: 'hives', column: { name: 'latest_kg', formula: 'last(readings.honey_kg order by at)' } },
    { op: 'add-column', table: 'hives', column: { name: 'taken', formula: 'count(readings)' } },
  ])
  file.close()
  const { token } = new TokenFile(folder).add({ name: 'scales', books: ['readings'], role: 'enter' })
  const server = await startServer({ folder, port: 0, log: 'error' })
  const end = async () => {
    await server.close()
    rmSync(folder, { recursive: true, force: true })
  }
  return { url: `${server.url}/books/readings`, token, hives: HIVES, end }
}
