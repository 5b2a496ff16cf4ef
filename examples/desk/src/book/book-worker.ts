/**
 * The workbook of the page, in a Web Worker: its host, and what only the one who holds the workbook can do. The page asks for
 * sessions as of any host; `of-worker.ts` says what else it may ask for.
 * @module
 */
import { readBundle, readTable, writeBundle } from '@mellow-abacus/files'
import { BookHost, heldWorkbook, portOfWeb, servePort } from '@mellow-abacus/host'
import { type CellValue, loadPatterns, loadUnits, type Operation, Workbook, type WorkbookOptions } from 'mellow-abacus'
import type { Beginning, FileToRead, OfWorker, ReadFile, WorkerAnswer } from './of-worker'

interface Held {
  readonly workbook: Workbook
  readonly host: BookHost
}

let held: Held | null = null

/** Begins with a workbook. What it is made with are steps of nobody, so that nobody takes them back. */
async function begin(beginning: Beginning): Promise<void> {
  const isEmpty = beginning.kind === 'empty'
  await Promise.all([loadPatterns(), isEmpty ? null : loadUnits()])
  const { options, operations, later } = await madeOf(beginning)
  const books: Workbook[] = []
  const host = new BookHost(
    heldWorkbook(({ keep }) => {
      const book = new Workbook({ ...options, keep })
      books.push(book)
      return book
    }),
  )
  const [workbook] = books as [Workbook]
  if (operations.length > 0) workbook.applyJson(operations)
  // An empty page is to be there at once; units come into it after its first table.
  if (isEmpty) {
    const unfollow = workbook.on('change', () => {
      unfollow()
      void loadUnits()
    })
  }
  held = { workbook, host }
  // What is large comes when the first rows are seen.
  if (later !== undefined) setTimeout(() => workbook.apply(later()), LATER_MS)
}

/** Milliseconds after which the rest of a workbook is made. */
const LATER_MS = 1_500

interface Made {
  readonly options: WorkbookOptions
  readonly operations: readonly object[]
  readonly later?: () => readonly Operation[]
}

async function madeOf(beginning: Beginning): Promise<Made> {
  switch (beginning.kind) {
    case 'empty':
      return { options: {}, operations: [] }
    case 'bundle': {
      const { surroundings, operations } = await readBundle(beginning.bytes)
      return { options: surroundings, operations }
    }
    case 'demo': {
      const { demoDefinitions, demoOperations, manyReadings, thistleAndComb } = await import('@mellow-abacus/demo')
      return {
        options: { now: '2026-11-23T09:00:00' },
        operations: [...demoOperations(thistleAndComb()), ...demoDefinitions()],
        later: () => demoOperations([manyReadings()]),
      }
    }
  }
}

/** A column that tells its cells. */
type Stored = { toJSON(): CellValue[] }

async function read({ bytes, format, options }: FileToRead): Promise<ReadFile> {
  const table = await readTable([bytes], format, options)
  const columns = table.columns.map(({ name, column }) => {
    const cells = column === null ? Array.from({ length: table.rowCount }, () => null) : (column as unknown as Stored).toJSON()
    const misfits = cells.filter((cell) => typeof cell === 'object' && cell !== null).length
    return { name, type: column?.type ?? null, cells, misfits, blanks: cells.filter((cell) => cell === null).length }
  })
  return { rowCount: table.rowCount, columns, findings: table.findings }
}

async function bundle(): Promise<Uint8Array> {
  if (held === null) throw new Error('There is no workbook yet.')
  return writeBundle(held.workbook)
}

self.onmessage = async ({ data }: MessageEvent<OfWorker>) => {
  if ('open' in data) {
    const onTrouble = (fault: Error): void => console.error(fault.cause ?? fault)
    if (held !== null) servePort(held.host, data.open, portOfWeb(data.port), { onTrouble })
    return
  }
  const answer = (told: WorkerAnswer): void => self.postMessage({ call: data.call, ...told })
  try {
    if ('begin' in data) answer({ done: await begin(data.begin) })
    else if ('bundle' in data) answer({ done: await bundle() })
    else answer({ done: await read(data.read) })
  } catch (error) {
    answer({ fault: error instanceof Error ? error.message : String(error) })
  }
}
