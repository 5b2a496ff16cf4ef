import { readFileSync } from 'node:fs'
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
export async function runServe(folder: string, args: ServeArguments, io: Io): Promise<number> {
  const until = ended()
  const server = await started(folder, args)
  await io.out(`${server.url}\n`)
  if (server.sharedAt !== null)
    io.err(`The workbooks are in the store, for all its servers; the others ask this one at ${server.sharedAt}\n`)
  if (server.isOpen)
    io.err(`Everyone on this machine may do everything. To say who may: mellow token ${folder} add --name … --book … --role …\n`)
  io.err(`The page is at that address; what programs can ask: ${server.url}/docs   To end it: Ctrl-C\n`)
  await until
  await server.close()
  return ExitCode.done
}

async function started(folder: string, args: ServeArguments): Promise<RunningServer> {
  const { config, idle, origin, port, open, ...said } = args
  const given = {
    ...optionsOfEnvironment(process.env),
    ...(config !== undefined && optionsOfFile(config)),
    folder,
    ...said,
    ...(port !== undefined && { port: Number(port) }),
    ...(open !== undefined && { open: Number(open) }),
    ...(origin !== undefined && { origins: origin }),
    ...(idle !== undefined && { idleMs: millisecondsOf(idle) }),
  }
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
