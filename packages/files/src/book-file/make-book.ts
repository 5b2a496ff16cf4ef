import { linkSync, renameSync, rmSync } from 'node:fs'
import { type GivenSurroundings, Workbook } from 'mellow-abacus'
import { existing } from './book-file-fault.js'
import type { WrittenRow } from './book-rows.js'
import { makeDatabase } from './open-database.js'
import { openedFile, readBook } from './read-book.js'
import { createSchema } from './schema.js'
import { keepRevision, writeSnapshot } from './write-book.js'

/** First steps, which belong to the making. */
export type FirstSteps = (workbook: Pick<Workbook, 'apply' | 'applyJson' | 'table' | 'check'>) => void

/** Makes a whole workbook file under another name, and gives it its own in one step. */
export function makeFile(path: string, surroundings: GivenSurroundings, begin: FirstSteps | undefined): void {
  const made = `${path}-new`
  const forget = (): void => {
    for (const part of ['', '-journal']) rmSync(made + part, { force: true })
  }
  // Who holds the lock is the only one who makes it; one that is there is of someone who was killed.
  forget()
  try {
    const database = makeDatabase(made)
    try {
      createSchema(database)
      const opened = openedFile(database, path)
      writeSnapshot(opened, new Workbook(surroundings))
      if (begin !== undefined) {
        const { workbook } = readBook(opened, (made) => keepRevision(opened, made))
        begin(workbook)
        writeSnapshot(opened, workbook)
      }
    } finally {
      database.close()
    }
    giveName(made, path)
  } finally {
    forget()
  }
}

function giveName(made: string, path: string): void {
  try {
    linkSync(made, path)
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException
    if (code === 'EEXIST') throw existing(path)
    // Some file systems have no links; there the lock alone keeps others of this tool away.
    renameSync(made, path)
  }
}

/**
 * Makes a workbook file of rows that were kept elsewhere, whatever is there already. It is a copy: where making it is cut short, it
 * is made anew.
 *
 * @param batches - rows of all tables, in any order, each once
 * @throws BookFileFault where none can be written there
 */
export async function fillBookFile(path: string, batches: AsyncIterable<readonly WrittenRow[]>): Promise<void> {
  for (const part of ['', '-wal', '-shm', '-journal']) rmSync(path + part, { force: true })
  const database = makeDatabase(path)
  try {
    database.exec('PRAGMA synchronous = OFF')
    createSchema(database)
    const { rows } = openedFile(database, path)
    rows.begin()
    for await (const batch of batches) for (const written of batch) if ('row' in written) rows.put(written.table, written.row)
    rows.commit()
  } finally {
    database.close()
  }
}
