import type { MetCell, SessionEvent, WindowRequest } from '@mellow-abacus/session'
import type { BookReader, ChangeSet } from 'mellow-abacus'
import { seenCells, sessionChange } from './answers/changes.js'
import { definitionsText } from './answers/facts.js'
import { FoundRows } from './windows/found-rows.js'
import { TouchedCells } from './windows/touched-cells.js'
import { WindowFeed } from './windows/window-feed.js'

/** All who see the same of a workbook: what they are told is put together once for all of them. */
export class Audience {
  readonly #reader: BookReader
  readonly #listeners: Set<(event: SessionEvent) => void> = new Set()
  readonly #windows: Map<string, WindowFeed> = new Map()
  #touched = new TouchedCells()
  #events: SessionEvent[] = []
  #definitions: string
  #hidden: ReadonlySet<number>

  /** @param reader - someone who sees what all of them see */
  constructor(reader: BookReader) {
    this.#reader = reader
    this.#definitions = definitionsText(reader.view)
    this.#hidden = reader.hidden
  }

  /** True while there is someone to be told. */
  get isThere(): boolean {
    return this.#listeners.size > 0
  }

  /** Adds someone who is told of everything, until the function given back is called. */
  add(listener: (event: SessionEvent) => void): () => void {
    this.#listeners.add(listener)
    return () => void this.#listeners.delete(listener)
  }

  /** The window of a request, shared by those who ask for the same. */
  window(request: WindowRequest): WindowFeed {
    const key = JSON.stringify(request)
    const known = this.#windows.get(key)
    // One that nobody has looked at meanwhile is not as it is now.
    if (known?.isFollowed === true) return known
    const made = new WindowFeed(this.#reader.view, request, this.#rowsOf(request))
    this.#windows.set(key, made)
    return made
  }

  /** The rows of a window: those of another one on the same rows, where they are as they were found. */
  #rowsOf({ columns: _, from: __, to: ___, ...asked }: WindowRequest): FoundRows {
    const key = JSON.stringify(asked)
    for (const { isFollowed, rows } of this.#windows.values()) if (isFollowed && rows.key === key && rows.isNew) return rows
    return new FoundRows(this.#reader.view, asked)
  }

  /** Forgets windows that no one looks at. */
  forgetWindows(): void {
    for (const [key, window] of this.#windows) if (!window.isFollowed) this.#windows.delete(key)
  }

  /**
   * Notes a change, to be told of once it is kept for good.
   *
   * @param isDefining - whether it may have defined anything otherwise
   * @param met - cells that others had changed since its author saw them
   */
  note(change: ChangeSet, isDefining: boolean, met: readonly MetCell[]): void {
    const seen = this.#reader.seen(change)
    const before = this.#definitions
    if (isDefining) this.#definitions = definitionsText(this.#reader.view)
    const definitions = before !== this.#definitions
    // The order of rows is seen by all.
    this.#touched.noteMoves(change.operations)
    if (seen !== null) this.#touched.note(seen)
    if (definitions) this.#touched.definitions = true
    const { hidden } = this.#reader
    if (!isSameSet(hidden, this.#hidden)) {
      this.#hidden = hidden
      this.#touched.definitions = true
      this.#events.push({ kind: 'reset', revision: change.revision })
      return
    }
    const isMove = change.operations.some(({ op }) => op === 'move-rows')
    if (seen === null && !definitions && !isMove) return
    const { author, at, revision } = change
    const nothing = {
      recalculated: [],
      changed: [],
      stale: [],
      inserted: [],
      removed: [],
      units: [],
      findings: { added: [], removed: [] },
    }
    const told = seen ?? { ...nothing, revision, author, at, operations: [], inverse: [] }
    this.#events.push({ kind: 'change', ...sessionChange(told, definitions, seenCells(this.#reader.view, met)) })
  }

  /** Tells of what was noted: those who look at windows of what these show, then everybody of the changes. */
  tell(): void {
    const [events, touched] = [this.#events, this.#touched]
    this.#events = []
    this.#touched = new TouchedCells()
    for (const window of this.#windows.values()) if (window.isFollowed) window.refresh(touched)
    for (const event of events) for (const listener of [...this.#listeners]) listener(event)
  }

  /** Tells that everything is to be fetched anew. */
  reset(revision: number): void {
    for (const listener of [...this.#listeners]) listener({ kind: 'reset', revision })
  }
}

function isSameSet(one: ReadonlySet<number>, other: ReadonlySet<number>): boolean {
  return one === other || (one.size === other.size && [...one].every((item) => other.has(item)))
}
