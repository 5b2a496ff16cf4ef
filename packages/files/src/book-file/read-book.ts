import type Database from 'libsql'
import { type BookSnapshot, type KeptRevision, type Step, type StepReader, Workbook } from 'mellow-abacus'
import { BookFileFault } from './book-file-fault.js'
import { BookRows, type Keeper } from './book-rows.js'
import { type JournalRow, JournalRows } from './journal-rows.js'
import { checksumOf, Parts } from './parts.js'
import { Payloads } from './payloads.js'
import { featuresOf, upgradedSnapshot } from './schema.js'
import { textOfBytes } from './text-of-bytes.js'

/** A database with what reads and writes its tables. */
export interface OpenedFile {
  readonly path: string
  readonly database: Database.Database
  readonly rows: BookRows
  readonly parts: Parts
  readonly journal: JournalRows
  readonly payloads: Payloads
}

/** The tables of an open database; with a keeper, what is written is kept elsewhere first. */
export function openedFile(database: Database.Database, path: string, keeper: Keeper | null = null): OpenedFile {
  const rows = new BookRows(database, keeper)
  const parts = new Parts(database, path, rows)
  const has = featuresOf(database)
  return {
    path,
    database,
    rows,
    parts,
    journal: new JournalRows(database, path, rows, has),
    payloads: new Payloads(database, path, { rows, parts }, has.checksums),
  }
}

/** A workbook as it is read from a file. */
export interface ReadBook {
  readonly workbook: Workbook
  /** The steps that were repeated, with the characters of their operations. */
  readonly repeated: { readonly steps: number; readonly characters: number }
}

/**
 * Reads a workbook: the definitions and cells as they were last written, and the steps since, which are repeated.
 *
 * @param keep - gets every revision that is made after it is read
 * @throws BookFileFault for a file that is not what was written
 */
export function readBook(opened: OpenedFile, keep?: (revision: KeptRevision) => void): ReadBook {
  const { snapshot, revision } = readSnapshot(opened)
  let isRead = false
  const workbook = Workbook.open(snapshot, opened.parts.snapshotCells(), {
    ...stepsUpTo(opened, revision),
    // All steps of a file can be taken back, and each is read when it is.
    undoLimit: Number.POSITIVE_INFINITY,
    ...(keep !== undefined && {
      keep: (made: KeptRevision) => {
        if (isRead) keep(made)
        return inverseOf(opened, made.change.revision)
      },
    }),
  })
  const repeated = repeatSince(opened, workbook, revision)
  isRead = true
  return { workbook, repeated }
}

function readSnapshot({ database, path }: OpenedFile): { snapshot: BookSnapshot; revision: number } {
  const row = database.prepare('SELECT revision, CAST(image AS BLOB) AS snapshot, seal AS checksum FROM snapshot').get() as
    | { revision: number; snapshot: Uint8Array; checksum: number }
    | undefined
  if (row === undefined || checksumOf(row.snapshot) !== row.checksum)
    throw new BookFileFault('damaged', `${path} is damaged: its definitions are not what was written.`)
  return { snapshot: upgradedSnapshot(JSON.parse(textOfBytes(row.snapshot, path)) as BookSnapshot), revision: row.revision }
}

/** Repeats what was done since the cells were written. */
function repeatSince({ path, journal, payloads }: OpenedFile, workbook: Workbook, revision: number): ReadBook['repeated'] {
  let [steps, characters] = [0, 0]
  for (const row of journal.since(revision)) {
    const options = { ...(row.author !== '' && { author: row.author }), ...(row.at !== '' && { at: row.at }) }
    const change =
      row.kind === 'apply'
        ? workbook.apply(payloads.operationsIn(row, 'operations'), options)
        : workbook.turnStep(row.kind, row.of, options)
    if (change?.revision !== row.revision)
      throw new BookFileFault('damaged', `${path} is damaged: step ${row.revision} of its journal cannot be repeated.`)
    steps++
    characters += row.operations.length
  }
  return { steps, characters }
}

/** What undo and redo do in a workbook of some revision; each step is read when it is taken. */
function stepsUpTo(opened: OpenedFile, revision: number): { undo: Step[]; redo: Step[] } {
  const undo: Step[] = []
  let redo: Step[] = []
  for (const { revision: made, kind, of, author } of opened.journal.kindsUpTo(revision)) {
    if (kind === 'apply') redo = redo.filter((step) => step.author !== author).map((step) => ({ ...step, isOvertaken: true }))
    const from = kind === 'redo' ? redo : undo
    const at = of === null ? from.length - 1 : from.findLastIndex((step) => step.revision === of)
    const [taken] = kind === 'apply' ? [] : from.splice(at, 1)
    const step = { revision: made, author: taken === undefined ? author : taken.author, operations: inverseOf(opened, made) }
    if (kind === 'undo') redo.push(step)
    else undo.push(step)
  }
  return { undo, redo }
}

/** What takes a step of the journal back, read when it is needed. */
function inverseOf({ journal, payloads }: OpenedFile, revision: number): StepReader {
  return () => payloads.operationsIn(journal.at(revision) as JournalRow, 'inverse')
}
