import { existsSync } from 'node:fs'
import { resolve } from 'node:path'
import { BookFileFault } from '@mellow-abacus/files'
import { askHost } from '@mellow-abacus/host'
import { startDesk } from '@mellow-abacus/server'
import { type BookSession, connect } from '@mellow-abacus/session'
import { StdioServerTransport } from '@modelcontextprotocol/sdk/server/stdio.js'
import type { Role } from 'mellow-abacus'
import { type Allowed, assistantServer, type Invitation, openHttpDoor } from '../../assistant/index.js'
import { bookPath, isUrl, sessionAt } from '../../books/index.js'
import { CommandRefusal, ExitCode, type Io, UsageFault } from '../../shell/index.js'
import { ended } from './ended.js'

/** What `mellow mcp` is told. */
export interface McpArguments {
  readonly allow?: string
  readonly http?: boolean
  readonly port?: string
}

const ALLOWED: readonly Allowed[] = ['define', 'edit']

/** Runs `mellow mcp`: lets assistant programs in to a workbook, until they go or the process is told to end. */
export async function runMcp(name: string, version: string, args: McpArguments, io: Io): Promise<number> {
  const allowed = allowedBy(args.allow)
  if (args.port !== undefined && args.http !== true) throw new UsageFault('--port goes with --http.')
  const until = ended()
  const held = await heldBook(name, roleOf(allowed))
  try {
    const invitation: Invitation = { version, allowed, open: held.open }
    if (args.http === true) await overHttp(invitation, args.port, until, io)
    else await overStdio(invitation, until, io)
  } finally {
    await held.close()
  }
  return ExitCode.done
}

function allowedBy(text: string | undefined): Set<Allowed> {
  const words = (text ?? '').split(',').map((word) => word.trim())
  const allowed = new Set<Allowed>()
  for (const word of words.filter((one) => one !== '')) {
    const known = ALLOWED.find((one) => one === word)
    if (known === undefined) throw new UsageFault(`--allow takes ${ALLOWED.join(', ')}, or both with a comma, not ${word}.`)
    allowed.add(known)
  }
  return allowed
}

/** What the assistant may do at most, whatever it asks for. */
function roleOf(allowed: ReadonlySet<Allowed>): Role {
  return allowed.has('define') ? 'define' : allowed.has('edit') ? 'edit' : 'read'
}

interface HeldForAssistants {
  readonly open: Invitation['open']
  close(): Promise<void>
}

/** A workbook at a server, or in a file; that is held by a server of its own, so that verbs of the terminal go on working with it. */
async function heldBook(name: string, role: Role): Promise<HeldForAssistants> {
  if (isUrl(name)) return { open: () => sessionAt(name), close: async () => undefined }
  const file = resolve(bookPath(name))
  if (!existsSync(file)) throw new UsageFault(`there is no ${bookPath(name)}. Make one: mellow new, or mellow import.`)
  const own = (await askHost(file, { author: 'assistant', role })) === null ? await started(file) : null
  const open = async (assistant: string): Promise<BookSession> => {
    const at = await askHost(file, { author: `${assistant} (assistant)`, role })
    if (at === null) throw new CommandRefusal(`${bookPath(name)} is not open any more.`)
    return connect(at.url, at.token === undefined ? {} : { token: at.token })
  }
  return { open, close: async () => own?.close() }
}

async function started(file: string): Promise<{ close(): Promise<void> }> {
  const desk = await startDesk({ file })
  try {
    await desk.ready()
    return desk
  } catch (error) {
    await desk.close()
    if (error instanceof BookFileFault && error.code === 'in-use') throw new CommandRefusal(error.message)
    if (error instanceof BookFileFault) throw new UsageFault(error.message)
    throw error
  }
}

/** Talks over standard input and output, which then carry nothing else. */
async function overStdio(invitation: Invitation, until: Promise<void>, io: Io): Promise<void> {
  const server = assistantServer(invitation)
  const gone = new Promise<void>((resolve) => process.stdin.once('end', resolve).once('close', resolve))
  await server.connect(new StdioServerTransport())
  io.err('An assistant program can talk here now, by the Model Context Protocol. To end: Ctrl-C\n')
  await Promise.race([until, gone])
  await server.close()
}

async function overHttp(invitation: Invitation, port: string | undefined, until: Promise<void>, io: Io): Promise<void> {
  const number = port === undefined ? 0 : Number(port)
  if (!Number.isInteger(number) || number < 0 || number > 65_535) throw new UsageFault(`--port takes a port, not ${port}.`)
  const door = await openHttpDoor(number, () => assistantServer(invitation)).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'EADDRINUSE') throw new UsageFault(`port ${number} is taken.`)
    throw error
  })
  await io.out(`${door.url}\n`)
  io.err(
    'Assistant programs of this machine can talk there, by the Model Context Protocol. Who has the address can. To end: Ctrl-C\n',
  )
  await until
  await door.close()
}
