/**
 * What runs in a worker thread: the host of one workbook file. Its parent opens sessions by sending a port each, with who is at
 * the other end.
 * @module
 */
import { constants, setPriority } from 'node:os'
import { parentPort, workerData } from 'node:worker_threads'
import type { FaultFacts, SessionFault } from '@mellow-abacus/session'
import type { ReaderOptions } from 'mellow-abacus'
import { BookHost } from './book-host.js'
import { faultOf } from './fault-of.js'
import { heldFile } from './held-file.js'
import { type KeepingLine, keeperOver } from './keeping.js'
import { type NodePort, portOfNode } from './ports/ports.js'
import { servePort } from './ports/serve-port.js'

/** What a thread begins with. */
export interface ThreadData {
  readonly path: string
  readonly waitMs?: number
  readonly mostPairs?: number
  /** Where it has kept what it writes, if not in the file alone. */
  readonly keeping?: KeepingLine
}

/** What the parent sends. */
export type ThreadOrder =
  | { readonly open: ReaderOptions; readonly port: NodePort; readonly isSilent?: boolean }
  /** Writes a copy of the workbook into another file. */
  | { readonly copyTo: string; readonly copy: number }
  /** Ends all sessions, closes the file, and ends the thread. */
  | { readonly close: true }
  /** Ends the thread at once, between two things that it does, as a fault of its own would. */
  | { readonly die: true }

/** What the thread tells: that it is open, or why it cannot be; that a copy is written; and that it is closed. */
export type ThreadNews =
  | { readonly ready: true }
  | { readonly failed: { readonly code: string; readonly message: string } }
  | { readonly copied: number; readonly fault?: FaultFacts }
  /** What went wrong inside. */
  | { readonly trouble: string }
  | { readonly closed: true }

/**
 * Has what calculates give way to the thread that answers, where both want the same processor. A priority is that of a single
 * thread on Linux alone; elsewhere it would be that of the whole program.
 */
function giveWay(): void {
  if (process.platform === 'linux') setPriority(constants.priority.PRIORITY_BELOW_NORMAL)
}

function tell(news: ThreadNews): void {
  parentPort?.postMessage(news)
}

function copied(host: BookHost, { copyTo, copy }: { readonly copyTo: string; readonly copy: number }): ThreadNews {
  try {
    host.held.copyTo(copyTo)
    return { copied: copy }
  } catch (error) {
    return { copied: copy, fault: faultOf(error).facts }
  }
}

try {
  giveWay()
  const { path, waitMs, mostPairs, keeping } = workerData as ThreadData
  const held = heldFile(path, {
    ...(waitMs !== undefined && { waitMs }),
    ...(keeping !== undefined && { keeper: keeperOver(keeping) }),
  })
  const host = new BookHost(held, mostPairs === undefined ? {} : { mostPairs })
  const noteTrouble = (fault: SessionFault): void => {
    const { cause } = fault
    tell({ trouble: cause instanceof Error ? (cause.stack ?? cause.message) : String(cause) })
  }
  parentPort?.on('message', (order: ThreadOrder) => {
    if ('open' in order) {
      const { open, port, isSilent = false } = order
      return servePort(host, open, portOfNode(port), { isSilent, onTrouble: noteTrouble })
    }
    if ('copyTo' in order) return tell(copied(host, order))
    if ('die' in order) process.exit(1)
    host.close()
    tell({ closed: true })
    parentPort?.close()
  })
  tell({ ready: true })
} catch (error) {
  const { code, message } = error as { readonly code?: string; readonly message: string }
  tell({ failed: { code: code ?? 'internal', message } })
  parentPort?.close()
}
