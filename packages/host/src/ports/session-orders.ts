import { type BookSession, sessionOverPort } from '@mellow-abacus/session'
import type { ReaderOptions } from 'mellow-abacus'
import type { BookHost } from '../book-host.js'
import { portOfWeb, type WebPort } from './ports.js'
import { servePort } from './serve-port.js'

/** Asks a worker for a session, of which the other end of a channel comes along. */
interface SessionOrder {
  readonly open: ReaderOptions
  readonly port: WebPort
}

/**
 * Serves the sessions that a page asks for, from within its Web Worker.
 *
 * @param scope - what the page sends messages to: `self` of the worker
 */
export function serveWorker(host: BookHost, scope: WebPort): void {
  scope.onmessage = ({ data }) => {
    const { open, port } = data as SessionOrder
    servePort(host, open, portOfWeb(port))
  }
}

/** Opens a session at the host in a Web Worker. */
export function openInWorker(worker: Pick<WebPort, 'postMessage'>, reader: ReaderOptions): Promise<BookSession> {
  const { port1, port2 } = new MessageChannel()
  worker.postMessage({ open: reader, port: port2 }, [port2])
  return sessionOverPort(portOfWeb(port1 as unknown as WebPort))
}
