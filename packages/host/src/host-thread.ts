/**
 * What runs in a worker thread: hosts of workbook files, one or several. Its parent has a file opened, and opens sessions by sending
 * a port each, with who is at the other end.
 * @module
 */
import { constants, setPriority } from 'node:os'
import { parentPort } from 'node:worker_threads'
import type { FaultFacts, SessionFault } from '@mellow-abacus/session'
import type { ReaderOptions } from 'mellow-abacus'
import { BookHost } from './book-host.js'
import { faultOf } from './fault-of.js'
import { heldFile } from './held-file.js'
import { type KeepingLine, keeperOver } from './keeping.js'
import { type NodePort, portOfNode } from './ports/ports.js'
import { servePort } from './ports/serve-port.js'

/** Opens a workbook file. */
interface BeginOrder {
  readonly begin: string
  readonly waitMs?: number
  readonly mostPairs?: number
  /** Where it has kept what it writes, if not in the file alone. */
  readonly keeping?: KeepingLine
}

/** What the parent sends about one of the hosts. */
export type HostOrder =
  | BeginOrder
  | { readonly open: ReaderOptions; readonly port: NodePort; readonly isSilent?: boolean }
  /** Writes a copy of the workbook into another file. */
  | { readonly copyTo: string; readonly copy: number }
  /** Ends all sessions, and closes the file; abandoned, it is left as it was last kept. */
  | { readonly close: true; readonly isAbandoned: boolean }

/** What the parent sends: about the host of a number, or that the thread is to end, by itself or as a fault of its own would end it. */
export type ThreadOrder = { readonly host: number; readonly order: HostOrder } | { readonly end: true } | { readonly die: true }

/** What is told of a host: that its file is open, or why it cannot be; that a copy is written; and that it is closed. */
export type HostNews =
  | { readonly ready: true }
  | { readonly failed: { readonly code: string; readonly message: string } }
  | { readonly copied: number; readonly fault?: FaultFacts }
  /** What went wrong inside. */
  | { readonly trouble: string }
  | { readonly closed: true }

/** What the thread tells. */
export interface ThreadNews {
  readonly host: number
  readonly news: HostNews
}

const hosts = new Map<number, BookHost>()

/**
 * Has what calculates give way to the thread that answers, where both want the same processor. A priority is that of a single
 * thread on Linux alone; elsewhere it would be that of the whole program.
 */
function giveWay(): void {
  if (process.platform === 'linux') setPriority(constants.priority.PRIORITY_BELOW_NORMAL)
}

function tell(host: number, news: HostNews): void {
  parentPort?.postMessage({ host, news } satisfies ThreadNews)
}

function begin(number: number, { begin: path, waitMs, mostPairs, keeping }: BeginOrder): void {
  try {
    const held = heldFile(path, {
      ...(waitMs !== undefined && { waitMs }),
      ...(keeping !== undefined && { keeper: keeperOver(keeping) }),
    })
    hosts.set(number, new BookHost(held, mostPairs === undefined ? {} : { mostPairs }))
    tell(number, { ready: true })
  } catch (error) {
    const { code, message } = error as { readonly code?: string; readonly message: string }
    tell(number, { failed: { code: code ?? 'internal', message } })
  }
}

function copied(host: BookHost, { copyTo, copy }: { readonly copyTo: string; readonly copy: number }): HostNews {
  try {
    host.held.copyTo(copyTo)
    return { copied: copy }
  } catch (error) {
    return { copied: copy, fault: faultOf(error).facts }
  }
}

function take(number: number, order: HostOrder): void {
  if ('begin' in order) return begin(number, order)
  const host = hosts.get(number) as BookHost
  if ('open' in order) {
    const { open, port, isSilent = false } = order
    const onTrouble = ({ cause }: SessionFault): void =>
      tell(number, { trouble: cause instanceof Error ? (cause.stack ?? cause.message) : String(cause) })
    return servePort(host, open, portOfNode(port), { isSilent, onTrouble })
  }
  if ('copyTo' in order) return tell(number, copied(host, order))
  hosts.delete(number)
  if (order.isAbandoned) host.abandon()
  else host.close()
  tell(number, { closed: true })
}

giveWay()
parentPort?.on('message', (order: ThreadOrder) => {
  if ('die' in order) process.exit(1)
  if ('end' in order) return parentPort?.close()
  return take(order.host, order.order)
})
