import type { Column } from '../../columns/index.js'
import { Status } from '../../values/index.js'
import type { NodeId, PropagationPass } from '../propagation/index.js'
import type { TableStore } from '../storage/index.js'
import { slotsOf } from '../storage/index.js'
import { NO_ROW } from './group-number.js'
import { Groups } from './groups.js'
import { KeyDictionary } from './key-dictionary.js'

/** The only group of the outermost level. */
const WHOLE = 0

/** Pairs of an outer group and a listed text up to which they are looked up in an array. */
const MOST_PAIRS = 1 << 22

/**
 * One level of a grouped view: the rows of each group of the level around it, by one more key. Blank keys are a group, and so is
 * each error. The outermost level, which has no key, is one group of all rows, or of those for which a condition is true.
 */
export class NestedGroups extends Groups {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly outer: NestedGroups | null
  readonly #key: NodeId | null
  readonly #dictionary: KeyDictionary = new KeyDictionary()

  /**
   * @param outer - the level around it; null for the outermost
   * @param key - the column of the key of the level; of the outermost the condition of its rows, null for all rows
   */
  constructor(id: NodeId, store: TableStore, outer: NestedGroups | null, key: NodeId | null) {
    super(store)
    this.id = id
    this.outer = outer
    this.#key = key
    this.sources = [...this.columns, ...(outer === null ? [] : [outer.id]), store.rowsNode]
  }

  override get columns(): readonly NodeId[] {
    return this.#key === null ? [] : [this.#key]
  }

  get #storage(): Column | undefined {
    return this.#key === null ? undefined : this.store.column(this.#key)
  }

  protected override get keyBytes(): number {
    return this.#dictionary.byteLength
  }

  /** Groups are numbered below this. */
  get size(): number {
    return this.outer === null ? 1 : this.#dictionary.size
  }

  /** One of the rows of a group, which has its keys; -1 for an empty one. */
  rowOf(group: number): number {
    return this.members.firstOf(group)
  }

  protected find(slot: number): number {
    if (this.outer === null) return this.#key === null || isTrueAt(this.#storage, slot) ? WHOLE : NO_ROW
    const around = this.outer.groupOf(slot)
    return around < 0 ? NO_ROW : this.#dictionary.enter(`${around};${keyPart(this.#storage, slot)}`)
  }

  /** Each different pair of an outer group and a key is looked up by its text once. */
  protected override finder(): (slot: number) => number {
    const { outer } = this
    const key = this.#storage
    if (outer === null) return (slot) => this.find(slot)
    const codeOf = codesOf(key)
    const codes = key?.type === 'text' ? key.dictionarySize : Number.POSITIVE_INFINITY
    const known = outer.size * codes <= MOST_PAIRS ? new ListedPairs(outer.size * codes) : new Map<number, number>()
    return (slot) => {
      const around = outer.groupOf(slot)
      if (around < 0) return NO_ROW
      const code = codeOf(slot)
      if (code < 0) return this.find(slot)
      const pair = codes === Number.POSITIVE_INFINITY ? around * SPREAD + code : around * codes + code
      const group = known.get(pair)
      if (group !== undefined) return this.#dictionary.enterAgain(group)
      const found = this.find(slot)
      known.set(pair, found)
      return found
    }
  }

  protected leave(group: number): void {
    if (this.outer !== null) this.#dictionary.leave(group)
  }

  protected *touched(pass: PropagationPass): Iterable<number> {
    const { rows } = this.store
    if (this.outer?.rebuiltIn(pass) === true) for (let slot = 0; slot < rows.slotCount; slot++) yield slot
    for (const { slot } of this.outer?.movesIn(pass) ?? []) yield slot
    if (this.#key !== null) yield* slotsOf(pass.changedIn(this.#key))
    yield* slotsOf(pass.rowsOf(this.store).inserted)
  }
}

/** Codes of a key that is not listed stay below this: there are not so many rows. */
const SPREAD = 2 ** 31

/** Numbers pairs that are few enough for an array. */
class ListedPairs {
  readonly #groups: Int32Array

  constructor(size: number) {
    this.#groups = new Int32Array(size).fill(-1)
  }

  get(pair: number): number | undefined {
    const group = this.#groups[pair] as number
    return group < 0 ? undefined : group
  }

  set(pair: number, group: number): void {
    this.#groups[pair] = group
  }
}

function isTrueAt(column: Column | undefined, slot: number): boolean {
  return column !== undefined && column.statusAt(slot) === Status.value && column.valueAt(slot) === 1
}

/** The key of a row as text: what it is, then the value. */
function keyPart(column: Column | undefined, slot: number): string {
  const status = column?.statusAt(slot) ?? Status.blank
  return status === Status.value ? `=${column?.valueAt(slot)}` : `!${status}`
}

/** What numbers the values of a key as they come; -1 for what has no value. */
function codesOf(column: Column | undefined): (slot: number) => number {
  if (column === undefined) return () => -1
  if (column.type === 'text') return (slot) => (column.statusAt(slot) === Status.value ? column.codeAt(slot) : -1)
  const codes = new Map<number, number>()
  return (slot) => {
    if (column.statusAt(slot) !== Status.value) return -1
    const value = column.valueAt(slot) as number
    let code = codes.get(value)
    if (code === undefined) {
      code = codes.size
      codes.set(value, code)
    }
    return code
  }
}
