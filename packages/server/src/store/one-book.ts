import { existsSync } from 'node:fs'
import { basename, dirname } from 'node:path'
import { BookFileFault } from '@mellow-abacus/files'
import { claimOf, removeBookFile } from './book-folder.js'
import { type BookStore, type Claim, isBookName } from './book-store.js'

/** One workbook file, wherever it is and whatever it is called; or none. */
export class OneBook implements BookStore {
  readonly folder: string
  readonly isShared = false
  /** What it is called in addresses; null where there is none. */
  readonly name: string | null
  readonly #file: string

  constructor(file: string | null) {
    this.folder = file === null ? '.' : dirname(file)
    this.name = file === null ? null : nameFor(file)
    this.#file = file ?? ''
  }

  async announce(): Promise<void> {
    // There are no others.
  }

  async ready(): Promise<void> {
    // What there is belongs to the one workbook.
  }

  async names(): Promise<readonly string[]> {
    return this.name !== null && (await this.has(this.name)) ? [this.name] : []
  }

  async has(name: string): Promise<boolean> {
    return name === this.name && existsSync(this.#file)
  }

  async takeIn(name: string, file: string): Promise<void> {
    removeBookFile(file)
    throw new BookFileFault('exists', `there is one workbook here, and it is not to be ${name}.`)
  }

  async remove(): Promise<void> {
    removeBookFile(this.#file)
  }

  async claim(): Promise<Claim> {
    return claimOf(this.#file)
  }

  drain(): void {
    // There is no other server to take it over.
  }

  async close(): Promise<void> {
    // The file is closed by itself.
  }
}

/** The name of a file, with what cannot stand in the name of a workbook left out. */
function nameFor(file: string): string {
  const name = basename(file)
    .replace(/\.mellow$/, '')
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9_-]+/g, '-')
    .replace(/^[-_]+|[-_]+$/g, '')
    .slice(0, 64)
  return isBookName(name) ? name : 'workbook'
}
