import type { Port, PortMessage } from '@mellow-abacus/session'

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
