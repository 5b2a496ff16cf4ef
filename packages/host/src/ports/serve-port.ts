import {
  type BookSession,
  type CallMessage,
  type Port,
  SESSION_METHODS,
  SessionFault,
  type SessionMethod,
  type WindowHold,
} from '@mellow-abacus/session'
import type { ReaderOptions } from 'mellow-abacus'
import type { BookHost } from '../book-host.js'
import { faultOf } from '../fault-of.js'
import type { HostSession } from '../host-session.js'
import { type Teller, tellerOver } from './ports.js'

/** How a session is served over a port. */
export interface PortOptions {
  /** True for one that is told of no events, each of which is a message; its windows follow edits all the same. */
  readonly isSilent?: boolean
  /** Gets what went wrong inside, with its cause. */
  readonly onTrouble?: (fault: SessionFault) => void
}

/**
 * Serves one session over a port, until it is closed from either side.
 *
 * @param reader - who is at it: decided on this side, never by what comes over the port
 */
export function servePort(
  host: BookHost,
  reader: ReaderOptions,
  port: Port,
  { isSilent = false, onTrouble = () => undefined }: PortOptions = {},
): void {
  let session: HostSession
  try {
    session = host.open(reader) as HostSession
  } catch (error) {
    const fault = faultOf(error)
    noteTrouble(fault, onTrouble)
    return port.send({ ended: fault.facts })
  }
  const windows = new Map<number, WindowHold>()
  const teller = tellerOver(port)
  if (!isSilent) session.on((event) => teller.say({ event }))
  session.onEnd = (facts) => teller.say({ ended: facts })
  teller.say({ opened: session.reader })
  port.listen((message) => {
    if ('method' in message) void answer(session, { windows, onTrouble }, teller, message)
  })
}

/** What is open of a session. */
interface OpenParts {
  readonly windows: Map<number, WindowHold>
  readonly onTrouble: (fault: SessionFault) => void
}

async function answer(session: HostSession, parts: OpenParts, teller: Teller, message: CallMessage): Promise<void> {
  const { call } = message
  try {
    teller.say({ call, answer: await asked(session, parts, teller, message) })
  } catch (error) {
    const fault = faultOf(error)
    noteTrouble(fault, parts.onTrouble)
    teller.say({ call, fault: fault.facts })
  }
  if (message.method === 'close') teller.close()
}

/** Tells what went wrong inside, of which the session is told nothing more than that. */
function noteTrouble(fault: SessionFault, onTrouble: (fault: SessionFault) => void): void {
  if (fault.code === 'internal' || fault.code === 'lost') onTrouble(fault)
}

async function asked(session: HostSession, { windows }: OpenParts, teller: Teller, message: CallMessage): Promise<unknown> {
  switch (message.method) {
    case 'watch': {
      const [number, request] = message.args
      const { first, ...hold } = await session.openWindow(request as never, (news) => teller.say({ window: number, news }))
      windows.set(number, hold)
      return first
    }
    case 'show': {
      const [number, span] = message.args
      return windows.get(number)?.show(span)
    }
    case 'end': {
      const [number] = message.args
      windows.get(number)?.end()
      windows.delete(number)
      return undefined
    }
    case 'close':
      return session.close()
    default:
      return methodOf(session, message.method)(...message.args)
  }
}

/** A method of a session by its name. */
function methodOf(session: BookSession, name: SessionMethod): (...args: readonly unknown[]) => Promise<unknown> {
  if (!SESSION_METHODS.includes(name)) throw new SessionFault({ code: 'not-found', message: `There is no call ${String(name)}.` })
  const [family, method] = name.split('.') as [keyof BookSession, string | undefined]
  const owner = (method === undefined ? session : session[family]) as unknown as Record<
    string,
    (...args: readonly unknown[]) => unknown
  >
  return async (...args) => owner[method ?? family]?.(...args)
}
