import type { BookSession, LiveWindow, SessionFault, WindowRequest, WindowShown } from '@mellow-abacus/session'
import { useMemo, useSyncExternalStore } from 'react'

/** What a window shows to a component. */
export interface WindowState {
  /** What it shows; null until the session has answered. Rows in which nothing has changed are the same objects as before. */
  readonly shown: WindowShown | null
  /** Why there is nothing: what was asked for is refused, or the session has ended. */
  readonly fault: SessionFault | null
}

/**
 * Rows of a table at a session, wherever its workbook is held: they follow every edit, and the component renders again only where
 * what it shows is different. Another request opens another window; one that differs only in its places moves the same one.
 *
 * @example
 * const { shown } = useWindow(session, { table: 'harvests', order: 'honey_kg desc', from: 1, to: 41 })
 * return shown?.rows.map((row) => <HarvestRow key={row.id} row={row} />)
 */
export function useWindow(session: BookSession, request: WindowRequest): WindowState {
  const { from, to, ...what } = request
  // biome-ignore lint/correctness/useExhaustiveDependencies: the text says what is asked for.
  const store = useMemo(() => new SessionWindow(session, request), [session, JSON.stringify(what)])
  store.show({ ...(from !== undefined && { from }), ...(to !== undefined && { to }) })
  return useSyncExternalStore(store.subscribe, store.current, store.current)
}

/** A window of a session that is open as long as a component looks at it. */
class SessionWindow {
  readonly #session: BookSession
  #request: WindowRequest
  readonly #listeners: Set<() => void> = new Set()
  #state: WindowState = { shown: null, fault: null }
  #window: Promise<LiveWindow> | null = null

  constructor(session: BookSession, request: WindowRequest) {
    this.#session = session
    this.#request = request
  }

  readonly current = (): WindowState => this.#state

  readonly subscribe = (notify: () => void): (() => void) => {
    this.#listeners.add(notify)
    if (this.#window === null) this.#open()
    return () => {
      this.#listeners.delete(notify)
      if (this.#listeners.size === 0) this.#close()
    }
  }

  /** Shows other places from now on. */
  show(span: Pick<WindowRequest, 'from' | 'to'>): void {
    if (span.from === this.#request.from && span.to === this.#request.to) return
    const { from: _, to: __, ...what } = this.#request
    this.#request = { ...what, ...span }
    this.#window?.then((window) => window.show(span)).catch((fault: SessionFault) => this.#set({ shown: null, fault }))
  }

  #open(): void {
    const opened = this.#session.watch(this.#request)
    this.#window = opened
    opened.then(
      (window) => {
        // Whoever asked may have gone by now.
        if (this.#window !== opened) return window()
        window.subscribe((shown) => this.#set({ shown, fault: null }))
        this.#set({ shown: window.current, fault: null })
      },
      (fault: SessionFault) => {
        if (this.#window === opened) this.#set({ shown: null, fault })
      },
    )
  }

  #close(): void {
    this.#window?.then(
      (window) => window(),
      () => undefined,
    )
    this.#window = null
  }

  #set(state: WindowState): void {
    this.#state = state
    for (const notify of [...this.#listeners]) notify()
  }
}
