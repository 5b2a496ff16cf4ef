/** About what an entry of a set or map takes. */
export const BYTES_AN_ENTRY = 40

/** Keys looked at to find out what they take. */
const SAMPLED_KEYS = 64

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

  /** About what it takes: the entry of each key, its places in the two lists, and numbers that are no small whole ones. */
  get byteLength(): number {
    const step = Math.max(1, Math.floor(this.#keys.length / SAMPLED_KEYS))
    let [sampled, large] = [0, 0]
    for (let id = 0; id < this.#keys.length; id += step, sampled++) {
      const key = this.#keys[id]
      if (typeof key === 'number' && (key | 0) !== key) large++
    }
    return Math.round(this.#keys.length * (BYTES_AN_ENTRY + 16 + (16 * large) / Math.max(1, sampled)))
  }

  /** Numbers that were ever given reach up to here. */
  get size(): number {
    return this.#keys.length
  }
}
