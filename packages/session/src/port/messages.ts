import type { SessionReader } from '../book-session.js'
import type { SessionEvent } from '../changes.js'
import type { FaultFacts } from '../session-fault.js'
import type { WindowNews } from '../windows.js'

/** What can be asked of a session over a port, by name: each is answered once. */
export const SESSION_METHODS = [
  'facts',
  'apply',
  'undo',
  'redo',
  'importRows',
  'exported',
  'preview',
  'query',
  'row',
  'seek',
  'report',
  'chart',
  'fit',
  'value',
  'profile',
  'moved',
  'findings',
  'explain',
  'why',
  'trace',
  'suggest',
  'formulasFor',
  'functions',
  'history',
  'accepting',
  'appear',
  'language.findings',
  'language.complete',
  'language.hover',
  'language.signature',
  'language.format',
  'language.rename',
  'language.tokens',
  'language.preview',
] as const

/** A method of a session that is answered once. */
export type SessionMethod = (typeof SESSION_METHODS)[number]

/** What a session asks. Answers bear the number of the call. */
export type CallMessage =
  | { readonly call: number; readonly method: SessionMethod; readonly args: readonly unknown[] }
  /** Opens, moves and ends windows, which are numbered by the session. */
  | { readonly call: number; readonly method: 'watch'; readonly args: readonly [window: number, request: object] }
  | { readonly call: number; readonly method: 'show'; readonly args: readonly [window: number, span: object] }
  | { readonly call: number; readonly method: 'end'; readonly args: readonly [window: number] }
  | { readonly call: number; readonly method: 'close'; readonly args: readonly [] }

/** What a session is told: who is at it, first of all; answers; and news. */
export type HostMessage =
  | { readonly opened: SessionReader }
  | { readonly call: number; readonly answer: unknown }
  | { readonly call: number; readonly fault: FaultFacts }
  | { readonly event: SessionEvent }
  | { readonly window: number; readonly news: WindowNews }
  /** The host is no more, or has ended the session. */
  | { readonly ended: FaultFacts }

/** Anything that goes over a port; what a host says at once may come in one list, in its order. */
export type PortMessage = CallMessage | HostMessage | readonly HostMessage[]

/** One end of a pair between which messages go in order: of a worker, a channel, or a pair within one program. */
export interface Port {
  send(message: PortMessage, transfer?: readonly ArrayBuffer[]): void
  /** Calls a listener for each message, until another one is set. */
  listen(listener: (message: PortMessage) => void): void
  close(): void
}
