import { type Dirent, linkSync, lstatSync, readdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { BookFileFault } from '@mellow-abacus/files'
import { type BookStore, type Claim, isBookName } from './book-store.js'

const ENDING = '.mellow'

/** Files that belong to a workbook file. */
const PARTS = ['', '-wal', '-shm', '-journal', '-writer', '-host']

/** Milliseconds for which a workbook that was there is taken to be there still. */
const THERE_MS = 250

/** A folder of workbook files. Nothing outside of it is ever named, and links are not followed. */
export class BookFolder implements BookStore {
  readonly folder: string
  readonly isShared = false
  /** When workbooks were last seen to be there. */
  readonly #seenAt: Map<string, number> = new Map()

  constructor(folder: string) {
    this.folder = folder
  }

  async announce(): Promise<void> {
    // There are no others.
  }

  async ready(): Promise<void> {
    // The folder can be read: what else there is belongs to single workbooks.
    await this.names()
  }

  async names(): Promise<readonly string[]> {
    const found = readdirSync(this.folder, { withFileTypes: true })
    const isBook = (entry: Dirent): boolean => entry.isFile() && entry.name.endsWith(ENDING)
    return found.flatMap((entry) => (isBook(entry) ? nameOf(entry.name) : [])).sort()
  }

  async has(name: string): Promise<boolean> {
    const now = performance.now()
    if (now - (this.#seenAt.get(name) ?? Number.NEGATIVE_INFINITY) < THERE_MS) return true
    this.#seenAt.delete(name)
    const isThere = isBookName(name) && lstatSync(this.#fileOf(name), { throwIfNoEntry: false })?.isFile() === true
    if (isThere) this.#seenAt.set(name, now)
    return isThere
  }

  async takeIn(name: string, file: string): Promise<void> {
    try {
      linkSync(file, this.#fileOf(name))
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error
      throw new BookFileFault('exists', `there is a workbook ${name} already.`)
    } finally {
      removeBookFile(file)
    }
  }

  async remove(name: string): Promise<void> {
    removeBookFile(this.#fileOf(name))
    this.#seenAt.delete(name)
  }

  async claim(name: string): Promise<Claim> {
    return claimOf(this.#fileOf(name))
  }

  drain(): void {
    // The files are of one server: there is none to take them over.
  }

  async close(): Promise<void> {
    // Each file is closed by itself.
  }

  #fileOf(name: string): string {
    if (!isBookName(name)) throw new RangeError('a workbook cannot be called so')
    return join(this.folder, name + ENDING)
  }
}

/** A workbook file, which the one who opens it to be written has to itself. */
export function claimOf(file: string): Claim {
  return { file, isSure: true, release: async () => undefined }
}

/** Removes a workbook file with all that belongs to it, as far as it is there. */
export function removeBookFile(path: string): void {
  for (const part of PARTS) rmSync(path + part, { force: true })
}

function nameOf(file: string): string[] {
  const name = file.slice(0, -ENDING.length)
  return isBookName(name) ? [name] : []
}
