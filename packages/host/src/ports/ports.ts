import type { HostMessage, Port, PortMessage } from '@mellow-abacus/session'
import { faultOf } from '../fault-of.js'

/** What a channel of the web has, a worker of a page, and the scope of such a worker. */
export interface WebPort {
  postMessage(message: unknown, transfer?: Transferable[]): void
  onmessage: ((event: { readonly data: unknown }) => void) | null
  close?(): void
}

/** What a channel of Node has, a worker thread, and its parent. */
export interface NodePort {
  postMessage(message: unknown, transfer?: readonly unknown[]): void
  on(event: 'message', listener: (message: unknown) => void): unknown
  off(event: 'message', listener: (message: unknown) => void): unknown
  close?(): void
}

/** A channel of the web as a port. */
export function portOfWeb(channel: WebPort): Port {
  return {
    send: (message, transfer = []) => channel.postMessage(message, [...transfer]),
    listen: (listener) => {
      channel.onmessage = ({ data }) => listener(data as PortMessage)
    },
    close: () => channel.close?.(),
  }
}

/** A channel of Node as a port. */
export function portOfNode(channel: NodePort): Port {
  let own: ((message: unknown) => void) | null = null
  return {
    send: (message, transfer = []) => channel.postMessage(message, transfer),
    listen: (listener) => {
      if (own !== null) channel.off('message', own)
      own = (message) => listener(message as PortMessage)
      channel.on('message', own)
    },
    close: () => channel.close?.(),
  }
}

/** What a host says to one session. */
export interface Teller {
  say(message: HostMessage): void
  close(): void
}

/**
 * Says over a port what is said at once as one message: what it costs to hand over a message is more than what most of them
 * say, and edits that are kept together are told of together.
 */
export function tellerOver(port: Port): Teller {
  let waiting: HostMessage[] = []
  const flush = (): void => {
    const lot = waiting
    waiting = []
    try {
      if (lot.length > 0) port.send(lot.length === 1 ? (lot[0] as HostMessage) : lot)
    } catch {
      for (const message of lot) sendAlone(port, message)
    }
  }
  return {
    say: (message) => {
      if (waiting.push(message) === 1) queueMicrotask(flush)
    },
    close: () => {
      flush()
      port.close()
    },
  }
}

/** Sends one message; an answer that is no plain data, and cannot be handed over, is a fault. */
function sendAlone(port: Port, message: HostMessage): void {
  try {
    port.send(message)
  } catch (error) {
    if (!('call' in message)) throw error
    port.send({ call: message.call, fault: faultOf(error).facts })
  }
}
