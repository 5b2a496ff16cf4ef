import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { MessageChannel } from 'node:worker_threads'
import { BookFile } from '@mellow-abacus/files'
import { type BookSession, sessionOverPort } from '@mellow-abacus/session'
import { type Operation, type ReaderOptions, Workbook } from 'mellow-abacus'
import {
  BookHost,
  heldFile,
  heldWorkbook,
  openInWorker,
  portOfNode,
  servePort,
  serveWorker,
  ThreadHost,
  type WebPort,
} from '../../src/index.js'

/** Where sessions are at home: one workbook of the co-operative, and the door to it. */
export interface Home {
  open(reader: ReaderOptions): Promise<BookSession>
  close(): Promise<void>
}

/** Hives and their harvests, with a column that is hidden from buyers. */
export const OPERATIONS: readonly Operation[] = [
  {
    op: 'add-table',
    table: 'hives',
    columns: [
      { name: 'code', type: 'text' },
      { name: 'apiary', type: 'text' },
      { name: 'cost', type: 'number', hiddenFrom: ['buyers'] },
    ],
  },
  { op: 'change-table', table: 'hives', set: { label: 'code' } },
  {
    op: 'insert-rows',
    table: 'hives',
    rows: [
      { code: 'H1', apiary: 'North', cost: 4 },
      { code: 'H2', apiary: 'North', cost: 5 },
      { code: 'H3', apiary: 'Fen', cost: 7 },
    ],
  },
  {
    op: 'add-table',
    table: 'harvests',
    columns: [
      { name: 'hive', type: 'text' },
      { name: 'taken', type: 'date' },
      { name: 'honey_kg', type: 'number', unit: 'kg' },
    ],
  },
  {
    op: 'insert-rows',
    table: 'harvests',
    rows: Array.from({ length: 12 }, (_, at) => ({
      hive: `H${(at % 3) + 1}`,
      taken: `2026-06-${String(at + 1).padStart(2, '0')}`,
      honey_kg: at + 0.5,
    })),
  },
  { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['code'] },
  { op: 'add-column', table: 'hives', column: { name: 'honey', formula: 'sum(harvests.honey_kg)' } },
  { op: 'add-column', table: 'hives', column: { name: 'margin', formula: 'if(honey > 1000, cost, 9 * honey)' } },
  { op: 'add-column', table: 'harvests', column: { name: 'share_of_hive', formula: 'honey_kg per hive.honey' } },
  { op: 'set-tally', table: 'harvests', name: 'total', formula: 'sum(honey_kg)' },
  { op: 'set-value', name: 'price', value: 9 },
  {
    op: 'set-report',
    name: 'by hive',
    report: { table: 'harvests', levels: [{ key: 'hive' }], tallies: [{ name: 'kg', formula: 'sum(honey_kg)' }] },
  },
  { op: 'set-chart', name: 'kg', chart: { table: 'harvests', x: 'taken', series: [{ formula: 'honey_kg', kind: 'line' }] } },
]

export const SURROUNDINGS = { now: '2026-06-30T08:00:00' }

function host(): BookHost {
  const made = new BookHost(heldWorkbook(({ keep }) => new Workbook({ ...SURROUNDINGS, keep })))
  made.held.reader({ role: 'own', author: 'Olga' }).apply(OPERATIONS)
  return made
}

/** A workbook file in a folder of its own. */
export function makeFile(): { readonly path: string; readonly remove: () => void } {
  const folder = mkdtempSync(join(tmpdir(), 'host-'))
  const path = join(folder, 'honey.mellow')
  const made = BookFile.create(path, SURROUNDINGS)
  made.apply(OPERATIONS, { author: 'Olga', at: '2026-06-30T08:00:00' })
  made.close()
  return { path, remove: () => rmSync(folder, { recursive: true, force: true }) }
}

function overPort(at: BookHost, reader: ReaderOptions): Promise<BookSession> {
  const { port1, port2 } = new MessageChannel()
  servePort(at, reader, portOfNode(port2))
  return sessionOverPort(portOfNode(port1))
}

/** All homes there are: one suite runs over all of them. */
export const HOMES: readonly (readonly [string, () => Promise<Home>])[] = [
  [
    'in this program, in memory',
    async () => {
      const at = host()
      return { open: async (reader) => at.open(reader), close: async () => at.close() }
    },
  ],
  [
    'behind a port, in memory',
    async () => {
      const at = host()
      return { open: (reader) => overPort(at, reader), close: async () => at.close() }
    },
  ],
  [
    'in a worker of the web, in memory',
    async () => {
      const at = host()
      // The two ends of a worker: what the page has of it, and what it has of the page.
      const { port1: worker, port2: scope } = new globalThis.MessageChannel()
      serveWorker(at, scope as unknown as WebPort)
      return {
        open: (reader) => openInWorker(worker as unknown as WebPort, reader),
        close: async () => {
          at.close()
          worker.close()
        },
      }
    },
  ],
  [
    'in this program, in a file',
    async () => {
      const { path, remove } = makeFile()
      const at = new BookHost(heldFile(path))
      return {
        open: async (reader) => at.open(reader),
        close: async () => {
          at.close()
          remove()
        },
      }
    },
  ],
  [
    'in a thread of its own, in a file',
    async () => {
      const { path, remove } = makeFile()
      const at = await ThreadHost.open(path)
      return {
        open: (reader) => at.open(reader),
        close: async () => {
          await at.close()
          remove()
        },
      }
    },
  ],
]
