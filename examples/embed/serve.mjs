// What the page is shown: the demo's workbook, served from a folder of its own, with harvests that come in while it is looked at.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { DEMO_SEED, demoOperations, thistleAndComb } from '@mellow-abacus/demo'
import { BookFile } from '@mellow-abacus/files'
import { startServer, TokenFile } from '@mellow-abacus/server'
import { connect } from '@mellow-abacus/session'

const DEFINED = [
  { op: 'change-table', table: 'apiaries', set: { key: ['code'] } },
  { op: 'change-table', table: 'hives', set: { key: ['tag'] } },
  { op: 'add-link', table: 'hives', columns: ['yard'], to: 'apiaries', keys: ['code'] },
  { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] },
  { op: 'add-column', table: 'hives', column: { name: 'honey', formula: 'sum(harvests.honey_kg)' } },
  { op: 'add-column', table: 'apiaries', column: { name: 'honey', formula: 'sum(hives.honey)' } },
  { op: 'add-column', table: 'apiaries', column: { name: 'share', formula: 'honey per sum(every apiaries.honey)' } },
]

/** Serves the workbook; gives the address of the server, a token that may read, and what ends it. */
export async function serveHoney({ pauseMs = 1_200 } = {}) {
  const folder = mkdtempSync(join(tmpdir(), 'embed-'))
  const tables = thistleAndComb(DEMO_SEED).filter(({ name }) => ['apiaries', 'hives', 'harvests'].includes(name))
  const file = BookFile.create(join(folder, 'honey.mellow'))
  file.applyJson([...demoOperations(tables), ...DEFINED])
  file.close()
  const tokens = new TokenFile(folder)
  const { token } = tokens.add({ name: 'board', books: ['honey'], role: 'read' })
  const scales = tokens.add({ name: 'scales', books: ['honey'], role: 'enter' })
  const server = await startServer({ folder, port: 0, log: 'error' })
  const session = await connect(`${server.url}/books/honey`, { token: scales.token })
  const hives = tables.find(({ name }) => name === 'hives').rows.map(([tag]) => tag)
  let taken = 0
  const timer = setInterval(() => {
    const row = { hive: hives[(taken * 61) % hives.length], taken: '2026-08-20', honey_kg: 6 + ((taken++ * 7) % 13) }
    session.apply({ op: 'insert-rows', table: 'harvests', rows: [row] }, { returns: 'minimal' }).catch(console.error)
  }, pauseMs)
  const end = async () => {
    clearInterval(timer)
    await session.close()
    await server.close()
    rmSync(folder, { recursive: true, force: true })
  }
  return { url: server.url, token, end }
}
