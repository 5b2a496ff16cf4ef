/** A key as it is looked up: one number or text, or several written into one text. */
export type Key = number | string

/**
 * Numbers the keys that occur (dictionary encoding), shared by all tables that are joined by them. A number is used again once no
 * row has its key.
 */
export class KeyDictionary {
  readonly #ids: Map<Key, number> = new Map()
  readonly #keys: (Key | undefined)[] = []
  readonly #users: number[] = []
  readonly #free: number[] = []

  /** The number of a key, which one more row uses from now on. */
  enter(key: Key): number {
    let id = this.#ids.get(key)
    if (id === undefined) {
      id = this.#free.pop() ?? this.#keys.length
      this.#ids.set(key, id)
      this.#keys[id] = key
      this.#users[id] = 0
    }
    this.#users[id] = (this.#users[id] as number) + 1
    return id
  }

  /** The number of a key; undefined when no row has it. */
  idOf(key: Key): number | undefined {
    return this.#ids.get(key)
  }

  /** One more row uses a key that others use already. */
  enterAgain(id: number): number {
    this.#users[id] = (this.#users[id] as number) + 1
    return id
  }

  /** A row does not use a key any more. */
  leave(id: number): void {
    const users = (this.#users[id] as number) - 1
    this.#users[id] = users
    if (users > 0) return
    this.#ids.delete(this.#keys[id] as Key)
    this.#keys[id] = undefined
    this.#free.push(id)
  }

  /** Numbers that were ever given reach up to here. */
  get size(): number {
    return this.#keys.length
  }
}
