import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pageFolder, pagePolicy } from '@mellow-abacus/desk'
import {
  type GivenServerOptions,
  optionsOfEnvironment,
  type RunningServer,
  ServerOptionsFault,
  startServer,
} from '@mellow-abacus/server'
import { ExitCode, type Io, readReason, UsageFault } from '../../shell/index.js'
import { ended } from './ended.js'

/** What `mellow serve` is told. */
export interface ServeArguments {
  readonly port?: string
  readonly host?: string
  readonly open?: string
  readonly idle?: string
  readonly issuer?: string
  readonly audience?: string
  readonly origin?: readonly string[]
  readonly proxied?: boolean
  readonly store?: string
  readonly reachedAt?: string
  readonly config?: string
  readonly log?: string
}

/** Runs `mellow serve`, until the process is told to end. */
export async function runServe(folder: string | undefined, args: ServeArguments, io: Io): Promise<number> {
  const options = { ...optionsOf(args), ...(folder !== undefined && { folder }) }
  if (options.folder !== undefined) return serve(options, io)
  if (options.store === undefined)
    throw new UsageFault('which workbooks? Name a folder: mellow serve books; or say with --store where they are.')
  // What is in no folder needs one for its copies, as long as it runs.
  const copies = mkdtempSync(join(tmpdir(), 'mellow-'))
  try {
    return await serve({ ...options, folder: copies }, io)
  } finally {
    rmSync(copies, { recursive: true, force: true })
  }
}

async function serve(options: GivenOptions, io: Io): Promise<number> {
  const until = ended()
  const server = await started(options)
  await io.out(`${server.url}\n`)
  if (server.sharedAt !== null)
    io.err(`The workbooks are in the store, for all its servers; the others ask this one at ${server.sharedAt}\n`)
  if (server.isOpen)
    io.err(
      `Everyone on this machine may do everything. To say who may: mellow token ${server.sharedAt === null ? options.folder : '<folder>'} add --name … --book … --role …\n`,
    )
  io.err(`The page is at that address; what programs can ask: ${server.url}/docs   To end it: Ctrl-C\n`)
  await until
  await server.close()
  return ExitCode.done
}

/** What a server is told, before it is looked at. */
interface GivenOptions {
  readonly folder?: unknown
  readonly store?: unknown
}

/** What a server is told, in the environment, in a file and here. */
function optionsOf(args: ServeArguments): GivenOptions {
  const { config, idle, origin, port, open, ...said } = args
  return {
    ...optionsOfEnvironment(process.env),
    ...(config !== undefined && optionsOfFile(config)),
    ...said,
    ...(port !== undefined && { port: Number(port) }),
    ...(open !== undefined && { open: Number(open) }),
    ...(origin !== undefined && { origins: origin }),
    ...(idle !== undefined && { idleMs: millisecondsOf(idle) }),
  }
}

async function started(given: GivenOptions): Promise<RunningServer> {
  try {
    // What is not as it should be is told by the server.
    return await startServer(given as GivenServerOptions, { page: { folder: pageFolder, policy: pagePolicy } })
  } catch (error) {
    if (error instanceof ServerOptionsFault) throw new UsageFault(error.message)
    throw error
  }
}

function optionsOfFile(path: string): object {
  try {
    const { $schema: _, ...options } = JSON.parse(readFileSync(path, 'utf8')) as Record<string, unknown>
    return options
  } catch (error) {
    throw new UsageFault(`cannot read ${path}: ${readReason(error)}`)
  }
}

const UNITS: Readonly<Record<string, number>> = { s: 1_000, m: 60_000, h: 3_600_000 }

/** Milliseconds of a time such as `10m`. */
function millisecondsOf(text: string): number {
  const [, number, unit] = /^(\d+(?:\.\d+)?)([smh])$/.exec(text) ?? []
  if (number === undefined || unit === undefined)
    throw new UsageFault(`--idle takes a time such as 30s, 10m or 1h, not ${JSON.stringify(text)}.`)
  return Number(number) * (UNITS[unit] as number)
}
