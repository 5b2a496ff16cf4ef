import { type Dirent, lstatSync, readdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'

/** Names of workbooks: letters and digits, then also hyphens and underscores. */
const NAME = /^[A-Za-z0-9][A-Za-z0-9_-]{0,63}$/
const ENDING = '.mellow'

/** Files that belong to a workbook file. */
const PARTS = ['', '-wal', '-shm', '-journal', '-writer', '-host']

/** True for what a workbook may be called. */
export function isBookName(name: string): boolean {
  return NAME.test(name)
}

/** Milliseconds for which a workbook that was there is taken to be there still. */
const THERE_MS = 250

/** Where the files of workbooks are. */
export interface BookPlaces {
  /** The folder that they are in. */
  readonly path: string
  /** The workbooks that there are, by name. */
  names(): string[]
  /** The file that a workbook of a name has or would have. */
  fileOf(name: string): string
  /** True where there is a workbook of this name. */
  has(name: string): boolean
  /** Removes a workbook, which nobody has open. */
  remove(name: string): void
}

/** The folder of the workbooks. Nothing outside of it is ever named, and links are not followed. */
export class BookFolder implements BookPlaces {
  readonly path: string
  /** When workbooks were last seen to be there. */
  readonly #seenAt: Map<string, number> = new Map()

  constructor(path: string) {
    this.path = path
  }

  names(): string[] {
    const found = readdirSync(this.path, { withFileTypes: true })
    const isBook = (entry: Dirent): boolean => entry.isFile() && entry.name.endsWith(ENDING)
    return found.flatMap((entry) => (isBook(entry) ? nameOf(entry.name) : [])).sort()
  }

  fileOf(name: string): string {
    if (!isBookName(name)) throw new RangeError('a workbook cannot be called so')
    return join(this.path, name + ENDING)
  }

  /** True where there is a workbook of this name; one that someone else has removed is there for a moment longer. */
  has(name: string): boolean {
    const now = performance.now()
    if (now - (this.#seenAt.get(name) ?? Number.NEGATIVE_INFINITY) < THERE_MS) return true
    this.#seenAt.delete(name)
    const isThere = isBookName(name) && lstatSync(this.fileOf(name), { throwIfNoEntry: false })?.isFile() === true
    if (isThere) this.#seenAt.set(name, now)
    return isThere
  }

  remove(name: string): void {
    removeBookFile(this.fileOf(name))
    this.#seenAt.delete(name)
  }
}

/** Removes a workbook file with all that belongs to it, as far as it is there. */
export function removeBookFile(path: string): void {
  for (const part of PARTS) rmSync(path + part, { force: true })
}

function nameOf(file: string): string[] {
  const name = file.slice(0, -ENDING.length)
  return isBookName(name) ? [name] : []
}
