import { rmSync } from 'node:fs'
import Database from 'libsql'
import { BookFileFault } from './book-file-fault.js'

/**
 * Holds the right to write a workbook for as long as it is open. The system takes it back when a process ends, however it
 * ends: what locks is an open transaction in a file beside the workbook, not that the file is there.
 */
export class WriterLock {
  readonly #path: string
  readonly #database: Database.Database

  /** Errors: BookFileFault when another process writes. */
  constructor(book: string) {
    this.#path = `${book}-writer`
    this.#database = new Database(this.#path)
    try {
      this.#database.exec('PRAGMA busy_timeout = 300; BEGIN EXCLUSIVE')
    } catch (error) {
      this.#database.close()
      throw new BookFileFault(
        'in-use',
        `${book} is being changed by another process; one writes at a time. Try again when it is done. Looking is possible meanwhile: mellow show.`,
        error,
      )
    }
  }

  release(): void {
    this.#database.exec('ROLLBACK')
    this.#database.close()
    rmSync(this.#path, { force: true })
  }
}
