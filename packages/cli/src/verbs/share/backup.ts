import { copyFileSync, existsSync, mkdirSync, readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { BookFileFault, copyBookFile } from '@mellow-abacus/files'
import { TOKEN_FILE } from '@mellow-abacus/server'
import { counted } from 'mellow-abacus'
import { CommandRefusal, ExitCode, type Io, UsageFault } from '../../shell/index.js'

/** Runs `mellow backup`. */
export function runBackup(folder: string, target: string, io: Io): number {
  if (statSync(folder, { throwIfNoEntry: false })?.isDirectory() !== true) throw new UsageFault(`there is no folder ${folder}.`)
  const books = readdirSync(folder, { withFileTypes: true }).filter((entry) => entry.isFile() && entry.name.endsWith('.mellow'))
  const names = [...books.map(({ name }) => name).sort(), ...(existsSync(join(folder, TOKEN_FILE)) ? [TOKEN_FILE] : [])]
  // Looked at before anything is written, so that a folder of copies is whole or not begun.
  const taken = names.filter((name) => existsSync(join(target, name)))
  if (taken.length > 0) throw new CommandRefusal(`${target} has ${taken.join(', ')} already. Nothing was copied.`)
  mkdirSync(target, { recursive: true })
  const faults: string[] = []
  for (const name of names) {
    try {
      if (name === TOKEN_FILE) copyFileSync(join(folder, name), join(target, name))
      else copyBookFile(join(folder, name), join(target, name))
      io.show(`${join(target, name)}\n`)
    } catch (error) {
      if (!(error instanceof BookFileFault)) throw error
      faults.push(error.message)
    }
  }
  if (faults.length > 0) throw new CommandRefusal(`not copied: ${faults.join(' ')}`)
  io.err(`${counted(books.length, 'workbook')} copied\n`)
  return ExitCode.done
}
