import { existsSync } from 'node:fs'
import { basename, dirname } from 'node:path'
import { type BookPlaces, isBookName, removeBookFile } from './book-folder.js'

/** One workbook file, wherever it is and whatever it is called; or none. */
export class OneBook implements BookPlaces {
  readonly path: string
  /** What it is called in addresses; null where there is none. */
  readonly name: string | null
  readonly #file: string

  constructor(file: string | null) {
    this.path = file === null ? '.' : dirname(file)
    this.name = file === null ? null : nameFor(file)
    this.#file = file ?? ''
  }

  names(): string[] {
    return this.name !== null && this.has(this.name) ? [this.name] : []
  }

  fileOf(): string {
    return this.#file
  }

  has(name: string): boolean {
    return name === this.name && existsSync(this.#file)
  }

  remove(): void {
    removeBookFile(this.#file)
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
