import { statSync } from 'node:fs'
import { setTimeout as wait } from 'node:timers/promises'
import { wholeNumber } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { ExitCode, UsageFault } from '../../shell/index.js'
import type { RereadArguments } from './reread.js'
import { runReread } from './reread.js'

/** Milliseconds between two looks at the file. */
const A_LOOK = 200

/** Runs `mellow watch`: reads the file again whenever its time or size is another, once it has stayed so for a look. */
export async function runWatch(
  book: string,
  table: string,
  file: string,
  args: RereadArguments & { readonly times?: string },
  io: Io,
): Promise<number> {
  const times = args.times === undefined ? Number.POSITIVE_INFINITY : wholeNumber('--times', args.times, 1)
  let seen = stateOf(file)
  if (seen === null) throw new UsageFault(`cannot read ${file}: there is no such file.`)
  io.err(`watching ${file}; Ctrl+C ends it\n`)
  for (let done = 0; done < times; ) {
    await wait(A_LOOK)
    const now = stateOf(file)
    if (now === null || now === seen) continue
    await wait(A_LOOK)
    // Half a file is not read: the one who writes it has to be done.
    if (stateOf(file) !== now) continue
    seen = now
    await runReread(book, table, file, args, io)
    done++
  }
  return ExitCode.done
}

function stateOf(file: string): string | null {
  const found = statSync(file, { throwIfNoEntry: false })
  return found === undefined ? null : `${found.mtimeMs} ${found.size}`
}
