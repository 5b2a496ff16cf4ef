import type { ChangeSet, SlimView } from 'mellow-abacus'
import { useMemo, useSyncExternalStore } from 'react'

/**
 * Follows something of a workbook. It is read when a component renders and after each change; the component renders again only
 * where what was read is another object or value.
 *
 * @param book - the workbook followed
 * @param key - says what is read: another key, another reading
 * @param read - reads it; gets what was read before, to be given back where nothing differs, and the change that came
 */
export function useFollowed<Value>(
  book: SlimView,
  key: string,
  read: (before: Value | null, change: ChangeSet | null) => Value,
): Value {
  // biome-ignore lint/correctness/useExhaustiveDependencies: what `read` does is said by `key`.
  const store = useMemo(() => new Followed(book, read), [book, key])
  return useSyncExternalStore(store.subscribe, store.current, store.current)
}

/** What is read of a workbook, kept from one change to the next. */
class Followed<Value> {
  readonly #book: SlimView
  readonly #read: (before: Value | null, change: ChangeSet | null) => Value
  #value: Value | null = null
  /** Components that follow it now; while there is none, changes go by unheard. */
  #followers = 0

  constructor(book: SlimView, read: (before: Value | null, change: ChangeSet | null) => Value) {
    this.#book = book
    this.#read = read
  }

  readonly current = (): Value => {
    if (this.#value === null || this.#followers === 0) this.#value = this.#read(this.#value, null)
    return this.#value
  }

  readonly subscribe = (notify: () => void): (() => void) => {
    // What has changed since it was rendered is seen before changes are heard of.
    this.current()
    this.#followers++
    const ended = this.#book.on('change', (change) => {
      const before = this.#value
      this.#value = this.#read(before, change)
      if (this.#value !== before) notify()
    })
    return () => {
      this.#followers--
      ended()
    }
  }
}
