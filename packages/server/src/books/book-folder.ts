import { type Dirent, lstatSync, readdirSync } from 'node:fs'
import { join } from 'node:path'

/** Names of workbooks: letters and digits, then also hyphens and underscores. */
const NAME = /^[A-Za-z0-9][A-Za-z0-9_-]{0,63}$/
const ENDING = '.mellow'

/** True for what a workbook may be called. */
export function isBookName(name: string): boolean {
  return NAME.test(name)
}

/** The folder of the workbooks. Nothing outside of it is ever named, and links are not followed. */
export class BookFolder {
  readonly path: string

  constructor(path: string) {
    this.path = path
  }

  /** The workbooks that there are, by name. */
  names(): string[] {
    const found = readdirSync(this.path, { withFileTypes: true })
    const isBook = (entry: Dirent): boolean => entry.isFile() && entry.name.endsWith(ENDING)
    return found.flatMap((entry) => (isBook(entry) ? nameOf(entry.name) : [])).sort()
  }

  /** The file that a workbook of a name has or would have. */
  fileOf(name: string): string {
    if (!isBookName(name)) throw new RangeError('a workbook cannot be called so')
    return join(this.path, name + ENDING)
  }

  /** True where there is a workbook of this name. */
  has(name: string): boolean {
    return isBookName(name) && lstatSync(this.fileOf(name), { throwIfNoEntry: false })?.isFile() === true
  }
}

function nameOf(file: string): string[] {
  const name = file.slice(0, -ENDING.length)
  return isBookName(name) ? [name] : []
}
