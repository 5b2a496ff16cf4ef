import { closeSync, fsyncSync, openSync, renameSync, rmSync, statSync, writeSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import { UsageFault } from './usage.js'

/** Refuses early to write where nothing can be written. */
export function refuseBadPath(path: string): void {
  const folder = dirname(path)
  const found = statSync(folder, { throwIfNoEntry: false })
  if (found === undefined || !found.isDirectory()) throw new UsageFault(`cannot write ${path}: there is no folder ${folder}.`)
  if (statSync(path, { throwIfNoEntry: false })?.isDirectory() === true)
    throw new UsageFault(`cannot write ${path}: it is a folder.`)
}

/**
 * Writes a file that is replaced in one step when all of it is there: readers see the old file or the new one, and a failure
 * leaves the old one.
 */
export async function replaceFile(
  path: string,
  write: (sink: (text: string | Uint8Array) => void) => Promise<void>,
): Promise<void> {
  const temporary = join(dirname(path), `.${basename(path)}.${process.pid}.part`)
  let file: number
  try {
    file = openSync(temporary, 'wx')
  } catch (error) {
    throw new UsageFault(`cannot write ${path}: ${(error as Error).message}.`)
  }
  try {
    await write((text) => writeAll(file, text))
    fsyncSync(file)
    closeSync(file)
    renameSync(temporary, path)
  } catch (error) {
    rmSync(temporary, { force: true })
    throw error
  }
}

function writeAll(file: number, text: string | Uint8Array): void {
  const bytes = typeof text === 'string' ? Buffer.from(text, 'utf8') : text
  let written = 0
  while (written < bytes.length) written += writeSync(file, bytes, written)
}
