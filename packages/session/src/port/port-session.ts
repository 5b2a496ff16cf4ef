import type { BookSession, SessionReader } from '../book-session.js'
import { type Ending, ending, type SessionEvent } from '../changes.js'
import { type FaultFacts, SessionFault } from '../session-fault.js'
import { WindowStore } from '../window-store.js'
import type { LiveWindow, WindowNews, WindowRequest } from '../windows.js'
import type { CallMessage, HostMessage, Port, SessionMethod } from './messages.js'

/** Someone who waits for an answer. */
interface Waiting {
  readonly resolve: (answer: never) => void
  readonly reject: (fault: SessionFault) => void
}

/**
 * A session at a host behind a port, as soon as the host says who is at it.
 *
 * @throws SessionFault where the host ends it at once
 */
export function sessionOverPort(port: Port): Promise<BookSession> {
  return new Promise((resolve, reject) => {
    const session = new PortSession(port, reject, (reader) => resolve(session.as(reader)))
  })
}

class PortSession {
  readonly #port: Port
  readonly #waiting: Map<number, Waiting> = new Map()
  readonly #windows: Map<number, WindowStore> = new Map()
  readonly #listeners: Set<(event: SessionEvent) => void> = new Set()
  readonly #refused: (fault: SessionFault) => void
  #calls = 0
  #openedWindows = 0
  #ended: SessionFault | null = null

  constructor(port: Port, refused: (fault: SessionFault) => void, opened: (reader: SessionReader) => void) {
    this.#port = port
    this.#refused = refused
    port.listen((message) => {
      for (const one of (Array.isArray(message) ? message : [message]) as readonly HostMessage[]) this.#take(one, opened)
    })
  }

  /** The session to be handed out. */
  as(reader: SessionReader): BookSession {
    const ask =
      <Args extends readonly unknown[], Answer>(method: SessionMethod) =>
      (...args: Args): Promise<Answer> =>
        this.#call({ method, args })
    return {
      reader,
      facts: ask('facts'),
      apply: ask('apply'),
      undo: ask('undo'),
      redo: ask('redo'),
      importRows: ask('importRows'),
      exported: ask('exported'),
      preview: ask('preview'),
      query: ask('query'),
      row: ask('row'),
      seek: ask('seek'),
      report: ask('report'),
      chart: ask('chart'),
      fit: ask('fit'),
      value: ask('value'),
      profile: ask('profile'),
      findings: ask('findings'),
      explain: ask('explain'),
      why: ask('why'),
      trace: ask('trace'),
      moved: ask('moved'),
      suggest: ask('suggest'),
      formulasFor: ask('formulasFor'),
      functions: ask('functions'),
      history: ask('history'),
      accepting: ask('accepting'),
      appear: ask('appear'),
      language: {
        findings: ask('language.findings'),
        complete: ask('language.complete'),
        hover: ask('language.hover'),
        signature: ask('language.signature'),
        format: ask('language.format'),
        rename: ask('language.rename'),
        tokens: ask('language.tokens'),
        preview: ask('language.preview'),
      },
      watch: (request) => this.#watch(request),
      on: (listener) => this.#on(listener),
      close: () => this.#close(),
    }
  }

  /** @param take - what is made of the answer as it comes, before anything that comes after it */
  #call<Answer, Made = Answer>(
    asked: Omit<CallMessage, 'call'>,
    take: (answer: Answer) => Made = (answer) => answer as unknown as Made,
  ): Promise<Made> {
    if (this.#ended !== null) return Promise.reject(this.#ended)
    const call = ++this.#calls
    return new Promise<Made>((resolve, reject) => {
      this.#waiting.set(call, { resolve: (answer) => resolve(take(answer)), reject })
      this.#port.send({ call, ...asked } as CallMessage)
    })
  }

  #on(listener: (event: SessionEvent) => void): Ending {
    const own = (event: SessionEvent): void => listener(event)
    this.#listeners.add(own)
    return ending(() => void this.#listeners.delete(own))
  }

  #watch(request: WindowRequest): Promise<LiveWindow> {
    const window = ++this.#openedWindows
    return this.#call({ method: 'watch', args: [window, request] }, (first: WindowNews) => {
      const store = new WindowStore(first, {
        show: (span) => this.#call({ method: 'show', args: [window, span] }),
        end: () => {
          this.#windows.delete(window)
          // A session that has ended, or ends before it answers, has ended its windows.
          this.#call({ method: 'end', args: [window] }).catch(() => undefined)
        },
      })
      this.#windows.set(window, store)
      return store.window
    })
  }

  async #close(): Promise<void> {
    if (this.#ended !== null) return
    // One that the host ends meanwhile is closed too.
    await this.#call({ method: 'close', args: [] }).catch(() => undefined)
    this.#end({ code: 'closed', message: 'The session was closed.' })
  }

  #take(message: HostMessage, opened: (reader: SessionReader) => void): void {
    if ('opened' in message) opened(message.opened)
    else if ('event' in message) for (const listener of [...this.#listeners]) listener(message.event)
    else if ('news' in message) this.#windows.get(message.window)?.take(message.news)
    else if ('ended' in message) this.#end(message.ended)
    else {
      const waiting = this.#waiting.get(message.call)
      this.#waiting.delete(message.call)
      if ('fault' in message) waiting?.reject(new SessionFault(message.fault))
      else waiting?.resolve(message.answer as never)
    }
  }

  #end(facts: FaultFacts): void {
    if (this.#ended !== null) return
    this.#ended = new SessionFault(facts)
    this.#refused(this.#ended)
    for (const { reject } of this.#waiting.values()) reject(this.#ended)
    this.#waiting.clear()
    this.#port.close()
  }
}
