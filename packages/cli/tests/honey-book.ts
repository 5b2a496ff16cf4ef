import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { beforeAll, beforeEach, expect } from 'vitest'
import { folderWith, mellowHere, type Run } from './run-mellow.js'

/** The files that the workbook was read from. */
export const FILES = {
  'hives.csv': 'tag,yard,frames\nA,north,10\nB,north,0\nC,south,\n',
  'takes.csv': 'hive,kg,day\nA,3,2026-03-01\nA,4?,2026-03-04\nB,5.5,2026-03-09\n',
}

/** A folder with a small workbook, `honey`, and the files it was read from; each test has it anew. */
export class HoneyBook {
  folder = ''
  #begun: Uint8Array = new Uint8Array(0)

  constructor() {
    beforeAll(async () => {
      this.folder = folderWith(FILES)
      await this.all(
        ['import', 'honey', 'hives.csv', '--key', 'tag', '--label', 'tag'],
        ['import', 'honey', 'takes.csv', '--type', 'kg=number'],
      )
      this.#begun = readFileSync(join(this.folder, 'honey.mellow'))
    }, 60_000)
    beforeEach(() => {
      this.folder = folderWith({ ...FILES, 'honey.mellow': this.#begun })
    })
  }

  /** Runs a command line there. */
  run = (...args: string[]): Promise<Run> => mellowHere(args, { folder: this.folder })

  /** Runs commands that must go well, one after the other; gives what the last one printed. */
  all = async (...lines: string[][]): Promise<string> => {
    let out = ''
    for (const line of lines) {
      const { code, out: printed, err } = await this.run(...line)
      expect([line.join(' '), code, code === 0 ? '' : err]).toEqual([line.join(' '), 0, ''])
      out = printed
    }
    return out
  }

  /** The rows of a table, as CSV. */
  rows = async (table: string): Promise<string> => (await this.run('show', 'honey', table)).out
}
