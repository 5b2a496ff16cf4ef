import { existsSync } from 'node:fs'
import { resolve } from 'node:path'
import { pageFolder, pagePolicy } from '@mellow-abacus/desk'
import { BookFileFault, userName } from '@mellow-abacus/files'
import { askHost } from '@mellow-abacus/host'
import { type RunningDesk, ServerOptionsFault, startDesk } from '@mellow-abacus/server'
import { bookPath } from '../../books/index.js'
import { CommandRefusal, ExitCode, type Io, UsageFault } from '../../shell/index.js'
import { ended } from './ended.js'

/** What `mellow desk` is told. */
export interface DeskArguments {
  readonly port?: string
  readonly open: boolean
}

/** Runs `mellow desk`: shows a workbook, or the page alone, in a browser until the process is told to end. */
export async function runDesk(name: string | undefined, args: DeskArguments, io: Io): Promise<number> {
  const file = name === undefined ? null : bookPath(name)
  if (file !== null && !existsSync(file))
    throw new UsageFault(`there is no ${file}. Make one: mellow new, or mellow import; or open the page alone: mellow desk`)
  const known = file === null ? null : await askHost(resolve(file), { author: userName(), page: true })
  if (known !== null) {
    await show(known.url, args, io)
    io.err('A server has this workbook open already; the page is at that server.\n')
    return ExitCode.done
  }
  const until = ended()
  const desk = await started(file, args)
  try {
    await show(desk.invite(), args, io)
    const what = file === null ? 'The page is open' : `${file} is open on the page; verbs of the terminal go on working with it`
    io.err(`${what}. The address is good once: for another one, ask again from a second terminal. To end: Ctrl-C\n`)
    await until
  } finally {
    await desk.close()
  }
  return ExitCode.done
}

async function started(file: string | null, { port }: DeskArguments): Promise<RunningDesk> {
  const page = { folder: pageFolder, policy: pagePolicy }
  let desk: RunningDesk | undefined
  try {
    desk = await startDesk({ file, ...(port !== undefined && { port: Number(port) }) }, { page })
    await desk.ready()
    return desk
  } catch (error) {
    await desk?.close()
    if (error instanceof BookFileFault && error.code === 'in-use') throw new CommandRefusal(error.message)
    if (error instanceof ServerOptionsFault || error instanceof BookFileFault) throw new UsageFault(error.message)
    throw error
  }
}

/** Tells the address, and opens it in the browser of this machine. */
async function show(url: string, { open }: DeskArguments, io: Io): Promise<void> {
  await io.out(`${url}\n`)
  if (!open) return
  const browser = await (await import('open')).default(url).catch(() => null)
  // A machine without a browser, such as one that is reached over a wire, has none to be opened.
  browser?.on('error', () => io.err('No browser could be opened here: open the address yourself.\n'))
  browser?.unref()
}
