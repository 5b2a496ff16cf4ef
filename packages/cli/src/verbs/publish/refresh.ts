import { basename } from 'node:path'
import { setTimeout as wait } from 'node:timers/promises'
import { type Database, databaseOf, NOTICES, type Refreshed, refresh } from '@mellow-abacus/sql'
import { counted } from 'mellow-abacus'
import { lookAt } from '../../books/index.js'
import type { ChangeArguments } from '../../options/index.js'
import { wholeNumber } from '../../reading/index.js'
import { ExitCode, type Io, UsageFault } from '../../shell/index.js'
import { withDatabase } from './with-database.js'

/** What `mellow refresh` is told. */
export interface RefreshArguments extends Pick<ChangeArguments, 'findings' | 'color' | 'wait'> {
  readonly to?: string
  readonly schema?: string
  readonly follow?: boolean
  readonly every?: string
  readonly times?: string
  readonly json?: boolean
}

/** Seconds after which it is looked again, whether the database has said that rows have changed or not. */
const EVERY = 60

/** Runs `mellow refresh`. */
export async function runRefresh(name: string, args: RefreshArguments, io: Io): Promise<number> {
  if (args.follow !== true && (args.every !== undefined || args.times !== undefined))
    throw new UsageFault('--every and --times go with --follow.')
  const address = args.to ?? (await addressOf(name, args, io))
  if (args.follow !== true) return withDatabase(address, (database) => refreshOnce(name, database, args, io))
  const every = (args.every === undefined ? EVERY : wholeNumber('--every', args.every, 1)) * 1000
  const times = args.times === undefined ? Number.POSITIVE_INFINITY : wholeNumber('--times', args.times, 1)
  for (let done = 0; done < times; ) {
    const code = await withDatabase(address, async (database) => {
      if (done === 0) io.err(`following ${database.address}; Ctrl+C ends it\n`)
      for (;;) {
        // Listening begins before the first look, so that nothing is missed in between.
        await database.heard?.(NOTICES, every)
        const ended = await refreshOnce(name, database, args, io)
        done++
        if (ended !== ExitCode.done || done >= times || database.heard === null) return ended
      }
    })
    if (code !== ExitCode.done) return code
    // A file is left to others in between.
    if (done < times) await wait(every)
  }
  return ExitCode.done
}

function refreshOnce(name: string, database: Database, args: RefreshArguments, io: Io): Promise<number> {
  const options = { book: basename(name, '.mellow'), ...(args.schema !== undefined && { schema: args.schema }) }
  return lookAt(name, args, io, async ({ book }) => {
    tell(await refresh(book, database, options), args, io)
    return undefined
  })
}

/** The database that tables of a workbook are attached to. */
async function addressOf(name: string, args: RefreshArguments, io: Io): Promise<string> {
  let found: string | null = null
  await lookAt(name, args, io, ({ book }) => {
    found = databaseOf(book)
    return undefined
  })
  if (found === null)
    throw new UsageFault('no table is attached to a database, so --to has to say where the model was published.')
  return found
}

function tell(done: Refreshed, args: RefreshArguments, io: Io): void {
  if (args.json === true) {
    io.show(`${JSON.stringify(done)}\n`)
    return
  }
  const sources = done.sources.flatMap(({ table, added, changed, gone }) => {
    const kinds = [
      ...(added > 0 ? [`${counted(added, 'row')} new`] : []),
      ...(changed > 0 ? [`${counted(changed, 'row')} changed`] : []),
      ...(gone > 0 ? [`${counted(gone, 'row')} gone`] : []),
    ]
    return kinds.length === 0 ? [] : [`  ${table}: ${kinds.join(', ')}`]
  })
  const columns = done.columns.filter(({ calculated }) => calculated > 0)
  const width = Math.max(...columns.map(({ address }) => address.length), 0)
  const lines = columns.map(
    ({ address, calculated, changed }) =>
      `  ${address.padEnd(width)}  calculated for ${counted(calculated, 'row')}, ${changed === 0 ? 'none' : counted(changed, 'value')} changed`,
  )
  const head = `${done.address}, schema ${done.schema}: ${sources.length === 0 ? 'nothing has changed' : 'up to date'}`
  io.show(`${[head, ...sources, ...lines].join('\n')}\n`)
}
