import type Database from 'libsql'
import type { Operation } from 'mellow-abacus'
import { BookFileFault } from './book-file-fault.js'
import type { JournalEntry } from './journal-entry.js'
import { openDatabase } from './open-database.js'
import { openedFile } from './read-book.js'

/** Says of a damaged workbook what of it can still be read. */
export function withSalvage(error: unknown, path: string): unknown {
  if (!(error instanceof BookFileFault) || error.code !== 'damaged') return error
  const count = salvagedSteps(path).length
  const steps = `${count} ${count === 1 ? 'step' : 'steps'} of its journal can still be read`
  return new BookFileFault('damaged', `${error.message} ${steps}: mellow journal <book> --salvage, then mellow replay.`, error)
}

/** The steps of a damaged workbook that can still be read, from the first on. */
export function salvagedSteps(path: string): JournalEntry[] {
  const steps: JournalEntry[] = []
  let database: Database.Database | undefined
  try {
    database = openDatabase(path, false)
    const { journal, payloads } = openedFile(database, path)
    for (let revision = 1; ; revision++) {
      const row = journal.at(revision)
      if (row === undefined) break
      const operations = payloads.operationsIn(row, 'operations')
      // Cells of it are read here, so that a step is whole or left out.
      const { of, ...entry } = row
      steps.push({
        ...entry,
        ...(of !== null && { of }),
        operations: JSON.parse(JSON.stringify(operations)) as Operation[],
        recalculated: [],
      })
    }
  } catch {
    // Where reading ends is what is asked for: the steps before it are whole.
    return steps
  } finally {
    database?.close()
  }
  return steps
}
